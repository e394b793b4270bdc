import { bakeVolume, type MeshNumbers } from './bakeVolume.ts';
import type { Volume } from '#core/meshes/volume.ts';

export interface ToBaker extends MeshNumbers {
  readonly key: string;
}
export type FromBaker = { readonly key: string } & (
  { readonly share: number } | { readonly volume: Volume } | { readonly refused: string }
);

const answer = (message: FromBaker, transfer: Transferable[] = []): void =>
  self.postMessage(message, { transfer });

self.onmessage = ({ data: { key, ...mesh } }: MessageEvent<ToBaker>) => {
  try {
    const volume = bakeVolume(mesh, undefined, (share) => answer({ key, share }));
    answer({ key, volume }, [volume.values.buffer]);
  } catch (error) {
    answer({ key, refused: (error as Error).message });
  }
};
