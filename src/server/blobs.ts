import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import { ApiError, notFound } from './errors.ts';

export const LARGEST_PICTURE = 4 * 1024 * 1024;

/** Pictures are known by their first bytes, not by what a request claims. */
const SIGNATURES: readonly (readonly [mediaType: string, test: (bytes: Uint8Array) => boolean])[] = [
  ['image/png', (b) => b[0] === 0x89 && b[1] === 0x50 && b[2] === 0x4e && b[3] === 0x47],
  ['image/jpeg', (b) => b[0] === 0xff && b[1] === 0xd8 && b[2] === 0xff],
  ['image/webp', (b) => String.fromCharCode(...b.subarray(0, 4), ...b.subarray(8, 12)) === 'RIFFWEBP'],
];

/** Keeps a picture. @throws ApiError 413 or 422 */
export const keepPicture = async (db: Knex, bytes: Uint8Array): Promise<{ readonly sha256: string }> => {
  if (bytes.length > LARGEST_PICTURE)
    throw new ApiError(413, 'too-large', `The picture is larger than ${LARGEST_PICTURE / 1024 / 1024} MB.`);
  const mediaType = SIGNATURES.find(([, test]) => test(bytes))?.[0];
  if (!mediaType) throw new ApiError(422, 'invalid', 'This is not a PNG, JPEG or WebP picture.');
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  await db('blobs')
    .insert({ sha256, media_type: mediaType, bytes: Buffer.from(bytes) })
    .onConflict('sha256')
    .ignore();
  return { sha256 };
};

/** @throws ApiError 404 */
export const readBlob = async (
  db: Knex,
  sha256: string,
): Promise<{ readonly mediaType: string; readonly bytes: Buffer<ArrayBuffer> }> => {
  const row = (await db('blobs').where({ sha256 }).first('media_type', 'bytes')) as
    { media_type: string; bytes: Buffer<ArrayBuffer> } | undefined;
  if (!row) throw notFound('This picture');
  return { mediaType: row.media_type, bytes: row.bytes };
};
