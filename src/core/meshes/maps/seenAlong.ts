import { cross, unit, type Triple } from '../../numbers/vectors.ts';
import type { Mesh } from '../mesh.ts';

/** Lines between triangles belong to both. */
const EDGE = 1e-6;
/** Cells for each triangle, at most: most are over few then. Where few lines are asked for, fewer are told sooner. */
const [CELLS, MOST_ACROSS] = [4, 2048];

/** From where a mesh is looked at: places, three numbers each, and the triangles that these lie on, which hide nothing of themselves. */
export interface Lookouts {
  readonly places: Float64Array;
  readonly triangles: Int32Array;
  /** Above 0 a place looks along the way, below 0 against it; at 0 it is left out. */
  readonly sides: Float64Array;
  /** What is nearer than this is not met. */
  readonly beyond: number;
}

/** A grid over a mesh as it is seen along a way: where it begins across and up, and how large its cells are. */
interface Grid {
  readonly left: number;
  readonly low: number;
  readonly step: number;
  readonly columns: number;
  readonly rows: number;
}

/** @param seen of each corner how far across, how far up and how far along the way it is */
const gridOver = (seen: Float64Array, cells: number): Grid => {
  let [left, right, low, high] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < seen.length; i += 3) {
    const u = seen[i]!;
    const v = seen[i + 1]!;
    if (u < left) left = u;
    if (u > right) right = u;
    if (v < low) low = v;
    if (v > high) high = v;
  }
  const step = Math.max(
    Math.sqrt(((right - left) * (high - low)) / cells),
    Math.max(right - left, high - low, 1e-9) / MOST_ACROSS,
  );
  const columns = Math.floor((right - left) / step) + 1;
  const rows = Math.floor((high - low) / step) + 1;
  return { left, low, step, columns, rows };
};

/** Numbers of a triangle’s planes. */
const PLANES = 9;

/** What is told of a mesh's triangles along one way; the next way is written over it. */
interface Room {
  /** Of each triangle, as planes over the grid: how far along the way it is, its second and its third corner’s share. */
  readonly planes: Float64Array;
  /** Of each triangle its first row, and how many there are. */
  readonly over: Int32Array;
  /** Of each row of each triangle the first and the last column. */
  spans: Int32Array;
  /** Where each cell's triangles begin in the list. */
  starts: Int32Array;
  listed: Int32Array;
}

const atLeast = (room: Int32Array, size: number): Int32Array =>
  room.length >= size ? room : new Int32Array(Math.max(size, room.length * 2));

/** Measures every triangle, and marks row by row which cells it lies over, counted in `starts`. @returns how much of `spans` is used */
const measure = (indices: Mesh['indices'], seen: Float64Array, grid: Grid, room: Room): number => {
  const { left, low, step, columns, rows } = grid;
  const { planes, over, starts } = room;
  const rowOf = (v: number): number => Math.min(Math.max(Math.floor((v - low) / step), 0), rows - 1);
  let used = 0;
  for (let t = 0; t < over.length / 2; t += 1) {
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
    over[t * 2 + 1] = 0;
    // Seen from its edge a triangle hides nothing.
    if (!(Math.abs(area) > 1e-14)) continue;
    const at = t * PLANES;
    planes[at + 3] = v2 / area;
    planes[at + 4] = -u2 / area;
    planes[at + 5] = (u2 * v0 - v2 * u0) / area;
    planes[at + 6] = -v1 / area;
    planes[at + 7] = u1 / area;
    planes[at + 8] = (v1 * u0 - u1 * v0) / area;
    for (let c = 0; c < 3; c += 1)
      planes[at + c] = planes[at + 3 + c]! * w1 + planes[at + 6 + c]! * w2 + (c === 2 ? w0 : 0);
    const first = rowOf(v0 + Math.min(0, v1, v2));
    const last = rowOf(v0 + Math.max(0, v1, v2));
    over[t * 2] = first;
    over[t * 2 + 1] = last - first + 1;
    const needed = used + (last - first + 1) * 2;
    if (needed > room.spans.length) {
      const { spans } = room;
      room.spans = atLeast(spans, needed);
      room.spans.set(spans);
    }
    const { spans } = room;
    for (let row = first; row <= last; row += 1) {
      // What is of it between two lines: its corners there, and where its edges cross them.
      const bottom = row === first ? -Infinity : low + row * step - v0;
      const top = row === last ? Infinity : low + (row + 1) * step - v0;
      let [least, most] = [Infinity, -Infinity];
      if (bottom <= 0 && top >= 0) least = most = 0;
      if (v1 >= bottom && v1 <= top) {
        if (u1 < least) least = u1;
        if (u1 > most) most = u1;
      }
      if (v2 >= bottom && v2 <= top) {
        if (u2 < least) least = u2;
        if (u2 > most) most = u2;
      }
      for (let side = row === first ? 1 : 0; side < (row === last ? 1 : 2); side += 1) {
        const level = side ? top : bottom;
        const isUnder0 = level > 0;
        const isUnder1 = level > v1;
        const isUnder2 = level > v2;
        if (isUnder0 !== isUnder1) {
          const u = (level / v1) * u1;
          if (u < least) least = u;
          if (u > most) most = u;
        }
        if (isUnder0 !== isUnder2) {
          const u = (level / v2) * u2;
          if (u < least) least = u;
          if (u > most) most = u;
        }
        if (isUnder1 !== isUnder2) {
          const u = u1 + ((level - v1) / (v2 - v1)) * (u2 - u1);
          if (u < least) least = u;
          if (u > most) most = u;
        }
      }
      // A corner on a line may be rounded to the other side of it.
      if (least > most) [least, most] = [Math.min(0, u1, u2), Math.max(0, u1, u2)];
      const from = Math.max(Math.floor((u0 + least - left) / step - EDGE), 0);
      const to = Math.min(Math.floor((u0 + most - left) / step + EDGE), columns - 1);
      spans[used] = from;
      spans[used + 1] = to;
      used += 2;
      for (let cell = row * columns + from; cell <= row * columns + to; cell += 1) starts[cell]! += 1;
    }
  }
  return used;
};

