import type { Mesh } from '#core/meshes/mesh.ts';

/** What of a model has one material, placed as the model places it. */
export interface Piece {
  readonly name: string;
  readonly mesh: Mesh;
  /** Linear; what its picture is multiplied by. */
  readonly color: readonly [number, number, number];
  readonly metallic: number;
  readonly roughness: number;
  /** The bytes of its base colour's picture. */
  readonly picture: Uint8Array | null;
}
export interface Model {
  readonly pieces: readonly Piece[];
  /** What was left out or made up, in sentences. */
  readonly notes: readonly string[];
}

/** More pieces than this are refused: each becomes a prop. */
export const MOST_PIECES = 64;
