import type { WebGLRenderer } from 'three';
import { cut } from './cut.ts';
import { bloom } from './bloom.ts';
import { edges } from './edges.ts';
import { keyShadow } from './keyShadow.ts';
import { finish } from './finish.ts';
import { orderPasses } from './orderPasses.ts';
import type { Lights } from '../scene/lights.ts';
import type { Buffers, Frame, PassDeclaration } from './pass.ts';
import { surfaces } from './surfaces.ts';
import { wholeFrame } from './wholeFrame.ts';

/** Every pass there is; a frame runs those it needs, in the order they need one another. */
const PASSES: readonly PassDeclaration[] = [keyShadow, surfaces, wholeFrame, edges, cut, bloom, finish];

export const createFrames = (renderer: WebGLRenderer, lights: Lights) => {
  const made = new Map<PassDeclaration, ReturnType<PassDeclaration['create']>>();
  const madeOf = (pass: PassDeclaration): ReturnType<PassDeclaration['create']> => {
    const known = made.get(pass) ?? pass.create(renderer, lights);
    made.set(pass, known);
    return known;
  };
  return {
    draw: (frame: Frame): void => {
      const buffers: Buffers = {};
      for (const pass of orderPasses(PASSES, frame)) madeOf(pass).draw(frame, buffers);
    },
    dispose: (): void => {
      for (const each of made.values()) each.dispose();
    },
  };
};
