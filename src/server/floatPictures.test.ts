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
