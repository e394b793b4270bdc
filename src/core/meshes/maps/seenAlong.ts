import { cross, unit, type Triple } from '../../numbers/vectors.ts';
import type { Mesh } from '../mesh.ts';

/** Numbers kept of a triangle: its second and third corner’s share, and how far along the way it is, each as a plane. */
const KEPT = 9;
/** Lines between triangles belong to both. */
const EDGE = 1e-6;
const [CELLS, MOST_ACROSS] = [2, 2048];

/** From where a mesh is looked at: places, three numbers each, and the triangles that these lie on, which hide nothing of themselves. */
export interface Lookouts {
  readonly places: Float64Array;
  readonly triangles: Int32Array;
  /** Places of no weight are left out. */
  readonly weights: Float64Array;
  /** What is nearer than this is not met. */
  readonly beyond: number;
}

/**
 * How far the first surface along a way is from each place, infinitely far where there is none. All lines that go one way
 * meet the triangles over a cell of one grid, which is why a hundred ways for all of a map take seconds: no tree is walked.
 */
export const seenAlong = (
  { positions, indices }: Pick<Mesh, 'positions' | 'indices'>,
  way: Triple,
  { places, triangles, weights, beyond }: Lookouts,
  to: Float64Array,
): void => {
  const [dx, dy, dz] = way;
  const [ax, ay, az] = unit(cross(way, Math.abs(dy) < 0.9 ? [0, 1, 0] : [1, 0, 0]));
  const [bx, by, bz] = cross(way, [ax, ay, az]);
  const corners = positions.length / 3;
  const seen = new Float64Array(corners * 3);
  let [left, right, low, high] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < corners; i += 1) {
    const x = positions[i * 3]!;
    const y = positions[i * 3 + 1]!;
    const z = positions[i * 3 + 2]!;
    const u = x * ax + y * ay + z * az;
    const v = x * bx + y * by + z * bz;
    seen[i * 3] = u;
    seen[i * 3 + 1] = v;
    seen[i * 3 + 2] = x * dx + y * dy + z * dz;
    if (u < left) left = u;
    if (u > right) right = u;
    if (v < low) low = v;
    if (v > high) high = v;
  }
  const count = indices.length / 3;
  // Twice as many cells as triangles: most are over few.
  const step = Math.max(
    Math.sqrt(((right - left) * (high - low)) / (CELLS * count)),
    Math.max(right - left, high - low, 1e-9) / MOST_ACROSS,
  );
  const columns = Math.floor((right - left) / step) + 1;
  const rows = Math.floor((high - low) / step) + 1;
  const columnOf = (u: number): number => Math.min(Math.max(Math.floor((u - left) / step), 0), columns - 1);
  const rowOf = (v: number): number => Math.min(Math.max(Math.floor((v - low) / step), 0), rows - 1);

  const kept = new Float64Array(count * KEPT);
  const over = new Int32Array(count * 4);
  const starts = new Int32Array(columns * rows + 1);
  for (let t = 0; t < count; t += 1) {
    const i = indices[t * 3]! * 3;
    const j = indices[t * 3 + 1]! * 3;
    const k = indices[t * 3 + 2]! * 3;
    const u0 = seen[i]!;
    const v0 = seen[i + 1]!;
    const w0 = seen[i + 2]!;
    const u1 = seen[j]! - u0;
    const v1 = seen[j + 1]! - v0;
    const w1 = seen[j + 2]! - w0;
    const u2 = seen[k]! - u0;
    const v2 = seen[k + 1]! - v0;
    const w2 = seen[k + 2]! - w0;
    const area = u1 * v2 - u2 * v1;
    // Seen from its edge a triangle hides nothing.
    if (!(Math.abs(area) > 1e-14)) {
      over[t * 4] = 1;
      continue;
    }
    const at = t * KEPT;
    kept[at] = v2 / area;
    kept[at + 1] = -u2 / area;
    kept[at + 2] = (u2 * v0 - v2 * u0) / area;
    kept[at + 3] = -v1 / area;
    kept[at + 4] = u1 / area;
    kept[at + 5] = (v1 * u0 - u1 * v0) / area;
    for (let c = 0; c < 3; c += 1)
      kept[at + 6 + c] = kept[at + c]! * w1 + kept[at + 3 + c]! * w2 + (c === 2 ? w0 : 0);
    over[t * 4] = columnOf(u0 + Math.min(0, u1, u2));
    over[t * 4 + 1] = columnOf(u0 + Math.max(0, u1, u2)) + 1;
    over[t * 4 + 2] = rowOf(v0 + Math.min(0, v1, v2));
    over[t * 4 + 3] = rowOf(v0 + Math.max(0, v1, v2));
    for (let row = over[t * 4 + 2]!; row <= over[t * 4 + 3]!; row += 1)
      for (let column = over[t * 4]!; column < over[t * 4 + 1]!; column += 1)
        starts[row * columns + column]! += 1;
  }
  let all = 0;
  for (let cell = 0; cell <= columns * rows; cell += 1) {
    all += starts[cell]!;
    starts[cell] = all;
  }
  const listed = new Int32Array(all);
  for (let t = count - 1; t >= 0; t -= 1)
    for (let row = over[t * 4 + 2]!; row <= over[t * 4 + 3]!; row += 1)
      for (let column = over[t * 4]!; column < over[t * 4 + 1]!; column += 1)
        listed[(starts[row * columns + column]! -= 1)] = t;

  for (let i = 0; i < triangles.length; i += 1) {
    if (!(weights[i]! > 0)) continue;
    const x = places[i * 3]!;
    const y = places[i * 3 + 1]!;
    const z = places[i * 3 + 2]!;
    const u = x * ax + y * ay + z * az;
    const v = x * bx + y * by + z * bz;
    const column = Math.floor((u - left) / step);
    const row = Math.floor((v - low) / step);
    let found = Infinity;
    const from = x * dx + y * dy + z * dz;
    if (column >= 0 && column < columns && row >= 0 && row < rows) {
      const cell = row * columns + column;
      const own = triangles[i]!;
      const end = starts[cell + 1]!;
      for (let k = starts[cell]!; k < end; k += 1) {
        const t = listed[k]!;
        const at = t * KEPT;
        const w = kept[at + 6]! * u + kept[at + 7]! * v + kept[at + 8]!;
        if (!(w > from + beyond && w < found) || t === own) continue;
        const b = kept[at]! * u + kept[at + 1]! * v + kept[at + 2]!;
        if (b < -EDGE) continue;
        const c = kept[at + 3]! * u + kept[at + 4]! * v + kept[at + 5]!;
        if (c >= -EDGE && b + c <= 1 + EDGE) found = w;
      }
    }
    to[i] = found - from;
  }
};
