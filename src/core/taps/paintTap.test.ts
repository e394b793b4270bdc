import assert from 'node:assert/strict';
import { test } from 'node:test';
import { measureTap, UNCOVERED } from './measureTap.ts';
import { paintTap } from './paintTap.ts';

const OXBLOOD = [138, 31, 27, 255];
const NOTHING = [UNCOVERED * 1.1, 0, 0, 0];

/** A square of pixels written from the top row down, as the renderer gives them: from the bottom up. */
const rendered = (...rows: readonly (readonly (readonly number[])[])[]): Float32Array =>
  Float32Array.from([...rows].reverse().flat(2));
const pixels = (bytes: Uint8ClampedArray): number[][] =>
  Array.from({ length: bytes.length / 4 }, (_, i) => [...bytes.slice(i * 4, i * 4 + 4)]);

test('a number is painted as the grey it is, the bottom row last, and what is uncovered stays clear', () => {
  const picture = rendered(
    [
      [0, 0, 0, 0],
      [1, 0, 0, 0],
    ],
    [NOTHING, [0.5, 0, 0, 0]],
  );
  const [a, b, c, d] = pixels(paintTap(picture, 1, 2));
  assert.deepEqual(a, [0, 0, 0, 255]);
  assert.deepEqual(b, [255, 255, 255, 255]);
  assert.deepEqual(c, [0, 0, 0, 0]);
  assert.deepEqual(d, [128, 128, 128, 255]);
});

test('two numbers are red and green as they are, three a colour on the sRGB curve', () => {
  const pair = pixels(paintTap(Float32Array.from([0.5, 0.25, 0.9, 0]), 2, 1))[0];
  assert.deepEqual(pair, [128, 64, 0, 255]);
  const colour = pixels(paintTap(Float32Array.from([0.5, 0.0031308, 1, 0]), 3, 1))[0];
  assert.deepEqual(colour, [188, 10, 255, 255]);
});

test('what leaves 0–1 is striped, within a rounding it is not, and what is no number is chequered', () => {
  const square = (x: number) => paintTap(new Float32Array(8 * 8 * 4).fill(x), 1, 8);
  const marked = (bytes: Uint8ClampedArray) =>
    pixels(bytes).filter((each) => each.join() === OXBLOOD.join()).length;
  for (const x of [1.5, -0.5]) {
    const share = marked(square(x)) / 64;
    assert.ok(share > 0.4 && share < 0.6, `${x}: ${share}`);
  }
  // Below 0 they rise, above 1 they fall: the next row’s begin a pixel to the left, or to the right.
  const row = (x: number, y: number) =>
    pixels(square(x))
      .slice(y * 8, y * 8 + 6)
      .map((each) => each.join() === OXBLOOD.join());
  assert.deepEqual(row(-0.5, 1), [...row(-0.5, 0).slice(1), row(-0.5, 0)[0]]);
  assert.deepEqual(row(1.5, 1), [row(1.5, 0)[5], ...row(1.5, 0).slice(0, 5)]);
  assert.equal(marked(square(1 + 5e-7)), 0);
  for (const x of [NaN, Infinity]) {
    const bytes = square(x);
    assert.equal(marked(bytes), 32);
    assert.equal(pixels(bytes).filter((each) => each.join() === '0,0,0,255').length, 32);
  }
});

test('a range is measured over what is covered, and what is no number is counted apart', () => {
  const picture = Float32Array.from([...NOTHING, 0.25, -2, 9, 9, NaN, 0.5, 9, 9, 1, 3, 9, 9]);
  assert.deepEqual(measureTap(picture, 2), { least: -2, greatest: 3, notNumbers: 1, covered: 3 });
  assert.deepEqual(measureTap(Float32Array.from(NOTHING), 1), {
    ...{ least: Infinity, greatest: -Infinity, notNumbers: 0, covered: 0 },
  });
});
