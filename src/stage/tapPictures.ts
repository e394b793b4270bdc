import {
  Color,
  FloatType,
  Mesh as MeshObject,
  NearestFilter,
  Scene,
  WebGLRenderTarget,
  type BufferGeometry,
  type Camera,
  type WebGLRenderer,
} from 'three';
import { componentsOf } from '#core/program/types.ts';
import type { Value } from '#core/program/value.ts';
import type { PropMaterial } from './scene/propMaterial.ts';
import { handsOver } from './scene/props.ts';
import { worldMatrixOf } from './scene/worldMatrix.ts';
import type { TapPicture } from './stage.ts';

/** Draws steps of a material over its prop, laid out by uv, many to one target. */
export const createTapPictures = (renderer: WebGLRenderer, camera: Camera) => {
  const scene = new Scene();
  let atlas: WebGLRenderTarget | null = null;
  const atlasFor = (columns: number, rows: number, size: number): WebGLRenderTarget => {
    if (!atlas || atlas.width !== columns * size || atlas.height !== rows * size) {
      atlas?.dispose();
      atlas = new WebGLRenderTarget(columns * size, rows * size, {
        type: FloatType,
        magFilter: NearestFilter,
        minFilter: NearestFilter,
        depthBuffer: false,
      });
    }
    return atlas;
  };

  const take = async (
    material: PropMaterial,
    /** What a value is drawn on; null: a tap that stands for none. */
    geometryOf: (value: Value | null) => BufferGeometry,
    /** The prop that it is drawn as, which hands over what is its own; none where it stands nowhere. */
    prop: MeshObject | null,
    keys: readonly string[],
    size: number,
  ): Promise<TapPicture[]> => {
    // A key that the shader drawn now has not is of one that is to come.
    const asked = keys.flatMap((key) => {
      const tap = material.shader.taps.get(key);
      return tap === undefined ? [] : [{ key, tap }];
    });
    if (!asked.length) return [];
    // Steps that stand for the same value share one picture.
    const valueOf = (tap: number) => material.shader.program.taps[tap - 1]?.value ?? null;
    const firsts = new Map(asked.map(({ tap }) => [valueOf(tap), tap]));
    const taps = [...firsts.values()];
    const columns = Math.min(taps.length, 8);
    const rows = Math.ceil(taps.length / columns);
    const target = atlasFor(columns, rows, size);
    const object = new MeshObject(geometryOf(null), material.picture);
    object.frustumCulled = false;
    object.matrixAutoUpdate = false;
    if (prop) {
      object.matrix.copy(worldMatrixOf(prop));
      object.onBeforeRender = prop.onBeforeRender;
    } else object.onBeforeRender = handsOver(object, material);
    scene.add(object);
    renderer.setClearColor(new Color(-3.3e38, 0, 0), 1);
    target.scissorTest = false;
    target.viewport.set(0, 0, target.width, target.height);
    renderer.setRenderTarget(target);
    renderer.clear();
    target.scissorTest = true;
    taps.forEach((tap, i) => {
      target.viewport.set((i % columns) * size, Math.floor(i / columns) * size, size, size);
      target.scissor.copy(target.viewport);
      object.geometry = geometryOf(valueOf(tap));
      material.picture.uniforms['tap']!.value = tap;
      material.picture.uniformsNeedUpdate = true;
      renderer.setRenderTarget(target);
      renderer.render(scene, camera);
    });
    scene.remove(object);
    renderer.setRenderTarget(null);
    const all = new Float32Array(target.width * target.height * 4);
    await renderer.readRenderTargetPixelsAsync(target, 0, 0, target.width, target.height, all);
    const drawn = taps.map((tap, i) => {
      const rgba = new Float32Array(size * size * 4);
      const left = (i % columns) * size;
      const low = Math.floor(i / columns) * size;
      for (let y = 0; y < size; y += 1) {
        const from = ((low + y) * target.width + left) * 4;
        rgba.set(all.subarray(from, from + size * 4), y * size * 4);
      }
      const value = valueOf(tap);
      return { components: value ? Math.min(componentsOf(value.type), 4) : 1, rgba };
    });
    return asked.map(({ key, tap }) => ({ ...drawn[taps.indexOf(firsts.get(valueOf(tap))!)]!, key }));
  };

  return { take, dispose: (): void => atlas?.dispose() };
};
