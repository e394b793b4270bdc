import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import sharp from 'sharp';
import { ApiError, notFound } from './errors.ts';
import { EXR, floatSizeOf, floatTypeOf, HDR } from './floatPictures.ts';
import { createGate, type Numbers } from './gate.ts';
import { runJob } from './jobs/threads.ts';
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

/** What a picture of floats may have at most: sixteen bytes a pixel while it is read. */
const MOST_FLOATS = 8192 * 4096;

const damaged = (): ApiError =>
  new ApiError(422, 'invalid', 'This picture is damaged or cut short; it cannot be read to its end.');
const tooManyPixels = (width: number, height: number, most = MOST_PIXELS): ApiError =>
  new ApiError(
    422,
    'invalid',
    `The picture is ${width} × ${height} pixels; at most ${most / 1048576} million are taken, such as ${Math.sqrt(most) % 1 ? '8192 × 4096' : `${Math.sqrt(most)} × ${Math.sqrt(most)}`}.`,
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

const SHA = /^[0-9a-f]{64}$/;
const isMesh = (bytes: Uint8Array): boolean => String.fromCharCode(...bytes.subarray(0, 4)) === 'glTF';

/** @throws ApiError 413 */
const refuseLarge = (what: 'mesh' | 'picture', bytes: Uint8Array): void => {
  if (bytes.length > LARGEST_BLOB)
    throw new ApiError(413, 'too-large', `The ${what} is larger than ${LARGEST_BLOB / 1024 / 1024} MB.`);
};

/** Refuses a picture of floats by its header. @throws ApiError 422 */
const checkFloatHeader = (bytes: Uint8Array): void => {
  const size = floatSizeOf(bytes);
  if (!size)
    throw new ApiError(422, 'invalid', 'This picture does not say how large it is, or is not upright.');
  const [width, height] = size;
  if (width * height > MOST_FLOATS) throw tooManyPixels(width, height, MOST_FLOATS);
};

/** What a file is, read through to its end: in a thread where that could take long. @throws ApiError 413 or 422 */
const readThrough = async (
  bytes: Uint8Array,
): Promise<{ readonly mediaType: string; readonly shown?: Buffer }> => {
  if (isMesh(bytes)) {
    refuseLarge('mesh', bytes);
    await runJob('checkMesh', bytes);
    return { mediaType: MESH_TYPE };
  }
  refuseLarge('picture', bytes);
  const floats = floatTypeOf(bytes);
  if (floats) {
    checkFloatHeader(bytes);
    return { mediaType: floats, shown: Buffer.from(await runJob('showFloats', bytes)) };
  }
  const mediaType = SIGNATURES.find(([, test]) => test(bytes))?.[0];
  if (!mediaType)
    throw new ApiError(422, 'invalid', 'This is not a PNG, JPEG, WebP, OpenEXR or Radiance picture.');
  await checkPicture(bytes);
  return { mediaType };
};

const isFloats = (mediaType: string): boolean => mediaType === HDR || mediaType === EXR;

/**
 * A picture as pages can show it: of floats the PNG that was made when it was brought, others as they are.
 * @throws ApiError 404
 */
export const shownBlob = async (db: Knex, sha256: string): Promise<Blob> => {
  const row = SHA.test(sha256)
    ? ((await db('blobs').where({ sha256 }).first('media_type', 'shown')) as
        { media_type: string; shown: Buffer<ArrayBuffer> | null } | undefined)
    : undefined;
  if (!row) throw notFound('This picture');
  if (!isFloats(row.media_type)) return readBlob(db, sha256);
  if (row.shown) return { mediaType: 'image/png', bytes: row.shown };
  // One that was kept before small pictures were.
  const { bytes } = await readBlob(db, sha256);
  const shown = Buffer.from(await runJob('showFloats', bytes));
  await db('blobs').where({ sha256 }).update({ shown });
  return { mediaType: 'image/png', bytes: shown };
};

export const shaOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Keeps a picture, or a mesh as a binary glTF. @throws ApiError 413 or 422 */
export const keepBlob = async (db: Knex, bytes: Uint8Array): Promise<{ readonly sha256: string }> => {
  const { mediaType, shown = null } = await readThrough(bytes);
  const sha256 = shaOf(bytes);
  await db('blobs')
    .insert({ sha256, media_type: mediaType, bytes: Buffer.from(bytes), shown })
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

export interface Blob {
  readonly mediaType: string;
  readonly bytes: Buffer<ArrayBuffer>;
}
/** What is kept under a SHA-256; null where nothing is. */
export const findBlob = async (db: Knex, sha256: string): Promise<Blob | null> => {
  if (!SHA.test(sha256)) return null;
  const row = (await db('blobs').where({ sha256 }).first('media_type', 'bytes')) as
    { media_type: string; bytes: Buffer<ArrayBuffer> } | undefined;
  return row ? { mediaType: row.media_type, bytes: row.bytes } : null;
};

/** @throws ApiError 404 */
export const readBlob = async (db: Knex, sha256: string): Promise<Blob> => {
  const found = await findBlob(db, sha256);
  if (!found) throw notFound('This picture');
  return found;
};

/** Pictures read as numbers at the same time, each up to half a gigabyte; others wait their turn. */
const readings = createGate(2, 50);

/**
 * A picture's first channel as heights, whatever its bits, unconverted: width and height as 32-bit numbers, then 16-bit
 * samples in rows from the top, little-endian. @throws ApiError 404, 422 or 503
 */
export const readHeights = async (db: Knex, sha256: string): Promise<Numbers> => {
  const { mediaType, bytes } = await readBlob(db, sha256);
  if (!SIGNATURES.some(([known]) => known === mediaType))
    throw new ApiError(422, 'invalid', 'Heights come from a PNG, JPEG or WebP picture.');
  return readings(async () => {
    const { width, height, samples } = await heightSamples(bytes);
    return [new Uint8Array(Uint32Array.of(width, height).buffer), bytesOf(samples)];
  });
};

/**
 * A picture as numbers, unconverted: width, height and bits as 32-bit numbers, then red, green, blue and alpha of each
 * pixel in rows from the top, little-endian. @throws ApiError 404, 422 or 503
 */
export const readNumbers = async (db: Knex, sha256: string): Promise<Numbers> => {
  const { mediaType, bytes } = await readBlob(db, sha256);
  if (!isFloats(mediaType) && !SIGNATURES.some(([known]) => known === mediaType))
    throw new ApiError(422, 'invalid', 'Textures are made of PNG, JPEG, WebP, OpenEXR or Radiance pictures.');
  return readings(async () => {
    const { width, height, samples } = isFloats(mediaType)
      ? await runJob('readFloats', bytes)
      : await pictureSamples(bytes);
    const head = Uint32Array.of(width, height, samples.BYTES_PER_ELEMENT * 8);
    return [new Uint8Array(head.buffer), bytesOf(samples)];
  });
};

const bytesOf = ({ buffer, byteOffset, byteLength }: ArrayBufferView): Uint8Array =>
  new Uint8Array(buffer, byteOffset, byteLength);
