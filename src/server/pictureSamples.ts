import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { filled } from '#core/numbers/filled.ts';
import { floatTypeOf, readFloats } from './floatPictures.ts';

type Bytes = string | Uint8Array;
interface Samples<Kept> {
  readonly width: number;
  readonly height: number;
  readonly samples: Kept;
}

/**
 * Begins to read a picture as browsers do: what a camera held askew says of it in a JPEG or a PNG turns it upright. In a WebP they
 * leave it as it lies.
 */
const begun = async (picture: Bytes) => {
  const { depth, format } = await sharp(picture).metadata();
  const turns = format === 'jpeg' || format === 'png';
  return { deep: depth === 'ushort', read: turns ? sharp(picture).autoOrient() : sharp(picture) };
};

/**
 * Red, green, blue and alpha of each pixel of a picture, its bytes or its file, in rows from the top: 16 bits where it has
 * as many, else 8; of whatever colour space it is, as sRGB has it. Of OpenEXR and Radiance, floats as they are.
 */
export const pictureSamples = async (
  picture: Bytes,
): Promise<Samples<Uint8Array | Uint16Array | Float32Array>> => {
  const bytes = typeof picture === 'string' ? readFileSync(picture) : picture;
  if (floatTypeOf(bytes)) return readFloats(bytes);
  const { deep, read } = await begun(picture);
  const { data, info } = await read
    .toColourspace(deep ? 'rgb16' : 'srgb')
    .ensureAlpha()
    .raw({ depth: deep ? 'ushort' : 'uchar' })
    .toBuffer({ resolveWithObject: true });
  const { width, height } = info;
  return {
    ...{ width, height },
    samples: deep ? new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2) : data,
  };
};

/** More samples than this are made fewer: a mesh has no use for them. */
const MOST_HEIGHTS = 2048;

/** A picture’s first channel in 16 bits, unconverted. */
export const heightSamples = async (picture: Bytes): Promise<Samples<Uint16Array>> => {
  const { deep, read } = await begun(picture);
  const { data, info } = await read
    .toColourspace(deep ? 'rgb16' : 'srgb')
    .extractChannel(0)
    .resize(MOST_HEIGHTS, MOST_HEIGHTS, { fit: 'inside', withoutEnlargement: true })
    .raw({ depth: deep ? 'ushort' : 'uchar' })
    .toBuffer({ resolveWithObject: true });
  const { width, height } = info;
  return {
    ...{ width, height },
    samples: filled(new Uint16Array(width * height), (i) =>
      deep ? data.readUInt16LE(i * 2) : data[i]! * 257,
    ),
  };
};
