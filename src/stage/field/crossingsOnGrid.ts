import type { Triangles } from './distancesOnGrid.ts';

/**
 * Where lines along x through a grid's rows cross triangles.
 * @param size how many rows lie along y and z
 * @param start where the first row's line lies, in y and z
 * @returns of each row, y fastest: the places on it, in order
 */
export const crossingsOnGrid = (
  { positions, indices }: Triangles,
  size: readonly [number, number],
  start: readonly [number, number],
  step: readonly [number, number],
): readonly (readonly number[])[] => {
  const rows: number[][] = Array.from({ length: size[0] * size[1] }, () => []);
  /** The rows between two places along an axis. */
  const between = (axis: 0 | 1, low: number, high: number): readonly [number, number] => [
    Math.max(0, Math.ceil((low - start[axis]) / step[axis])),
    Math.min(size[axis] - 1, Math.floor((high - start[axis]) / step[axis])),
  ];
  for (let t = 0; t < indices.length; t += 3) {
    const at = (k: number, c: number): number => positions[indices[t + k]! * 3 + c]!;
    const [ay, az] = [at(0, 1), at(0, 2)];
    const [by, bz] = [at(1, 1) - ay, at(1, 2) - az];
    const [cy, cz] = [at(2, 1) - ay, at(2, 2) - az];
    const area = by * cz - bz * cy;
    // Seen from its edge, a line goes by it.
    if (area === 0) continue;
    const [j0, j1] = between(0, ay + Math.min(0, by, cy), ay + Math.max(0, by, cy));
    const [k0, k1] = between(1, az + Math.min(0, bz, cz), az + Math.max(0, bz, cz));
    for (let k = k0; k <= k1; k += 1)
      for (let j = j0; j <= j1; j += 1) {
        const [y, z] = [start[0] + j * step[0] - ay, start[1] + k * step[1] - az];
        const v = (y * cz - z * cy) / area;
        const w = (by * z - bz * y) / area;
        if (v < 0 || w < 0 || v + w > 1) continue;
        rows[k * size[0] + j]!.push(at(0, 0) * (1 - v - w) + at(1, 0) * v + at(2, 0) * w);
      }
  }
  for (const row of rows) row.sort((a, b) => a - b);
  return rows;
};
