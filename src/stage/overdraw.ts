import { Color, NearestFilter, WebGLRenderTarget, type Camera, type Scene, type WebGLRenderer } from 'three';
import { costTap } from '#core/emit/glsl/fragmentStage.ts';
import type { PropMaterial } from './scene/propMaterial.ts';
import type { Overdraw } from './stage.ts';

/** As wide as it is counted at most. */
const WIDEST = 512;
/** What each drawing of a pixel adds: one step of eight bits. */
const ONE = costTap(1 / 255);

/** Counts how often the pixels of the stage are drawn, one prop over another: as many as eight bits hold. */
export const createOverdraw = (renderer: WebGLRenderer, scene: Scene, camera: Camera) => {
  let target: WebGLRenderTarget | null = null;
  const targetOf = (width: number, height: number): WebGLRenderTarget => {
    if (target?.width === width && target.height === height) return target;
    target?.dispose();
    target = new WebGLRenderTarget(width, height, { magFilter: NearestFilter, minFilter: NearestFilter });
    return target;
  };
  return {
    /**
     * @param size of the stage, in pixels
     * @param restore puts back what materials show
     */
    read: async (
      materials: Iterable<PropMaterial>,
      { width: wide, height: high }: { readonly width: number; readonly height: number },
      restore: () => void,
    ): Promise<Overdraw> => {
      const share = Math.min(1, WIDEST / wide);
      const on = targetOf(Math.max(1, Math.round(wide * share)), Math.max(1, Math.round(high * share)));
      for (const material of materials) material.showTap(ONE);
      renderer.setClearColor(new Color(0, 0, 0), 0);
      renderer.setRenderTarget(on);
      renderer.clear();
      renderer.render(scene, camera);
      renderer.setRenderTarget(null);
      restore();
      const rgba = new Uint8Array(on.width * on.height * 4);
      await renderer.readRenderTargetPixelsAsync(on, 0, 0, on.width, on.height, rgba);
      let [covered, sum, most] = [0, 0, 0];
      for (let i = 0; i < rgba.length; i += 4) {
        const times = rgba[i]!;
        if (times) covered += 1;
        sum += times;
        if (times > most) most = times;
      }
      return { mean: covered ? sum / covered : 0, most, covered: covered / (rgba.length / 4) };
    },
    dispose: (): void => target?.dispose(),
  };
};
