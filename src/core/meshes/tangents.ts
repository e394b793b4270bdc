import type { Mesh } from './mesh.ts';

/** How uv lies on a mesh, at each corner. */
export interface Tangents {
  /** The unit direction in which u grows, square to the normal, and ±1: on which side v grows. */
  readonly tangents: Float32Array;
  /** How many metres one unit of u and one of v are long. */
  readonly stretches: Float32Array;
}

type Triple = [number, number, number];
const dot = (a: Triple, b: Triple) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Triple, b: Triple): Triple => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

/**
 * Works out tangents from positions and uv: each triangle's are added up at its corners and made square to the normal
 * (E. Lengyel, "Computing Tangent Space Basis Vectors for an Arbitrary Mesh", 2001).
 */
export const tangentsOf = ({ positions, normals, uvs, indices }: Mesh): Tangents => {
  const count = positions.length / 3;
  const along = new Float32Array(count * 6);
  const triple = (from: Float32Array, i: number): Triple => [
    from[i * 3]!,
    from[i * 3 + 1]!,
    from[i * 3 + 2]!,
  ];
  for (let k = 0; k < indices.length; k += 3) {
    const [a, b, c] = [indices[k]!, indices[k + 1]!, indices[k + 2]!];
    const p = triple(positions, a);
    const e1 = triple(positions, b).map((x, i) => x - p[i]!) as Triple;
    const e2 = triple(positions, c).map((x, i) => x - p[i]!) as Triple;
    const [u1, v1] = [uvs[b * 2]! - uvs[a * 2]!, uvs[b * 2 + 1]! - uvs[a * 2 + 1]!];
    const [u2, v2] = [uvs[c * 2]! - uvs[a * 2]!, uvs[c * 2 + 1]! - uvs[a * 2 + 1]!];
    const area = u1 * v2 - u2 * v1;
    if (Math.abs(area) < 1e-12) continue;
    for (const corner of [a, b, c])
      for (let i = 0; i < 3; i += 1) {
        along[corner * 6 + i] = along[corner * 6 + i]! + (e1[i]! * v2 - e2[i]! * v1) / area;
        along[corner * 6 + 3 + i] = along[corner * 6 + 3 + i]! + (e2[i]! * u1 - e1[i]! * u2) / area;
      }
  }
  const faces = new Float32Array(count);
  for (const corner of indices) faces[corner] = faces[corner]! + 1;
  const tangents = new Float32Array(count * 4);
  const stretches = new Float32Array(count * 2);
  for (let i = 0; i < count; i += 1) {
    const n = triple(normals, i);
    const u = [...along.subarray(i * 6, i * 6 + 3)] as Triple;
    const v = [...along.subarray(i * 6 + 3, i * 6 + 6)] as Triple;
    const flat = u.map((x, c) => x - n[c]! * dot(n, u)) as Triple;
    const size = Math.hypot(...flat);
    // A mesh without uv has no such direction; any that is square to the normal will do.
    const t: Triple =
      size > 1e-12
        ? (flat.map((x) => x / size) as Triple)
        : Math.abs(n[1]) < 0.9
          ? [n[2], 0, -n[0]]
          : [1, 0, 0];
    tangents.set([...t, dot(cross(n, t), v) < 0 ? -1 : 1], i * 4);
    const shared = Math.max(faces[i]!, 1);
    stretches.set(
      [Math.max(Math.hypot(...u) / shared, 1e-4), Math.max(Math.hypot(...v) / shared, 1e-4)],
      i * 2,
    );
  }
  return { tangents, stretches };
};
