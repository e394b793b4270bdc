import type { Mesh } from './mesh.ts';

/** A mesh that was brought from a file, by the SHA-256 of the bytes it is kept as. */
export interface ImportedRecipe {
  readonly kind: 'imported';
  readonly blob: string;
  /** What the file called it, and how fine it is: what is told of it before it has arrived. */
  readonly file: string;
  readonly triangles: number;
}

/** Meshes are what their bytes are: what has arrived once is known from then on. */
const arrived = new Map<string, Mesh>();

export const hasArrived = ({ blob }: ImportedRecipe): boolean => arrived.has(blob);
export const arrive = (blob: string, mesh: Mesh): void => void arrived.set(blob, mesh);

/** A small pyramid stands in for what has not arrived. */
const STAND_IN: Mesh = (() => {
  const corners = [
    [-0.1, 0, 0.1],
    [0.1, 0, 0.1],
    [0, 0, -0.1],
    [0, 0.2, 0],
  ];
  const faces = [0, 1, 3, 1, 2, 3, 2, 0, 3, 1, 0, 2];
  return {
    positions: Float32Array.from(faces.flatMap((i) => corners[i]!)),
    normals: Float32Array.from(faces.flatMap(() => [0, 1, 0])),
    uvs: Float32Array.from(faces.flatMap((_, k) => [k % 2, 0])),
    indices: Uint32Array.from(faces, (_, k) => k),
  };
})();

export const importedMesh = ({ blob }: ImportedRecipe): Mesh => arrived.get(blob) ?? STAND_IN;
