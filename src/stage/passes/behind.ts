import {
  FloatType,
  LinearFilter,
  LinearMipmapLinearFilter,
  NearestFilter,
  RedFormat,
  WebGLRenderTarget,
  type PerspectiveCamera,
  type Texture,
  type Vector4,
  type WebGLRenderer,
} from 'three';
import type { Requirement } from '#core/program/inputs.ts';
import { BACKDROP } from './backdrop.ts';
import { createFullFrame, hdrTarget } from './fullFrame.ts';

/** Metres ahead of the camera, from the depth a perspective camera writes; what has nothing in it is far away. */
const METRES = `uniform sampler2D depth; uniform float near; uniform float far;
void main() {
  float d = texture(depth, at).r;
  color = vec4(d >= 1.0 ? 1e4 : near * far / (far - d * (far - near)), 0.0, 0.0, 1.0);
}`;
/** The scene as light, over what surrounds it; not exposed and not mapped, that is done once, at the end. */
const LIGHT = `uniform sampler2D source;
${BACKDROP}
void main() {
  vec4 scene = texture(source, at);
  color = vec4(scene.rgb + backdrop() * (1.0 - scene.a), 1.0);
}`;

/** What lies behind a surface that asks for it: copies of the frame as far as it is drawn. */
export interface Behind {
  readonly depth: Texture;
  readonly color: Texture | null;
}

/** Copies a frame that is being drawn, so that what is drawn next can read it. */
export const createBehind = (renderer: WebGLRenderer) => {
  const metres = createFullFrame(renderer, ['depth', 'near', 'far'], METRES);
  const light = createFullFrame(renderer, ['source', 'surround'], LIGHT);
  let depth: WebGLRenderTarget | null = null;
  let color: WebGLRenderTarget | null = null;
  const free = () => {
    depth?.dispose();
    color?.dispose();
    [depth, color] = [null, null];
  };
  return {
    copy: (
      target: WebGLRenderTarget,
      camera: PerspectiveCamera,
      /** What of it is asked for besides its depth. */
      asked: ReadonlySet<Requirement>,
      surround: Vector4,
    ): Behind => {
      const { width, height } = target;
      if (depth?.width !== width || depth.height !== height) free();
      depth ??= new WebGLRenderTarget(width, height, {
        ...{ format: RedFormat, type: FloatType, magFilter: NearestFilter, minFilter: NearestFilter },
        depthBuffer: false,
      });
      metres.draw({ depth: target.depthTexture, near: camera.near, far: camera.far }, depth);
      if (asked.has('sceneColor')) {
        color ??= hdrTarget(width, height);
        const isCoarser = asked.has('sceneLevels');
        if (color.texture.generateMipmaps !== isCoarser) {
          color.dispose();
          color.texture.generateMipmaps = isCoarser;
          color.texture.minFilter = isCoarser ? LinearMipmapLinearFilter : LinearFilter;
        }
        light.draw({ source: target.texture, surround }, color);
      }
      return { depth: depth.texture, color: color?.texture ?? null };
    },
    dispose: (): void => {
      free();
      metres.dispose();
      light.dispose();
    },
  };
};
