import {
  Box3,
  BufferAttribute,
  BufferGeometry,
  DynamicDrawUsage,
  InstancedBufferAttribute,
  InstancedBufferGeometry,
  Sphere,
  Vector3,
} from 'three';
import type { DrawnBand } from '#core/time/drawnLayers.ts';
import type { DrawnSprites } from '#core/time/sprites.ts';
import { cross, dot, minus, plus, unit, type Triple } from '#core/numbers/vectors.ts';
import type { CameraFrame } from './propMaterial.ts';

/** What our sources read of a corner, and how many numbers each is. */
const SIZES = {
  a_position: 3,
  a_normal: 3,
  a_uv: 2,
  a_uv2: 2,
  a_tangent: 4,
  a_stretch: 2,
  a_color: 4,
  a_instance: 3,
} as const;

/** A geometry of corners that are written anew, with room for so many. */
const roomFor = (corners: number, triangles: number): BufferGeometry => {
  const geometry = new BufferGeometry();
  for (const [name, size] of Object.entries(SIZES)) {
    const attribute = new BufferAttribute(new Float32Array(corners * size), size);
    attribute.setUsage(DynamicDrawUsage);
    geometry.setAttribute(name, attribute);
  }
  // three wants `position` to know how much there is to draw.
  geometry.setAttribute('position', geometry.getAttribute('a_position'));
  geometry.setIndex(new BufferAttribute(new Uint32Array(triangles * 3), 1));
  geometry.boundingBox = new Box3();
  geometry.boundingSphere = new Sphere(new Vector3(), Infinity);
  return geometry;
};

interface Corner {
  readonly at: Triple;
  readonly normal: Triple;
  readonly along: Triple;
  readonly uv: readonly [number, number];
  readonly color: readonly number[];
  readonly instance: Triple;
}

const write = (geometry: BufferGeometry, corners: readonly Corner[], indices: readonly number[]): void => {
  const put = (name: keyof typeof SIZES, of: (corner: Corner) => readonly number[]): void => {
    const attribute = geometry.getAttribute(name) as BufferAttribute;
    corners.forEach((corner, i) => attribute.array.set(of(corner), i * SIZES[name]));
    attribute.needsUpdate = true;
  };
  put('a_position', ({ at }) => at);
  put('a_normal', ({ normal }) => normal);
  put('a_uv', ({ uv }) => uv);
  put('a_uv2', ({ uv }) => uv);
  put('a_tangent', ({ along }) => [...along, 1]);
  put('a_stretch', () => [1, 1]);
  put('a_color', ({ color }) => color);
  put('a_instance', ({ instance }) => instance);
  const index = geometry.getIndex()!;
  index.array.set(indices);
  index.needsUpdate = true;
  geometry.setDrawRange(0, indices.length);
  geometry.boundingBox!.makeEmpty();
  for (const { at } of corners) geometry.boundingBox!.expandByPoint(new Vector3(...at));
};

/** Writes into a geometry with room enough: into the one there was, or into another twice as large. */
const writeInto = (
  before: BufferGeometry | null,
  corners: readonly Corner[],
  indices: readonly number[],
): BufferGeometry => {
  const fits =
    before &&
    before.getAttribute('a_position').count >= corners.length &&
    before.getIndex()!.count >= indices.length;
  if (!fits) before?.dispose();
  const geometry = fits ? before : roomFor(corners.length * 2, (indices.length / 3) * 2);
  write(geometry, corners, indices);
  return geometry;
};

/** The middle of points: where the layer stands, for who draws from far to near. */
export const middleOf = (points: readonly Triple[]): Triple =>
  points.reduce<Triple>((sum, each) => plus(sum, each, 1 / points.length), [0, 0, 0]);

/** A ribbon as triangles that face the camera: u runs along it, v across. */
export const bandGeometry = (
  before: BufferGeometry | null,
  { points, ages, widths, colors }: DrawnBand,
  { middle, seed, camera }: { readonly middle: Triple; readonly seed: number; readonly camera: CameraFrame },
): BufferGeometry => {
  const last = points.length - 1;
  let side: Triple = camera.up;
  const corners = points.flatMap((point, i): Corner[] => {
    const way = unit(minus(points[Math.min(i + 1, last)]!, points[Math.max(i - 1, 0)]!));
    const look = unit(minus(camera.position, point));
    const across = cross(look, way);
    // Seen from its own end it has no side: it keeps the one it had.
    if (Math.hypot(...across) > 1e-4) side = unit(across);
    const normal = unit(cross(way, side));
    return ([-0.5, 0.5] as const).map((half) => ({
      at: minus(plus(point, side, half * widths[i]!), middle),
      ...{ normal, along: way, uv: [i / last, half + 0.5] as const },
      color: colors.slice(i * 4, i * 4 + 4),
      instance: [ages[i]!, i / last, seed],
    }));
  });
  const indices = Array.from({ length: last }, (_, i) => [0, 2, 3, 0, 3, 1].map((k) => 2 * i + k)).flat();
  return writeInto(before, corners, indices);
};

const SQUARE = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
] as const;

/** Sprites as squares that face the camera, written from far to near. */
export const spritesGeometry = (
  before: BufferGeometry | null,
  { points, sizes, ages, orders, seeds }: DrawnSprites,
  { middle, camera }: { readonly middle: Triple; readonly camera: CameraFrame },
): BufferGeometry => {
  const away = points.map((point) => -dot(minus(point, camera.position), camera.back));
  const order = points.map((_, i) => i).sort((a, b) => away[b]! - away[a]! || a - b);
  const corners = order.flatMap((i): Corner[] =>
    SQUARE.map(([u, v]) => {
      const at = plus(
        plus(points[i]!, camera.right, (u - 0.5) * sizes[i]!),
        camera.up,
        (v - 0.5) * sizes[i]!,
      );
      return {
        ...{ at: minus(at, middle), normal: camera.back, along: camera.right, uv: [u, v] },
        ...{ color: [1, 1, 1, 1], instance: [ages[i]!, orders[i]!, seeds[i]!] },
      };
    }),
  );
  const indices = order.flatMap((_, k) => [0, 1, 2, 0, 2, 3].map((c) => 4 * k + c));
  return writeInto(before, corners, indices);
};

/** A mesh that tells its age, order and seed; its own copy, so that it can be let go of alone. */
export const meshGeometry = (of: BufferGeometry): InstancedBufferGeometry => {
  const geometry = new InstancedBufferGeometry();
  geometry.copy(of as InstancedBufferGeometry);
  geometry.instanceCount = 1;
  geometry.setAttribute('a_instance', new InstancedBufferAttribute(new Float32Array(3), 3));
  return geometry;
};
export const setInstance = (geometry: BufferGeometry, instance: Triple): void => {
  const attribute = geometry.getAttribute('a_instance') as BufferAttribute;
  attribute.array.set(instance);
  attribute.needsUpdate = true;
};
