import {
  Color,
  FloatType,
  Mesh as MeshObject,
  NearestFilter,
  Scene,
  WebGLRenderTarget,
  type BufferGeometry,
  type PerspectiveCamera,
  type Vector2,
  type WebGLRenderer,
} from 'three';
import type { Spots } from '#core/evaluate/points/spots.ts';
import { componentsOf } from '#core/program/types.ts';
import type { PropMaterial } from '../scene/propMaterial.ts';

/** A pixel each, two apart, so that every one begins a quad of its own. */
const APART = 2;
const ACROSS = 64;

const triangleOf = ({ index }: BufferGeometry, { corners }: Spots): number => {
  const { array, count } = index!;
  for (let t = 0; t < count; t += 3)
    if (array[t] === corners[0] && array[t + 1] === corners[1] && array[t + 2] === corners[2]) return t;
  return -1;
};

/** Draws the triangle a pin is on into one pixel a step, its centre the pin. */
export const createDrawnReadings = (renderer: WebGLRenderer, camera: PerspectiveCamera) => {
  const scene = new Scene();
  let target: WebGLRenderTarget | null = null;
  const targetFor = (rows: number): WebGLRenderTarget => {
    if (target?.height === rows * APART) return target;
    target?.dispose();
    target = new WebGLRenderTarget(ACROSS * APART, rows * APART, {
      ...{ type: FloatType, magFilter: NearestFilter, minFilter: NearestFilter, depthBuffer: false },
    });
    return target;
  };

  const take = async (
    material: PropMaterial,
    prop: MeshObject,
    spot: Spots,
    /** On the picture, (0, 0) at its upper left and (1, 1) at its lower right. */
    [x, y]: readonly [number, number],
    [width, height]: readonly [number, number],
  ): Promise<ReadonlyMap<string, readonly number[]>> => {
    const read = new Map<string, readonly number[]>();
    const { geometry } = prop;
    const first = triangleOf(geometry, spot);
    const taps = [...material.shader.taps];
    if (first < 0 || !taps.length || !(x > 0 && x < 1 && y > 0 && y < 1)) return read;
    const into = targetFor(Math.ceil(taps.length / ACROSS));
    const { picture } = material;
    const object = new MeshObject(geometry, picture);
    object.onBeforeRender = prop.onBeforeRender;
    object.userData = prop.userData;
    object.frustumCulled = false;
    object.matrixAutoUpdate = false;
    object.matrix.copy(prop.matrixWorld);
    object.matrixWorld.copy(prop.matrixWorld);
    scene.matrixWorldAutoUpdate = false;
    scene.add(object);
    const { start, count } = geometry.drawRange;
    const resolution = picture.uniforms['resolution']!.value as Vector2;
    const [wide, high] = [resolution.x, resolution.y];
    geometry.setDrawRange(first, 3);
    picture.uniforms['picture']!.value = 0;
    camera.setViewOffset(width, height, x * width - 0.5, y * height - 0.5, 1, 1);
    renderer.setClearColor(new Color(-3.3e38, 0, 0), 1);
    into.scissorTest = false;
    into.viewport.set(0, 0, into.width, into.height);
    renderer.setRenderTarget(into);
    renderer.clear();
    into.scissorTest = true;
    taps.forEach(([, tap], i) => {
      const [column, row] = [(i % ACROSS) * APART, Math.floor(i / ACROSS) * APART];
      into.viewport.set(column, row, 1, 1);
      into.scissor.copy(into.viewport);
      // Its pixel here has to tell it the same place on the screen.
      resolution.set((column + 0.5) / x, (row + 0.5) / (1 - y));
      picture.uniforms['tap']!.value = tap;
      picture.uniformsNeedUpdate = true;
      renderer.setRenderTarget(into);
      renderer.render(scene, camera);
    });
    scene.remove(object);
    camera.clearViewOffset();
    geometry.setDrawRange(start, count);
    picture.uniforms['picture']!.value = 1;
    resolution.set(wide, high);
    renderer.setRenderTarget(null);
    const all = new Float32Array(into.width * into.height * 4);
    await renderer.readRenderTargetPixelsAsync(into, 0, 0, into.width, into.height, all);
    taps.forEach(([key, tap], i) => {
      const at = (Math.floor(i / ACROSS) * APART * into.width + (i % ACROSS) * APART) * 4;
      const { type } = material.shader.program.taps[tap - 1]!.value;
      if (all[at]! > -3e38) read.set(key, [...all.subarray(at, at + Math.min(componentsOf(type), 4))]);
    });
    return read;
  };
  return { take, dispose: (): void => target?.dispose() };
};
