import type { Mesh } from '../../meshes/mesh.ts';
import { cross, dot, minus, triple, tripleAt, type Triple } from '../../numbers/vectors.ts';

/** A prop's place: a 4×4 matrix, column after column. */
export type Placement = ArrayLike<number>;

/** Places on a mesh's triangles. */
export interface Spots {
  readonly count: number;
  /** Three corners of the mesh each. */
  readonly corners: Uint32Array;
  /** How much each corner counts there; a spot's three sum to 1. */
  readonly weights: Float32Array;
}

const cornerOf = ({ positions }: Mesh, i: number): Triple => tripleAt(positions, i * 3);

/** Weights of the point of a triangle nearest to p (C. Ericson, Real-Time Collision Detection, 2005, 5.1.5). */
const nearestIn = (p: Triple, a: Triple, b: Triple, c: Triple): Triple => {
  const [ab, ac, ap] = [minus(b, a), minus(c, a), minus(p, a)];
  const [d1, d2] = [dot(ab, ap), dot(ac, ap)];
  if (d1 <= 0 && d2 <= 0) return [1, 0, 0];
  const bp = minus(p, b);
  const [d3, d4] = [dot(ab, bp), dot(ac, bp)];
  if (d3 >= 0 && d4 <= d3) return [0, 1, 0];
  const vc = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) return [1 - d1 / (d1 - d3), d1 / (d1 - d3), 0];
  const cp = minus(p, c);
  const [d5, d6] = [dot(ab, cp), dot(ac, cp)];
  if (d6 >= 0 && d5 <= d6) return [0, 0, 1];
  const vb = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) return [1 - d2 / (d2 - d6), 0, d2 / (d2 - d6)];
  const va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
    const w = (d4 - d3) / (d4 - d3 + (d5 - d6));
    return [0, 1 - w, w];
  }
  const sum = va + vb + vc;
  return [va / sum, vb / sum, vc / sum];
};

/** The spot of a mesh nearest to a point of its own space; null of a mesh without a triangle of any size. */
export const nearestSpot = (mesh: Mesh, at: Triple): Spots | null => {
  let least = Infinity;
  let found: Spots | null = null;
  for (let t = 0; t + 2 < mesh.indices.length; t += 3) {
    const ids = tripleAt(mesh.indices, t);
    const [a, b, c] = triple((k) => cornerOf(mesh, ids[k]));
    const face = cross(minus(b, a), minus(c, a));
    if (!(dot(face, face) > 0)) continue;
    const weights = nearestIn(at, a, b, c);
    const there = [0, 1, 2].map((i) => weights[0] * a[i]! + weights[1] * b[i]! + weights[2] * c[i]!);
    const away = Math.hypot(...there.map((x, i) => x - at[i]!));
    if (away >= least) continue;
    least = away;
    found = { count: 1, corners: Uint32Array.from(ids), weights: Float32Array.from(weights) };
  }
  return found;
};

/** Fractions of the plastic number, which spread points evenly (M. Roberts, "The Unreasonable Effectiveness of Quasirandom Sequences", 2018). */
const [ROW, COLUMN] = [0.7548776662466927, 0.5698402909980532];

/**
 * Spots spread evenly over the area of a placed mesh, the same ones every time.
 * @throws Error where the mesh has no area
 */
