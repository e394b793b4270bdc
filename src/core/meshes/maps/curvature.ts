import { filled } from '../../numbers/filled.ts';
import { cross, dot, minus, times, tripleAt, unit, type Triple } from '../../numbers/vectors.ts';
import type { Mesh } from '../mesh.ts';

/** Corners at the same place are one, whatever their uv and normals. @returns the first corner at the place of each */
const welded = (positions: Float32Array): Int32Array => {
  const first = new Map<string, number>();
  return Int32Array.from({ length: positions.length / 3 }, (_, i) => {
    const key = tripleAt(positions, i * 3)
      .map((x) => Math.fround(x))
      .join();
    const found = first.get(key) ?? i;
    first.set(key, found);
    return found;
  });
};

/**
 * Mean curvature at each corner, in 1/m: above 0 where it bulges, 1/r on a ball. Half of how much the normal, which goes
 * evenly over a triangle, runs apart on it (its divergence), brought to the corners by area.
 */
export const curvatures = ({ positions, normals, indices }: Mesh): Float32Array => {
  const corner = welded(positions);
  const smooth = new Float32Array(positions.length);
  normals.forEach((x, i) => {
    smooth[corner[Math.floor(i / 3)]! * 3 + (i % 3)]! += x;
  });
  const normalAt = (i: number): Triple => unit(tripleAt(smooth, i * 3));
  const sums = new Float32Array(corner.length);
  const areas = new Float32Array(corner.length);
  for (let t = 0; t < indices.length; t += 3) {
    const at = [0, 1, 2].map((k) => corner[indices[t + k]!]!);
    const [a, b, c] = at.map((i) => tripleAt(positions, i * 3)) as [Triple, Triple, Triple];
    const across = cross(minus(b, a), minus(c, a));
    const twice = Math.hypot(...across);
    if (!(twice > 1e-14)) continue;
    const up = times(across, 1 / twice);
    // A corner’s share grows straight away from the side that it faces.
    const sides: readonly Triple[] = [minus(c, b), minus(a, c), minus(b, a)];
    const apart = sides.reduce((sum, side, k) => sum + dot(normalAt(at[k]!), cross(up, side)) / twice, 0);
    for (const i of at) {
      sums[i]! += (apart / 2) * twice;
      areas[i]! += twice;
    }
  }
  return filled(new Float32Array(corner.length), (k) => {
    const i = corner[k]!;
    return areas[i] ? sums[i]! / areas[i]! : 0;
  });
};
