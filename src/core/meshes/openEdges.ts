import type { Mesh } from './mesh.ts';

/** Corners nearer than this, as a share of the mesh's size, are one. */
const ONE = 1e-5;

/**
 * How many edges of a mesh do not lie between two triangles that go round the same way. Where there is none it is closed,
 * and has an inside. Corners in one place count as one; triangles without a face are left out.
 */
export const openEdges = ({ positions, indices }: Pick<Mesh, 'positions' | 'indices'>): number => {
  const size = positions.reduce((most, x) => Math.max(most, Math.abs(x)), 0) || 1;
  const places = new Map<string, number>();
  const placeOf = (i: number): number => {
    const key = [0, 1, 2].map((c) => Math.round(positions[i * 3 + c]! / size / ONE)).join();
    const known = places.get(key) ?? places.size;
    places.set(key, known);
    return known;
  };
  const all = Array.from({ length: positions.length / 3 }, (_, i) => placeOf(i));
  /** How often each edge is gone along one way, less the other. */
  const edges = new Map<string, number>();
  for (let t = 0; t < indices.length; t += 3) {
    const corners = [0, 1, 2].map((k) => all[indices[t + k]!]!);
    if (new Set(corners).size < 3) continue;
    corners.forEach((from, k) => {
      const to = corners[(k + 1) % 3]!;
      const key = from < to ? `${from} ${to}` : `${to} ${from}`;
      edges.set(key, (edges.get(key) ?? 0) + (from < to ? 1 : -1));
    });
  }
  return [...edges.values()].filter((ways) => ways !== 0).length;
};
