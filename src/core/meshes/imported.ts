import { deform } from '../rigs/deform.ts';
import { poseOf } from '../rigs/poseOf.ts';
import { arriveRig, type ClipsNow } from '../rigs/rig.ts';
import type { Mesh } from './mesh.ts';

/** Clips of a model, and nodes of one that clips move. */
export const MOST_CLIPS = 64;
export const MOST_NODES = 512;

/** A mesh that was brought from a file, by the SHA-256 of the bytes it is kept as. */
export interface ImportedRecipe {
  readonly kind: 'imported';
  readonly blob: string;
  /** What the file called it, and how fine it is: what is told of it before it has arrived. */
  readonly file: string;
  readonly triangles: number;
  /** Its clips, which cues play. */
  readonly clips?: readonly { readonly name: string; readonly length: number }[];
  /** Names of its nodes, which others may hang on. */
  readonly joints?: readonly string[];
  /** How its clips stand while it is rehearsed; no document tells it. */
  readonly pose?: ClipsNow;
}

/** Meshes are what their bytes are: what has arrived once is known from then on. */
const arrived = new Map<string, Mesh>();

export const hasArrived = ({ blob }: ImportedRecipe): boolean => arrived.has(blob);
export const arrive = (blob: string, mesh: Mesh): void => {
  arrived.set(blob, mesh);
  if (mesh.skin) arriveRig(blob, mesh.skin.rig);
};

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

export const importedMesh = ({ blob, pose }: ImportedRecipe): Mesh => {
  const mesh = arrived.get(blob) ?? STAND_IN;
  return pose && mesh.skin ? { ...mesh, ...deform(mesh.skin, poseOf(mesh.skin.rig, pose)) } : mesh;
};

/** The same as it stands where nothing moves it. */
export const atRest = <R extends { readonly kind: string }>(recipe: R): R => {
  if (!('pose' in recipe)) return recipe;
  const { pose: _, ...rest } = recipe;
  return rest as unknown as R;
};
