import { prepare } from '../evaluate/columns/evaluate.ts';
import { normalMatrix } from '../evaluate/points/onMesh.ts';
import type { Placement } from '../evaluate/points/spots.ts';
import type { Points } from '../evaluate/points/points.ts';
import type { Mesh } from '../meshes/mesh.ts';
import { plus, times, unit } from '../numbers/vectors.ts';
import type { Value } from '../program/value.ts';

export interface Bounds {
  readonly low: readonly [number, number, number];
  readonly high: readonly [number, number, number];
}

/** Points of a mesh looked at; more would not show in a box. */
const MOST_POINTS = 2048;
/** What may lie between the points looked at, as a share of the box. */
const MARGIN = 0.05;

/** The points of a mesh as a program reads them, laid out for the columns. */
const pointsOf = (
  mesh: Mesh,
  placement: Placement,
): { count: number; inputs: Record<string, Float32Array> } => {
  const all = mesh.positions.length / 3;
  const stride = Math.max(1, Math.ceil(all / MOST_POINTS));
  const count = Math.ceil(all / stride);
  const columns = (size: number) => new Float32Array(size * count);
  const [objectPosition, position, objectNormal, normal] = [columns(3), columns(3), columns(3), columns(3)];
  const uv = columns(2);
  const m = placement;
  const [across, up, ahead] = normalMatrix(m);
  for (let i = 0; i < count; i += 1) {
    const v = Math.min(i * stride, all - 1);
    const [x, y, z] = [mesh.positions[v * 3]!, mesh.positions[v * 3 + 1]!, mesh.positions[v * 3 + 2]!];
    const [a, b, c] = [mesh.normals[v * 3]!, mesh.normals[v * 3 + 1]!, mesh.normals[v * 3 + 2]!];
    const way = unit(plus(plus(times(across, a), up, b), ahead, c));
    for (let r = 0; r < 3; r += 1) {
      objectPosition[r * count + i] = [x, y, z][r]!;
      objectNormal[r * count + i] = [a, b, c][r]!;
      position[r * count + i] = m[r]! * x + m[4 + r]! * y + m[8 + r]! * z + m[12 + r]!;
      normal[r * count + i] = way[r]!;
    }
    uv[i] = mesh.uvs[v * 2]!;
    uv[count + i] = mesh.uvs[v * 2 + 1]!;
  }
  return { count, inputs: { objectPosition, position, objectNormal, normal, uv, uv2: uv } };
};

/**
 * Prepares to find the box that a moved mesh fills in the world, from its offset at its own points: what is drawn is
 * never culled by where it stood before.
 * @returns null where the offset runs only on the graphics card, or reads what is not known here
 */
export const prepareMovedBounds = (
  offset: Value,
): ((mesh: Mesh, placement: Placement, given: Omit<Points, 'count' | 'quads'>) => Bounds | null) => {
  const compute = prepare([offset]);
  return (mesh, placement, given) => {
    const { count, inputs } = pointsOf(mesh, placement);
    try {
      const [moved] = compute({ ...given, count, inputs: { ...given.inputs, ...inputs } });
      const low: [number, number, number] = [Infinity, Infinity, Infinity];
      const high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
      for (let i = 0; i < count; i += 1)
        for (let c = 0; c < 3; c += 1) {
          const x = inputs['position']![c * count + i]! + moved!.data[c * count + i]!;
          if (!Number.isFinite(x)) return null;
          low[c] = Math.min(low[c]!, x);
          high[c] = Math.max(high[c]!, x);
        }
      const size = Math.max(...high.map((x, c) => x - low[c]!));
      return {
        low: low.map((x) => x - size * MARGIN) as [number, number, number],
        high: high.map((x) => x + size * MARGIN) as [number, number, number],
      };
    } catch {
      return null;
    }
  };
};
