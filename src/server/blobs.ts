import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import sharp from 'sharp';
import { readGlb } from '#core/meshes/glb.ts';
import { toSrgb } from '#core/numbers/colour.ts';
import { filled } from '#core/numbers/filled.ts';
import { ApiError, notFound } from './errors.ts';
import { EXR, floatSizeOf, floatTypeOf, HDR, readFloats } from './floatPictures.ts';
import { heightSamples, pictureSamples } from './pictureSamples.ts';

/** Bytes of a picture or a mesh: a photograph as a camera has it, or 4096 × 4096 of chance in 16 bits of colour, are not yet so many. */
export const LARGEST_BLOB = 64 * 1024 * 1024;
export const MESH_TYPE = 'model/gltf-binary';

/** Pictures are known by their first bytes, not by what a request claims. */
const SIGNATURES: readonly (readonly [mediaType: string, test: (bytes: Uint8Array) => boolean])[] = [
  ['image/png', (b) => b[0] === 0x89 && b[1] === 0x50 && b[2] === 0x4e && b[3] === 0x47],
  ['image/jpeg', (b) => b[0] === 0xff && b[1] === 0xd8 && b[2] === 0xff],
  ['image/webp', (b) => String.fromCharCode(...b.subarray(0, 4), ...b.subarray(8, 12)) === 'RIFFWEBP'],
];

/** Pixels a picture may have: more than any texture a browser takes. */
const MOST_PIXELS = 8192 * 8192;

/** What a texture may have at most: sixteen bytes a pixel while it is read. */
const MOST_FLOATS = 4096 * 4096;

const damaged = (): ApiError =>
  new ApiError(422, 'invalid', 'This picture is damaged or cut short; it cannot be read to its end.');
const tooManyPixels = (width: number, height: number, most = MOST_PIXELS): ApiError =>
  new ApiError(
    422,
    'invalid',
    `The picture is ${width} × ${height} pixels; at most ${most / 1048576} million are taken, such as ${Math.sqrt(most)} × ${Math.sqrt(most)}.`,
  );

/** How many pictures a PNG that moves says it has (PNG, third edition, 11.3.6.2). */
const framesOfPng = (bytes: Uint8Array): number => {
  const all = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const [told, data] = [all.indexOf('acTL'), all.indexOf('IDAT')];
  return told > 0 && told < data ? all.readUInt32BE(told + 4) : 1;
};

/** Reads a picture through: its header first, then all of it. @throws ApiError 422 */
const checkPicture = async (bytes: Uint8Array): Promise<void> => {
  try {
    const { width = 0, height = 0, pages = 1 } = await sharp(bytes, { limitInputPixels: false }).metadata();
    if (width * height > MOST_PIXELS) throw tooManyPixels(width, height);
    const frames = Math.max(pages, framesOfPng(bytes));
    if (frames > 1)
      throw new ApiError(
        422,
        'invalid',
        `The picture moves: it has ${frames} frames, and a texture has one. Bring the one that is meant as a picture of its own.`,
      );
    await sharp(bytes, { failOn: 'truncated', sequentialRead: true }).stats();
  } catch (error) {
    if (error instanceof ApiError) throw error;
    throw damaged();
  }
};

const isMesh = (bytes: Uint8Array): boolean => String.fromCharCode(...bytes.subarray(0, 4)) === 'glTF';

/** @throws ApiError 413 */
const refuseLarge = (what: 'mesh' | 'picture', bytes: Uint8Array): void => {
  if (bytes.length > LARGEST_BLOB)
    throw new ApiError(413, 'too-large', `The ${what} is larger than ${LARGEST_BLOB / 1024 / 1024} MB.`);
};

/** Reads a mesh through, as the stage will. @throws ApiError 413 or 422 */
const checkMesh = (bytes: Uint8Array): void => {
  refuseLarge('mesh', bytes);
  try {
    readGlb(bytes);
  } catch (error) {
    throw new ApiError(422, 'invalid', (error as Error).message);
  }
};

/** Reads a picture of floats through, its header first. @throws ApiError 413 or 422 */
const checkFloats = (bytes: Uint8Array): void => {
  const size = floatSizeOf(bytes);
  if (!size)
    throw new ApiError(422, 'invalid', 'This picture does not say how large it is, or is not upright.');
  const [width, height] = size;
  const most = floatTypeOf(bytes) === EXR ? MOST_FLOATS : MOST_PIXELS;
  if (width * height > most) throw tooManyPixels(width, height, most);
  let read;
  try {
    read = readFloats(bytes);
  } catch {
    throw damaged();
  }
  // Rows that are not packed are taken as they come, however few they are.
  if (read.samples.length !== width * height * 4) throw damaged();
};

