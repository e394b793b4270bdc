import { filled } from '../../numbers/filled.ts';
import { unit, type Triple } from '../../numbers/vectors.ts';
import type { Mesh } from '../mesh.ts';
import { curvatures } from './curvature.ts';
import { laidOut, type LaidOut } from './laidOut.ts';
import { createSeenAlong } from './seenAlong.ts';

export const MESH_MAPS = ['thickness', 'curvature', 'occlusion', 'position', 'normal', 'bentNormal'] as const;
export type MeshMapKind = (typeof MESH_MAPS)[number];

export interface MapAsk {
  readonly map: MeshMapKind;
  readonly width: number;
  readonly height: number;
  /** Lines from each texel, over half a sphere. */
  readonly rays: number;
  /** Metres: as thick as counts, as far as hides, the radius of what counts as fully bent. */
  readonly reach: number;
  /** Texels beyond the islands that are filled as their edge is. */
  readonly padding: number;
  readonly progress?: (share: number) => void;
}
export interface MadeMap {
  /** Three numbers a texel, rows from the top. */
  readonly values: Float32Array;
  /** Whether a texel is on the mesh, or padding. */
  readonly isFilled: Uint8Array;
  readonly layout: LaidOut;
}

/** Ways spread evenly over a sphere, on a spiral of the golden angle (R. Swinbank and R. Purser, 2006). */
export const waysAround = (count: number): readonly Triple[] =>
  Array.from({ length: count }, (_, i) => {
    const y = 1 - (2 * i + 1) / count;
    const out = Math.sqrt(1 - y * y);
    const turn = i * Math.PI * (3 - Math.sqrt(5));
    return [out * Math.cos(turn), y, out * Math.sin(turn)];
  });

/** Numbers of the corners, a few each, as they are at every covered texel. */
const overTexels = (
  from: ArrayLike<number>,
  size: number,
  { indices }: Mesh,
  { triangles, shares }: LaidOut,
): Float64Array => {
  const made = new Float64Array(triangles.length * size);
  for (let i = 0; i < triangles.length; i += 1) {
    const t = triangles[i]! * 3;
    if (t < 0) continue;
    const [b, c] = [shares[i * 2]!, shares[i * 2 + 1]!];
    const [p, q, r] = [indices[t]! * size, indices[t + 1]! * size, indices[t + 2]! * size];
    for (let k = 0; k < size; k += 1)
      made[i * size + k] = from[p + k]! * (1 - b - c) + from[q + k]! * b + from[r + k]! * c;
  }
  return made;
};

/** The lowest and highest corner on each axis. */
const boxOf = (positions: Float32Array): readonly (readonly [number, number])[] =>
  [0, 1, 2].map((c) => {
    let [low, high] = [Infinity, -Infinity];
    for (let i = c; i < positions.length; i += 3) {
      low = Math.min(low, positions[i]!);
      high = Math.max(high, positions[i]!);
    }
    return [low, high] as const;
  });

/** Fills what lies beside islands as their edge is, ring by ring. */
const padded = (values: Float32Array, { width, height, triangles }: LaidOut, padding: number): Uint8Array => {
  const isFilled = filled(new Uint8Array(triangles.length), (i) => (triangles[i]! < 0 ? 0 : 1));
  let edge = [...isFilled.keys()].filter((i) => isFilled[i]);
  for (let ring = 0; ring < padding && edge.length; ring += 1) {
    const next: number[] = [];
    for (const at of edge) {
      const [x, y] = [at % width, Math.floor(at / width)];
      for (const [i, k] of [
        [x - 1, y],
        [x + 1, y],
        [x, y - 1],
        [x, y + 1],
      ] as const) {
        const to = k * width + i;
        if (i < 0 || i >= width || k < 0 || k >= height || isFilled[to]) continue;
        isFilled[to] = 1;
        values.copyWithin(to * 3, at * 3, at * 3 + 3);
        next.push(to);
      }
    }
    edge = next;
  }
  return isFilled;
};