export const spotsOver = ({ positions, indices }: Mesh, m: Placement, count: number): Spots => {
  // Plain numbers throughout: it is done for each corner of a mesh, and a list of three for each of them is mostly litter.
  const [m0, m1, m2, m4, m5, m6, m8, m9, m10] = [
    m[0]!,
    m[1]!,
    m[2]!,
    m[4]!,
    m[5]!,
    m[6]!,
    m[8]!,
    m[9]!,
    m[10]!,
  ];
  const world = new Float64Array(positions.length);
  for (let i = 0; i + 2 < positions.length; i += 3) {
    const [x, y, z] = [positions[i]!, positions[i + 1]!, positions[i + 2]!];
    world[i] = m0 * x + m4 * y + m8 * z;
    world[i + 1] = m1 * x + m5 * y + m9 * z;
    world[i + 2] = m2 * x + m6 * y + m10 * z;
  }
  const upTo = new Float64Array(indices.length / 3);
  let area = 0;
  for (let t = 0; t < upTo.length; t += 1) {
    const [a, b, c] = [indices[t * 3]! * 3, indices[t * 3 + 1]! * 3, indices[t * 3 + 2]! * 3];
    const [ax, ay, az] = [world[a]!, world[a + 1]!, world[a + 2]!];
    const [ux, uy, uz] = [world[b]! - ax, world[b + 1]! - ay, world[b + 2]! - az];
    const [vx, vy, vz] = [world[c]! - ax, world[c + 1]! - ay, world[c + 2]! - az];
    const [fx, fy, fz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    area += Math.sqrt(fx * fx + fy * fy + fz * fz) || 0;
    upTo[t] = area;
  }
  if (!(area > 0)) throw new Error('This mesh has no triangle of any size.');
  const corners = new Uint32Array(count * 3);
  const weights = new Float32Array(count * 3);
  for (let i = 0, t = 0; i < count; i += 1) {
    const wanted = ((i + 0.5) / count) * area;
    while (t < upTo.length - 1 && upTo[t]! < wanted) t += 1;
    corners.set(indices.subarray(t * 3, t * 3 + 3), i * 3);
    // A square's point folded into a triangle: its area stays evenly covered.
    const [u, v] = [(0.5 + i * ROW) % 1, (0.5 + i * COLUMN) % 1];
    const folded = u + v > 1 ? ([1 - u, 1 - v] as const) : ([u, v] as const);
    weights.set([1 - folded[0] - folded[1], ...folded], i * 3);
  }
  return { count, corners, weights };
};

/** The spot of a mesh at a place of uv, of several the first; null where no triangle has it. */
export const spotAtUv = ({ uvs, indices }: Mesh, u: number, v: number): Spots | null => {
  for (let t = 0; t + 2 < indices.length; t += 3) {
    const corners = indices.subarray(t, t + 3);
    const [a, b, c] = [corners[0]! * 2, corners[1]! * 2, corners[2]! * 2];
    const [bu, bv] = [uvs[b]! - uvs[a]!, uvs[b + 1]! - uvs[a + 1]!];
    const [cu, cv] = [uvs[c]! - uvs[a]!, uvs[c + 1]! - uvs[a + 1]!];
    const size = bu * cv - bv * cu;
    if (size === 0) continue;
    const [pu, pv] = [u - uvs[a]!, v - uvs[a + 1]!];
    const [second, third] = [(pu * cv - pv * cu) / size, (bu * pv - bv * pu) / size];
    if (second < -1e-6 || third < -1e-6 || second + third > 1 + 1e-6) continue;
    return {
      count: 1,
      corners: Uint32Array.from(corners),
      weights: Float32Array.of(1 - second - third, second, third),
    };
  }
  return null;
};

/** A spot’s point, in the mesh’s own space. */
export const pointOf = ({ positions }: Mesh, { corners, weights }: Spots): Triple =>
  triple((c) => [0, 1, 2].reduce((sum, k) => sum + weights[k]! * positions[corners[k]! * 3 + c]!, 0));

/** The middle of a mesh’s uv, in its own space; its first corner where no triangle has that. */
export const middleOf = (mesh: Mesh): Triple => {
  const spot = spotAtUv(mesh, 0.5, 0.5);
  return spot ? pointOf(mesh, spot) : tripleAt(mesh.positions, 0);
};

/** Several spots as one list. */
export const joinedSpots = (list: readonly Spots[]): Spots => ({
  count: list.reduce((sum, { count }) => sum + count, 0),
  corners: Uint32Array.from(list.flatMap(({ corners }) => [...corners])),
  weights: Float32Array.from(list.flatMap(({ weights }) => [...weights])),
});
