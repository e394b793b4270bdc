import { Color, FloatType, type Camera, type Scene, type WebGLRenderer } from 'three';
import { componentsOf } from '#core/program/types.ts';
import type { PropMaterial } from './scene/propMaterial.ts';
import { createSmallTarget } from './smallTarget.ts';
import type { DrawnTap, View } from './stage.ts';

/** What `measureTap` takes for a place that is not covered. */
const UNCOVERED = -3.3e38;

/** Reads a step as it is drawn on the stage: every number of every pixel, in single precision. */
export const createTapReader = (renderer: WebGLRenderer, scene: Scene, camera: Camera) => {
  const target = createSmallTarget({ type: FloatType });
  return {
    /** Null where no step is shown. @param size of the stage, in pixels */
    read: async (
      { tap, material }: View,
      programOf: (material: string) => PropMaterial | undefined,
      size: { readonly width: number; readonly height: number },
    ): Promise<DrawnTap | null> => {
      const shown = material === null ? undefined : programOf(material);
      const value = tap > 0 ? shown?.shader.program.taps[tap - 1]?.value : undefined;
      if (!value) return null;
      const on = target.of(size);
      renderer.setClearColor(new Color(UNCOVERED, 0, 0), 1);
      renderer.setRenderTarget(on);
      renderer.clear();
      renderer.render(scene, camera);
      renderer.setRenderTarget(null);
      const rgba = new Float32Array(on.width * on.height * 4);
      await renderer.readRenderTargetPixelsAsync(on, 0, 0, on.width, on.height, rgba);
      return { components: Math.min(componentsOf(value.type), 4), rgba };
    },
    dispose: target.dispose,
  };
};
