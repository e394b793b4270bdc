import { mipmapsOf } from '#core/numbers/mipmaps.ts';
import { CHANNELS } from '#core/images/image.ts';
import { readNumbers } from '#core/images/readNumbers.ts';
import type { Bits } from '#core/images/encodePicture.ts';
import type { Holds } from '#core/images/encodePng.ts';
import { toHeldHalf } from '#core/numbers/half.ts';

export interface ToLeveller {
  readonly ask: number;
  readonly address: string;
  readonly holds: Holds;
  /** As many bits a number as it is kept in: of more than 8, numbers are told as half floats. */
  readonly bits: Bits;
}
/** One level for the graphics card: four numbers a pixel, in rows from the foot. */
export interface Level {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array<ArrayBuffer> | Uint16Array<ArrayBuffer>;
}
export type FromLeveller = { readonly ask: number } & (
  { readonly levels: readonly Level[] } | { readonly refused: string }
);

const packed = (data: Float32Array, width: number, height: number, bits: Bits): Level['data'] => {
  const row = width * CHANNELS;
  const made = bits === 8 ? new Uint8Array(data.length) : new Uint16Array(data.length);
  for (let y = 0; y < height; y += 1)
    for (let i = 0; i < row; i += 1) {
      const x = data[(height - 1 - y) * row + i]!;
      made[y * row + i] = bits === 8 ? Math.round(x * 255) : toHeldHalf(x);
    }
  return made;
};

self.onmessage = async ({ data: { ask, address, holds, bits } }: MessageEvent<ToLeveller>) => {
  const answer = (message: FromLeveller, transfer: Transferable[] = []): void =>
    self.postMessage(message, { transfer });
  try {
    const found = await fetch(`${address}/numbers`);
    if (!found.ok) throw new Error('The picture is not kept here any more.');
    const levels = mipmapsOf(readNumbers(await found.arrayBuffer()), holds).map(
      ({ width, height, data }): Level => ({ width, height, data: packed(data, width, height, bits) }),
    );
    answer(
      { ask, levels },
      levels.map(({ data }) => data.buffer),
    );
  } catch (error) {
    answer({ ask, refused: (error as Error).message });
  }
};
