import {
  Color,
  FloatType,
  NearestFilter,
  WebGLRenderTarget,
  type Camera,
  type Scene,
  type WebGLRenderer,
} from 'three';
import { componentsOf } from '#core/program/types.ts';
import type { PropMaterial } from './scene/propMaterial.ts';
import type { DrawnTap, View } from './stage.ts';

/** As wide as it is read at most: more pixels tell no more of how numbers are spread. */
const WIDEST = 512;
/** What `measureTap` takes for a place that is not covered. */
const UNCOVERED = -3.3e38;

/** Reads a step as it is drawn on the stage: every number of every pixel, in single precision. */
export const createTapReader = (renderer: WebGLRenderer, scene: Scene, camera: Camera) => {
  let target: WebGLRenderTarget | null = null;
  const targetOf = (width: number, height: number): WebGLRenderTarget => {
    if (target?.width === width && target.height === height) return target;
    target?.dispose();
    target = new WebGLRenderTarget(width, height, {
      ...{ type: FloatType, magFilter: NearestFilter, minFilter: NearestFilter, depthBuffer: true },
    });
    return target;
  };
  return {
    /** Null where no step is shown. @param size of the stage, in pixels */
    read: async (
      { tap, material }: View,
      programOf: (material: string) => PropMaterial | undefined,
      { width: wide, height: high }: { readonly width: number; readonly height: number },
    ): Promise<DrawnTap | null> => {
      const shown = material === null ? undefined : programOf(material);
      const value = tap > 0 ? shown?.shader.program.taps[tap - 1]?.value : undefined;
      if (!value) return null;
      const share = Math.min(1, WIDEST / wide);
      const on = targetOf(Math.max(1, Math.round(wide * share)), Math.max(1, Math.round(high * share)));
      renderer.setClearColor(new Color(UNCOVERED, 0, 0), 1);
      renderer.setRenderTarget(on);
      renderer.clear();
      renderer.render(scene, camera);
      renderer.setRenderTarget(null);
      const rgba = new Float32Array(on.width * on.height * 4);
      await renderer.readRenderTargetPixelsAsync(on, 0, 0, on.width, on.height, rgba);
      return { components: Math.min(componentsOf(value.type), 4), rgba };
    },
    dispose: (): void => target?.dispose(),
  };
};
