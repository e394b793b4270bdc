import { generateTangents } from 'three/addons/libs/mikktspace.module.js';
import type { Mesh } from '#core/meshes/mesh.ts';

/** Of each triangle's corners, one after another. */
const unrolled = (numbers: Float32Array, size: number, indices: Uint32Array): Float32Array => {
  const made = new Float32Array(indices.length * size);
  indices.forEach((from, to) => made.set(numbers.subarray(from * size, (from + 1) * size), to * size));
  return made;
};

/**
 * The mesh with the tangents that the trade's bakers make (M. Mikkelsen, "Simulation of Wrinkled Surfaces Revisited",
 * 2008), so that a normal map baked elsewhere meets at its seams. A corner whose triangles do not agree is split.
 */
export const withBakerTangents = (mesh: Mesh): Mesh => splitForBaker(mesh).mesh;

/** The same, and which corner each of its corners was. */
export const splitForBaker = (mesh: Mesh): { readonly mesh: Mesh; readonly from: readonly number[] } => {
  const { positions, normals, uvs, indices } = mesh;
  const told = generateTangents(
    unrolled(positions, 3, indices),
    unrolled(normals, 3, indices),
    unrolled(uvs, 2, indices),
  );
  // Each corner keeps its place with the first tangent that is told of it; what is split off follows after all.
  const count = positions.length / 3;
  const from = Array.from({ length: count }, (_, i) => i);
  const tangents: (Float32Array | undefined)[] = Array.from({ length: count });
  const splits = new Map<number, number[]>();
  const cornerFor = (old: number, tangent: Float32Array): number => {
    const known = [old, ...(splits.get(old) ?? [])];
    const found = known.find((corner) => tangents[corner]?.every((x, i) => x === tangent[i]) ?? true);
    if (found !== undefined) {
      tangents[found] = tangent;
      return found;
    }
    splits.set(old, [...known.slice(1), from.length]);
    tangents.push(tangent);
    return from.push(old) - 1;
  };
  const split = indices.map((old, i) => cornerFor(old, told.subarray(i * 4, i * 4 + 4)));
  const taken = Uint32Array.from(from);
  const made: Mesh = {
    positions: unrolled(positions, 3, taken),
    normals: unrolled(normals, 3, taken),
    uvs: unrolled(uvs, 2, taken),
    indices: split,
    // A corner of no triangle has any.
    tangents: Float32Array.from(tangents.flatMap((each) => [...(each ?? [1, 0, 0, 1])])),
  };
  return { mesh: made, from };
};
