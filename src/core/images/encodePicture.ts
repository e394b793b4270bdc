import { encodeExr } from './encodeExr.ts';
import { encodePng, type Holds } from './encodePng.ts';
import type { Image } from './image.ts';

/** How finely a texture is kept: whole numbers of 8 or 16 bits from 0 to 1, or floats of 32, whatever they are. */
export const BITS = [8, 16, 32] as const;
export type Bits = (typeof BITS)[number];

/** What a texture's document says of that; 8 where it says nothing. */
export const bitsOf = (told: number | undefined): Bits => BITS.find((each) => each === told) ?? 8;

/** The ending of the files that textures are kept in. */
export const endingOf = (bits: Bits): 'png' | 'exr' => (bits === 32 ? 'exr' : 'png');

/** What a texture is kept as: floats of light or numbers as OpenEXR, else PNG. The same picture always gives the same bytes. */
export const encodePicture = (
  image: Image,
  { holds, bits }: { readonly holds: Holds; readonly bits: Bits },
  pack: (bytes: Uint8Array) => Uint8Array,
): Uint8Array<ArrayBuffer> =>
  bits === 32 ? encodeExr(image, pack) : encodePng(image, { holds, bits }, pack);
