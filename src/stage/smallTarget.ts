import { NearestFilter, WebGLRenderTarget, type RenderTargetOptions } from 'three';

/** As wide as what is read is drawn at most: more pixels tell no more of how numbers are spread. */
const WIDEST = 512;

/** A target as large as the stage, or smaller, for numbers that are read back; kept until the stage has another size. */
export const createSmallTarget = (options: RenderTargetOptions = {}) => {
  let target: WebGLRenderTarget | null = null;
  return {
    /** @param stage its size, in pixels */
    of: (stage: { readonly width: number; readonly height: number }): WebGLRenderTarget => {
      const share = Math.min(1, WIDEST / stage.width);
      const [width, height] = [stage.width, stage.height].map((x) => Math.max(1, Math.round(x * share))) as [
        number,
        number,
      ];
      if (target?.width === width && target.height === height) return target;
      target?.dispose();
      target = new WebGLRenderTarget(width, height, {
        ...{ magFilter: NearestFilter, minFilter: NearestFilter },
        ...options,
      });
      return target;
    },
    dispose: (): void => target?.dispose(),
  };
};
