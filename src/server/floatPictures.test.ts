import assert from 'node:assert/strict';
import { test } from 'node:test';
import { zlibSync } from 'fflate';
import { FloatType } from 'three';
import { EXRLoader } from 'three/addons/loaders/EXRLoader.js';
import { floatSizeOf, floatTypeOf, readFloats } from './floatPictures.ts';
import { encodeExr } from '#core/images/encodeExr.ts';

const picture = (width: number, height: number, alpha: boolean) => ({
  ...{ width, height },
  // What no eight bits have: below 0, above 1, tiny and huge.
  data: Float32Array.from({ length: width * height * 4 }, (_, i) =>
    i % 4 === 3 ? (alpha ? (i % 8) / 8 : 1) : Math.fround(Math.sin(i * 12.9898) * 10 ** ((i % 7) - 3)),
  ),
});

test('a picture of floats is read back bit for bit by another’s reader, rows and all', () => {
  for (const [width, height, alpha] of [
    [5, 3, false],
    [7, 37, true],
    [64, 16, false],
    [1, 1, true],
  ] as const) {
    const made = picture(width, height, alpha);
    const bytes = encodeExr(made, zlibSync, 'numbers');
    assert.equal(floatTypeOf(bytes), 'image/x-exr');
    assert.deepEqual(floatSizeOf(bytes), [width, height]);
    const { samples, ...size } = readFloats(bytes);
    assert.deepEqual(size, { width, height });
    assert.deepEqual(samples, made.data, `${width} × ${height}`);
    assert.deepEqual(encodeExr(made, zlibSync, 'numbers'), bytes, 'the same bytes again');
  }
  const flat = { width: 256, height: 64, data: new Float32Array(256 * 64 * 4).fill(0.25) };
  assert.ok(encodeExr(flat, zlibSync).length < 256 * 64, 'what is even is packed');
  assert.throws(() => readFloats(encodeExr(picture(64, 64, false), zlibSync).subarray(0, 900)));
});

test('colours are multiplied by alpha in an OpenEXR file, as others expect, and are straight once it is read', () => {
  const made = { width: 2, height: 1, data: Float32Array.of(0.5, 1, 4, 0.25, 0.5, 1, 4, 1) };
  const raw = (bytes: Uint8Array): number[] => {
    const { data } = new EXRLoader().setDataType(FloatType).parse(new Uint8Array(bytes).buffer) as never as {
      data: Float32Array;
    };
    return [...data];
  };
  const file = encodeExr(made, zlibSync);
  assert.deepEqual(raw(file), [0.125, 0.25, 1, 0.25, 0.5, 1, 4, 1]);
  assert.deepEqual(readFloats(file).samples, made.data);
  // Where alpha is a number of its own, it leaves the others alone.
  assert.deepEqual(raw(encodeExr(made, zlibSync, 'numbers')), [...made.data]);
});

/** A Radiance picture of one colour, its scanlines as runs or as they are. */
const radiance = (width: number, height: number, packed: boolean): Buffer => {
  const pixel = [128, 64, 32, 130];
  const row = packed
    ? [2, 2, width >> 8, width & 255, ...pixel.flatMap((x) => [128 + width, x])]
    : Array.from({ length: width }, () => pixel).flat();
  const rows = Array.from({ length: height }, () => row).flat();
  return Buffer.concat([
    Buffer.from(`#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y ${height} +X ${width}\n`),
    Buffer.from(rows),
  ]);
};

test('a picture of floats that ends before its last pixel, or whose blocks lie elsewhere, is refused', () => {
  for (const packed of [true, false]) {
    const whole = radiance(16, 4, packed);
    assert.deepEqual(
      [...readFloats(whole).samples.slice(0, 3)].map((x) => Math.round(x * 8) / 8),
      [2, 1, 0.5],
    );
    for (const left of [1, 2, 40])
      assert.throws(() => readFloats(whole.subarray(0, whole.length - left)), /cut/);
  }
  const exr = Buffer.from(encodeExr(picture(8, 40, false), zlibSync));
  // The table of where its three blocks are stands right before the first, which begins with row 0.
  const table = (() => {
    for (let at = 8; ; at += 1) if (exr.readBigUInt64LE(at) === BigInt(at + 24)) return at;
  })();
  for (const wild of [2 ** 40, 4, exr.length - 2]) {
    const copy = Buffer.from(exr);
    copy.writeBigUInt64LE(BigInt(wild), table + 8);
    assert.throws(() => readFloats(copy), /cut short/, String(wild));
  }
});
