import { cross, dot, minus, plus, times, tripleAt, unit, type Triple } from '../numbers/vectors.ts';
import type { Mesh } from './mesh.ts';

/** How uv lies on a mesh, at each corner. */
export interface Tangents {
  /** The unit direction in which u grows, square to the normal, and ±1: on which side v grows. */
  readonly tangents: Float32Array;
  /** How many metres one unit of u and one of v are long. */
  readonly stretches: Float32Array;
}

/** A unit direction square to another: for corners whose uv tell none, where any will do. */
const squareTo = (n: Triple): Triple => unit(cross(Math.abs(n[1]) < 0.9 ? [0, 1, 0] : [0, 0, 1], n));

/**
 * Works out tangents from positions and uv: each triangle's are added up at its corners and made square to the normal
 * (E. Lengyel, "Computing Tangent Space Basis Vectors for an Arbitrary Mesh", 2001).
 */
export const tangentsOf = ({ positions, normals, uvs, indices }: Mesh): Tangents => {
  const count = positions.length / 3;
  const along = new Float32Array(count * 6);
  for (let k = 0; k < indices.length; k += 3) {
    const [a, b, c] = [indices[k]!, indices[k + 1]!, indices[k + 2]!];
    const p = tripleAt(positions, a * 3);
    const e1 = minus(tripleAt(positions, b * 3), p);
    const e2 = minus(tripleAt(positions, c * 3), p);
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
    const n = tripleAt(normals, i * 3);
    const u = tripleAt(along, i * 6);
    const v = tripleAt(along, i * 6 + 3);
    const flat = plus(u, n, -dot(n, u));
    const size = Math.hypot(...flat);
    const t = size > 1e-12 ? times(flat, 1 / size) : squareTo(n);
    tangents.set([...t, dot(cross(n, t), v) < 0 ? -1 : 1], i * 4);
    const shared = Math.max(faces[i]!, 1);
    stretches.set(
      [Math.max(Math.hypot(...u) / shared, 1e-4), Math.max(Math.hypot(...v) / shared, 1e-4)],
      i * 2,
    );
  }
  return { tangents, stretches };
};