/** @throws ApiError 413 or 422 */
const typeOfPicture = async (bytes: Uint8Array): Promise<string> => {
  refuseLarge('picture', bytes);
  const floats = floatTypeOf(bytes);
  if (floats) {
    checkFloats(bytes);
    return floats;
  }
  const mediaType = SIGNATURES.find(([, test]) => test(bytes))?.[0];
  if (!mediaType)
    throw new ApiError(422, 'invalid', 'This is not a PNG, JPEG, WebP, OpenEXR or Radiance picture.');
  await checkPicture(bytes);
  return mediaType;
};

const isFloats = (mediaType: string): boolean => mediaType === HDR || mediaType === EXR;

/** A picture of floats as browsers can show it: light from 0 to 1, by sRGB’s curve, as PNG. Others as they are. */
export const shownBlob = async ({
  mediaType,
  bytes,
}: Awaited<ReturnType<typeof readBlob>>): Promise<Awaited<ReturnType<typeof readBlob>>> => {
  if (!isFloats(mediaType)) return { mediaType, bytes };
  const { width, height, samples } = readFloats(bytes);
  const shown = filled(new Uint8Array(samples.length), (i) => {
    const x = samples[i]!;
    const held = Math.min(Math.max(Number.isNaN(x) ? 0 : x, 0), 1);
    return Math.round((i % 4 === 3 ? held : toSrgb(held)) * 255);
  });
  const png = await sharp(shown, { raw: { width, height, channels: 4 } })
    .png()
    .toBuffer();
  return { mediaType: 'image/png', bytes: Buffer.from(png) };
};

export const shaOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Keeps a picture, or a mesh as a binary glTF. @throws ApiError 413 or 422 */
export const keepBlob = async (db: Knex, bytes: Uint8Array): Promise<{ readonly sha256: string }> => {
  if (isMesh(bytes)) checkMesh(bytes);
  const mediaType = isMesh(bytes) ? MESH_TYPE : await typeOfPicture(bytes);
  const sha256 = shaOf(bytes);
  await db('blobs')
    .insert({ sha256, media_type: mediaType, bytes: Buffer.from(bytes) })
    .onConflict('sha256')
    .merge({ created_at: db.fn.now() });
  return { sha256 };
};

/** Days a picture is kept that no part, and no revision of one, names. */
const KEPT_DAYS = 30;

/** Lets go of pictures that nothing names any more. */
export const pruneBlobs = (db: Knex): Promise<number> =>
  db('blobs')
    .whereRaw(`created_at < now() - interval '${KEPT_DAYS} days'`)
    .whereNotExists(
      db('part_revisions')
        .whereRaw("part_revisions.body::text like '%' || blobs.sha256 || '%'")
        .select('part_id'),
    )
    .delete();

/** @throws ApiError 404 */
export const readBlob = async (
  db: Knex,
  sha256: string,
): Promise<{ readonly mediaType: string; readonly bytes: Buffer<ArrayBuffer> }> => {
  if (!/^[0-9a-f]{64}$/.test(sha256)) throw notFound('This picture');
  const row = (await db('blobs').where({ sha256 }).first('media_type', 'bytes')) as
    { media_type: string; bytes: Buffer<ArrayBuffer> } | undefined;
  if (!row) throw notFound('This picture');
  return { mediaType: row.media_type, bytes: row.bytes };
};

/**
 * A picture's first channel as heights, whatever its bits, unconverted: width and height as 32-bit numbers, then 16-bit
 * samples in rows from the top, little-endian. @throws ApiError 404 or 422
 */
export const readHeights = async (db: Knex, sha256: string): Promise<Uint8Array<ArrayBuffer>> => {
  const { mediaType, bytes } = await readBlob(db, sha256);
  if (!SIGNATURES.some(([known]) => known === mediaType))
    throw new ApiError(422, 'invalid', 'Heights come from a PNG, JPEG or WebP picture.');
  const { width, height, samples } = await heightSamples(bytes);
  const made = new Uint8Array(8 + samples.length * 2);
  const view = new DataView(made.buffer);
  view.setUint32(0, width, true);
  view.setUint32(4, height, true);
  samples.forEach((x, i) => view.setUint16(8 + i * 2, x, true));
  return made;
};

/**
 * A picture as numbers, unconverted: width, height and bits as 32-bit numbers, then red, green, blue and alpha of each
 * pixel in rows from the top, little-endian. @throws ApiError 404 or 422
 */
export const readNumbers = async (db: Knex, sha256: string): Promise<Uint8Array<ArrayBuffer>> => {
  const { mediaType, bytes } = await readBlob(db, sha256);
  if (!isFloats(mediaType) && !SIGNATURES.some(([known]) => known === mediaType))
    throw new ApiError(422, 'invalid', 'Textures are made of PNG, JPEG, WebP, OpenEXR or Radiance pictures.');
  const { width, height, samples } = await pictureSamples(bytes);
  const made = new Uint8Array(12 + samples.byteLength);
  new Uint32Array(made.buffer, 0, 3).set([width, height, samples.BYTES_PER_ELEMENT * 8]);
  made.set(new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength), 12);
  return made;
};
