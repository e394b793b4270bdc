import { bakeVolume, OpenMeshError, type ToBake } from './bakeVolume.ts';
import type { Volume } from '#core/meshes/volume.ts';

export interface ToBaker extends ToBake {
  readonly key: string;
}
/** Why a mesh gives no distances, as the end of a sentence. */
export interface Refused {
  readonly why: string;
  /** It would, were it taken without an inside. */
  readonly isOpen: boolean;
}
export type FromBaker = { readonly key: string } & (
  { readonly share: number } | { readonly volume: Volume } | { readonly refused: Refused }
);

const answer = (message: FromBaker, transfer: Transferable[] = []): void =>
  self.postMessage(message, { transfer });

self.onmessage = ({ data: { key, ...mesh } }: MessageEvent<ToBaker>) => {
  try {
    const volume = bakeVolume(mesh, undefined, (share) => answer({ key, share }));
    answer({ key, volume }, [volume.values.buffer]);
  } catch (error) {
    answer({ key, refused: { why: (error as Error).message, isOpen: error instanceof OpenMeshError } });
  }
};
