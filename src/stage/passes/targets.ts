import type { WebGLRenderTarget } from 'three';
import { QUALITIES } from '../budget.ts';
import { hdrTarget } from './fullFrame.ts';

/** What frames are drawn into, one for each quality, made when it is first drawn at. */
export const createTargets = () => {
  let [width, height] = [1, 1];
  const made = new Map<number, WebGLRenderTarget>();
  const free = (): void => {
    for (const target of made.values()) target.dispose();
    made.clear();
  };
  return {
    at: (level: number): WebGLRenderTarget => {
      const { scale, samples } = QUALITIES[level]!;
      const scaled = (pixels: number): number => Math.max(1, Math.round(pixels * scale));
      const target = made.get(level) ?? hdrTarget(scaled(width), scaled(height), { depth: true, samples });
      made.set(level, target);
      return target;
    },
    /** In pixels, at the best quality. */
    resize: (w: number, h: number): void => {
      [width, height] = [Math.max(1, Math.round(w)), Math.max(1, Math.round(h))];
      free();
    },
    dispose: free,
  };
};
