import { encodeExr } from './encodeExr.ts';
import { encodePng, type Holds } from './encodePng.ts';
import type { Image } from './image.ts';
import { coloursReach, lossIn } from './lossIn.ts';
import { gathered, type Rows } from './rows.ts';
import { createSeamSum, type Seam } from './seams.ts';
import { furthest, type Reach } from '../numbers/reach.ts';

/** How finely a texture is kept: whole numbers of 8 or 16 bits from 0 to 1, or floats of 32, whatever they are. */
export const BITS = [8, 16, 32] as const;
export type Bits = (typeof BITS)[number];

/** What a texture's document says of that; 8 where it says nothing. */
export const bitsOf = (told: number | undefined): Bits => BITS.find((each) => each === told) ?? 8;

/** A texture as a file, and what is to be said of it. */
export interface Encoded {
  readonly file: Uint8Array<ArrayBuffer>;
  readonly seam: Seam;
  /** What of it was lost, in sentences. */
  readonly loss: string | null;
}

/** The ending of the files that textures are kept in. */
export const endingOf = (bits: Bits): 'png' | 'exr' => (bits === 32 ? 'exr' : 'png');

/**
 * What a texture is kept as: floats of light or numbers as OpenEXR, else PNG. The same picture always gives the same bytes.
 * @param pack writes bytes as a zlib stream, always the same way
 */
export const encodePicture = (
  rows: Rows,
  { holds, bits }: { readonly holds: Holds; readonly bits: Bits },
  pack: (bytes: Uint8Array) => Uint8Array,
): Encoded => {
  const seams = createSeamSum(rows);
  const reaches: Reach[] = [];
  const see = (band: Image): void => {
    seams.add(band);
    reaches.push(coloursReach(band));
  };
  const floats = (): Uint8Array<ArrayBuffer> => {
    const whole = gathered(rows);
    see(whole);
    return encodeExr(whole, pack, holds === 'color' ? 'coverage' : 'numbers');
  };
  const file = bits === 32 ? floats() : encodePng(rows, { holds, bits }, pack, see);
  return { file, seam: seams.seam(), loss: lossIn(furthest(reaches), bits) };
};
