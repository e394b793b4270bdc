import {
  ClampToEdgeWrapping,
  DataTexture,
  HalfFloatType,
  NearestFilter,
  type Texture,
  type WebGLRenderer,
} from 'three';
import { filled, shares } from '#core/numbers/filled.ts';
import { fromHalf } from '#core/numbers/half.ts';
import type { Picture } from '#core/evaluate/points/points.ts';

const GREY: Picture = {
  ...{ width: 1, height: 1, wrap: 'repeat', filter: 'nearest' },
  rgba: Float32Array.of(128 / 255, 128 / 255, 128 / 255, 1),
};

const wrapOf = (wrap: Texture['wrapS']): Picture['wrap'] =>
  wrap === ClampToEdgeWrapping ? 'clamp' : 'repeat';

/**
 * What a texture holds, as the graphics card has it: read from there, since a canvas would multiply colours by alpha.
 * One that is missing or on its way is plain grey, as it is drawn.
 */
export const createTexels = (renderer: WebGLRenderer) => {
  const known = new WeakMap<object, Picture>();
  const read = (texture: Texture, image: { readonly width: number; readonly height: number }): Picture => {
    const sampled = {
      ...{ width: image.width, height: image.height },
      ...{ wrap: wrapOf(texture.wrapS), wrapDown: wrapOf(texture.wrapT) },
      filter: texture.magFilter === NearestFilter ? ('nearest' as const) : ('linear' as const),
      holds: texture.userData['holds'] as Picture['holds'],
    };
    // What was brought as numbers is known without asking the card.
    if (texture instanceof DataTexture) {
      const { data } = texture.image as { readonly data: ArrayLike<number> };
      const number = texture.type === HalfFloatType ? fromHalf : (x: number): number => x / 255;
      return { ...sampled, rgba: filled(new Float32Array(data.length), (i) => number(data[i]!)) };
    }
    renderer.initTexture(texture);
    const gl = renderer.getContext() as WebGL2RenderingContext;
    const { __webglTexture: made } = renderer.properties.get(texture) as {
      readonly __webglTexture?: WebGLTexture;
    };
    if (!made) return GREY;
    const { width, height } = image;
    const bytes = new Uint8Array(width * height * 4);
    const before = gl.getParameter(gl.READ_FRAMEBUFFER_BINDING) as WebGLFramebuffer | null;
    const buffer = gl.createFramebuffer();
    gl.bindFramebuffer(gl.READ_FRAMEBUFFER, buffer);
    gl.framebufferTexture2D(gl.READ_FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, made, 0);
    gl.readPixels(0, 0, width, height, gl.RGBA, gl.UNSIGNED_BYTE, bytes);
    gl.bindFramebuffer(gl.READ_FRAMEBUFFER, before);
    gl.deleteFramebuffer(buffer);
    return { ...sampled, rgba: shares(bytes, 255) };
  };
  return (texture: Texture | undefined): Picture => {
    const image = texture?.image as { readonly width: number; readonly height: number } | undefined | null;
    const isEmpty = texture instanceof DataTexture && !texture.image.data;
    if (!texture || isEmpty || !image?.width || !image.height) return GREY;
    const picture = known.get(image) ?? read(texture, image);
    known.set(image, picture);
    return picture;
  };
};