/**
 * A map of a mesh over its uv. Thickness is how far it is through the mesh, weighed by the cosine about the way in: 0
 * thin, 1 as thick as it reaches; occlusion is 1 where nothing hides; curvature 0.5 where it is flat, 1 where it bulges
 * as a ball of its reach; position 0–1 along each side of the box; normals of the mesh’s own space, packed.
 * @throws Error where the mesh cannot be laid out
 */
export const meshMap = (mesh: Mesh, ask: MapAsk): MadeMap => {
  const { map, width, height, reach, progress = () => undefined } = ask;
  if (!mesh.indices.length) throw new Error('It has no triangle.');
  if (!mesh.positions.every(Number.isFinite)) throw new Error('One of its corners is no number.');
  const layout = laidOut(mesh, width, height);
  const { triangles } = layout;
  const places = overTexels(mesh.positions, 3, mesh, layout);
  const normals = overTexels(mesh.normals, 3, mesh, layout);
  for (let i = 0; i < normals.length; i += 3) {
    const long = Math.hypot(normals[i]!, normals[i + 1]!, normals[i + 2]!) || 1;
    for (let c = 0; c < 3; c += 1) normals[i + c]! /= long;
  }
  const values = new Float32Array(width * height * 3);
  const each = (of: (i: number, c: number) => number): void => {
    for (let i = 0; i < triangles.length; i += 1)
      if (triangles[i]! >= 0) for (let c = 0; c < 3; c += 1) values[i * 3 + c] = of(i, c);
  };
  const box = boxOf(mesh.positions);
  const size = Math.max(...box.map(([low, high]) => high - low));
  if (map === 'position') each((i, c) => (places[i * 3 + c]! - box[c]![0]) / (box[c]![1] - box[c]![0] || 1));
  else if (map === 'normal') each((i, c) => normals[i * 3 + c]! * 0.5 + 0.5);
  else if (map === 'curvature') {
    const bent = overTexels(curvatures(mesh), 1, mesh, layout);
    each((i) => Math.min(Math.max(0.5 + 0.5 * reach * bent[i]!, 0), 1));
  } else {
    const into = map === 'thickness' ? -1 : 1;
    const weights = new Float64Array(triangles.length);
    const sums = new Float64Array(triangles.length * (map === 'bentNormal' ? 3 : 1));
    // Those of the upper half: who faces away from one looks against it, so that each looks along as many.
    const ways = waysAround(ask.rays * 2).slice(0, ask.rays);
    const sides = new Float64Array(triangles.length);
    const away = new Float64Array(triangles.length);
    const seenAlong = createSeenAlong(mesh);
    const from = { places, triangles, sides, beyond: size * 1e-4 };
    ways.forEach((way, k) => {
      const [dx, dy, dz] = way;
      for (let i = 0; i < triangles.length; i += 1)
        sides[i] = (normals[i * 3]! * dx + normals[i * 3 + 1]! * dy + normals[i * 3 + 2]! * dz) * into;
      seenAlong(way, from, away);
      for (let i = 0; i < triangles.length; i += 1) {
        const cosine = Math.abs(sides[i]!);
        if (!(cosine > 0)) continue;
        weights[i]! += cosine;
        if (map === 'thickness') sums[i]! += cosine * Math.min(away[i]! / reach, 1);
        else if (away[i]! <= reach) continue;
        else if (map === 'occlusion') sums[i]! += cosine;
        else for (let c = 0; c < 3; c += 1) sums[i * 3 + c]! += sides[i]! * way[c]!;
      }
      progress((k + 1) / ways.length);
    });
    if (map !== 'bentNormal') each((i) => sums[i]! / (weights[i]! || 1));
    else
      for (let i = 0; i < triangles.length; i += 1) {
        const sum: Triple = [sums[i * 3]!, sums[i * 3 + 1]!, sums[i * 3 + 2]!];
        // Where nothing is open the normal itself stands.
        const open = Math.hypot(...sum) > 1e-9 ? unit(sum) : normals.subarray(i * 3, i * 3 + 3);
        if (triangles[i]! >= 0) for (let c = 0; c < 3; c += 1) values[i * 3 + c] = open[c]! * 0.5 + 0.5;
      }
  }
  return { values, isFilled: padded(values, layout, ask.padding), layout };
};
