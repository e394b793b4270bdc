import { Color, type Camera, type Scene, type WebGLRenderer } from 'three';
import { costTap } from '#core/emit/glsl/fragmentStage.ts';
import type { PropMaterial } from './scene/propMaterial.ts';
import { createSmallTarget } from './smallTarget.ts';
import type { Overdraw } from './stage.ts';

/** What each drawing of a pixel adds: one step of eight bits. */
const ONE = costTap(1 / 255);

/** Counts how often the pixels of the stage are drawn, one prop over another: as many as eight bits hold. */
export const createOverdraw = (renderer: WebGLRenderer, scene: Scene, camera: Camera) => {
  const target = createSmallTarget();
  return {
    /**
     * @param size of the stage, in pixels
     * @param restore puts back what materials show
     */
    read: async (
      materials: Iterable<PropMaterial>,
      size: { readonly width: number; readonly height: number },
      restore: () => void,
    ): Promise<Overdraw> => {
      const on = target.of(size);
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
    dispose: target.dispose,
  };
};
