import assert from 'node:assert/strict';
import { test } from 'node:test';
import { crc32 } from 'node:zlib';
import type { Knex } from 'knex';
import sharp from 'sharp';
import { keepBlob, LARGEST_BLOB } from './blobs.ts';

/** Tells of what is kept, without a database. */
const keeping = () => {
  const kept: string[] = [];
  const insert = ({ media_type: type }: { media_type: string }) => {
    kept.push(type);
    return { onConflict: () => ({ merge: () => Promise.resolve() }) };
  };
  const db = Object.assign(() => ({ insert }), { fn: { now: () => '' } }) as unknown as Knex;
  return { kept, keep: (bytes: Uint8Array) => keepBlob(db, bytes) };
};
const grey = (width: number, height: number, channels: 3 | 4 = 3) =>
  sharp({ create: { width, height, channels, background: { r: 128, g: 128, b: 128, alpha: 0 } } });
/** A PNG whose header says that it is of another size. */
const saying = async (width: number, height: number): Promise<Buffer> => {
  const bytes = await grey(1, 1).png().toBuffer();
  bytes.writeUInt32BE(width, 16);
  bytes.writeUInt32BE(height, 20);
  bytes.writeUInt32BE(crc32(bytes.subarray(12, 29)), 29);
  return bytes;
};
const chunk = (type: string, data: readonly number[]): Buffer => {
  const bytes = Buffer.alloc(12 + data.length);
  bytes.writeUInt32BE(data.length, 0);
  bytes.write(type, 4, 'latin1');
  bytes.set(data, 8);
  bytes.writeUInt32BE(crc32(bytes.subarray(4, 8 + data.length)), 8 + data.length);
  return bytes;
};

test('pictures of every kind that is told are kept, however odd, by what they are and not by what they are called', async () => {
  const { kept, keep } = keeping();
  await keep(await grey(1, 1).png().toBuffer());
  await keep(await grey(8, 8, 4).png().toBuffer());
  await keep(await grey(16, 16).toColourspace('cmyk').jpeg().toBuffer());
  // More than a photograph: chance, which nothing makes smaller.
  const large = Uint8Array.from(
    { length: 1400 * 1400 * 3 },
    (_, i) => Math.imul(i ^ (i >>> 9), 0x9e3779b1) >>> 24,
  );
  const raw = { width: 1400, height: 1400, channels: 3 } as const;
  await keep(await sharp(large, { raw }).png().toBuffer());
  assert.deepEqual(kept, ['image/png', 'image/png', 'image/jpeg', 'image/png']);
});

test('what is too large, cut short or no picture is refused in a sentence that says which', async () => {
  const { kept, keep } = keeping();
  // Frames that differ: like ones are joined.
  const frames = sharp(
    Uint8Array.from({ length: 8 * 24 * 3 }, (_, i) => i),
    {
      raw: { width: 8, height: 24, channels: 3, pageHeight: 8 },
    },
  );
  const png = await grey(2, 2).png().toBuffer();
  const moves = Buffer.concat([
    png.subarray(0, 33),
    chunk('acTL', [0, 0, 0, 5, 0, 0, 0, 0]),
    png.subarray(33),
  ]);
  const jpeg = await grey(64, 64).jpeg().toBuffer();
  for (const [bytes, said] of [
    [await saying(16384, 16384), /The picture is 16384 × 16384 pixels; at most 64 million are taken/],
    [await saying(200000, 400), /The picture is 200000 × 400 pixels/],
    [await saying(8000, 8000), /damaged or cut short/],
    [jpeg.subarray(0, -40), /damaged or cut short/],
    [await frames.webp({ delay: [50, 50, 50] }).toBuffer(), /The picture moves: it has 3 frames/],
    [moves, /The picture moves: it has 5 frames/],
    [Buffer.from('GIF89a…'), /This is not a PNG, JPEG, WebP, OpenEXR or Radiance picture/],
    [Buffer.alloc(0), /This is not a PNG/],
    [new Uint8Array(LARGEST_BLOB + 1), /The picture is larger than 64 MB/],
  ] as const)
    await assert.rejects(keep(bytes), said);
  assert.deepEqual(kept, []);
});
