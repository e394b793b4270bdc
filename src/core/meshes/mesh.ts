import type { Skin } from '../rigs/deform.ts';
import { unit, type Triple } from '../numbers/vectors.ts';

/** Triangles with what a shader reads at each corner. Counter-clockwise is the front. */
export interface Mesh {
  /** x, y, z in metres. */
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  /** (0, 0) at the lower left. */
  readonly uvs: Float32Array;
  readonly indices: Uint32Array;
  /** Where a file brought them, or they were made as bakers make them: along u, and the way v goes. Else they follow from uv. */
  readonly tangents?: Float32Array;
  /** What moves it: its corners are those of the rig at rest. */
  readonly skin?: Skin;
}

export type Point = Triple;
export { unit };

/** Several meshes as one, each with its own corners. */
export const joined = (meshes: readonly Mesh[]): Mesh => {
  const floats = (of: (mesh: Mesh) => Float32Array): Float32Array => {
    const all = new Float32Array(meshes.reduce((sum, mesh) => sum + of(mesh).length, 0));
    meshes.reduce((at, mesh) => (all.set(of(mesh), at), at + of(mesh).length), 0);
    return all;
  };
  let first = 0;
  const indices = meshes.flatMap((mesh) => {
    const moved = Array.from(mesh.indices, (i) => i + first);
    first += mesh.positions.length / 3;
    return moved;
  });
  return {
    positions: floats((mesh) => mesh.positions),
    normals: floats((mesh) => mesh.normals),
    uvs: floats((mesh) => mesh.uvs),
    indices: Uint32Array.from(indices),
  };
};
