import { writeGlb } from '#core/meshes/glb.ts';
import type { Piece } from './model.ts';
import { readModel } from './readModel.ts';

export type ToReader = readonly (readonly [file: string, bytes: Uint8Array<ArrayBuffer>])[];
/** A piece with its mesh as the bytes it is kept as. */
export type PackedPiece = Omit<Piece, 'mesh'> & {
  readonly glb: Uint8Array<ArrayBuffer>;
  readonly triangles: number;
  readonly clips: readonly { readonly name: string; readonly length: number }[];
  readonly joints: readonly string[];
};
export type FromReader =
  | { readonly share: number }
  | { readonly pieces: readonly PackedPiece[]; readonly notes: readonly string[] }
  | { readonly refused: string };

const answer = (message: FromReader): void => self.postMessage(message);

self.onmessage = async ({ data }: MessageEvent<ToReader>) => {
  try {
    const { pieces, notes } = await readModel(new Map(data), (share) => answer({ share: share * 0.9 }));
    answer({
      notes,
      pieces: pieces.map(({ mesh, ...piece }) => ({
        ...piece,
        glb: writeGlb(mesh),
        triangles: mesh.indices.length / 3,
        clips: mesh.skin?.rig.clips.map(({ name, length }) => ({ name, length })) ?? [],
        joints: mesh.skin ? [...new Set(mesh.skin.rig.nodes.map(({ name }) => name))] : [],
      })),
    });
  } catch (error) {
    answer({ refused: (error as Error).message });
  }
};