/** Lists every cell's triangles, one cell after another, each in their order. */
const list = ({ columns, rows }: Grid, room: Room, spansUsed: number): void => {
  const { over, starts, spans } = room;
  let all = 0;
  for (let cell = 0; cell <= columns * rows; cell += 1) {
    all += starts[cell]!;
    starts[cell] = all;
  }
  room.listed = atLeast(room.listed, all);
  const { listed } = room;
  let used = spansUsed;
  for (let t = over.length / 2 - 1; t >= 0; t -= 1) {
    const first = over[t * 2]!;
    for (let row = first + over[t * 2 + 1]! - 1; row >= first; row -= 1) {
      used -= 2;
      const to = row * columns + spans[used + 1]!;
      for (let cell = row * columns + spans[used]!; cell <= to; cell += 1) listed[(starts[cell]! -= 1)] = t;
    }
  }
};

/**
 * Looks at a mesh along one way after another, and against it. Each time it writes how far the first surface is from each
 * place, infinitely far where there is none. All lines that go one way or against it meet the triangles over a cell of one
 * grid, which is why a hundred ways for all of a map take seconds: no tree is walked.
 */
export const createSeenAlong = ({ positions, indices }: Pick<Mesh, 'positions' | 'indices'>) => {
  const count = indices.length / 3;
  const seen = new Float64Array(positions.length);
  const none = new Int32Array(0);
  const room: Room = {
    planes: new Float64Array(count * PLANES),
    ...{ over: new Int32Array(count * 2), spans: new Int32Array(count * 8), starts: none, listed: none },
  };
  return (way: Triple, { places, triangles, sides, beyond }: Lookouts, to: Float64Array): void => {
    const [dx, dy, dz] = way;
    const [ax, ay, az] = unit(cross(way, Math.abs(dy) < 0.9 ? [0, 1, 0] : [1, 0, 0]));
    const [bx, by, bz] = cross(way, [ax, ay, az]);
    for (let i = 0; i < seen.length; i += 3) {
      const x = positions[i]!;
      const y = positions[i + 1]!;
      const z = positions[i + 2]!;
      seen[i] = x * ax + y * ay + z * az;
      seen[i + 1] = x * bx + y * by + z * bz;
      seen[i + 2] = x * dx + y * dy + z * dz;
    }
    const grid = gridOver(seen, Math.min(CELLS * count, Math.max(count / 2, triangles.length)));
    const { left, low, step, columns, rows } = grid;
    room.starts = atLeast(room.starts, columns * rows + 1).fill(0);
    list(grid, room, measure(indices, seen, grid, room));
    const { planes, starts, listed } = room;
    for (let i = 0; i < triangles.length; i += 1) {
      const side = sides[i]! > 0 ? 1 : -1;
      if (!(sides[i]! * side > 0)) continue;
      const x = places[i * 3]!;
      const y = places[i * 3 + 1]!;
      const z = places[i * 3 + 2]!;
      const u = x * ax + y * ay + z * az;
      const v = x * bx + y * by + z * bz;
      const column = Math.floor((u - left) / step);
      const row = Math.floor((v - low) / step);
      let found = Infinity;
      const from = (x * dx + y * dy + z * dz) * side;
      if (column >= 0 && column < columns && row >= 0 && row < rows) {
        const cell = row * columns + column;
        const own = triangles[i]!;
        const nearest = from + beyond;
        const end = starts[cell + 1]!;
        for (let k = starts[cell]!; k < end; k += 1) {
          const t = listed[k]!;
          const at = t * PLANES;
          const w = (planes[at]! * u + planes[at + 1]! * v + planes[at + 2]!) * side;
          if (!(w > nearest && w < found) || t === own) continue;
          const b = planes[at + 3]! * u + planes[at + 4]! * v + planes[at + 5]!;
          if (b < -EDGE) continue;
          const c = planes[at + 6]! * u + planes[at + 7]! * v + planes[at + 8]!;
          if (c >= -EDGE && b + c <= 1 + EDGE) found = w;
        }
      }
      to[i] = found - from;
    }
  };
};
