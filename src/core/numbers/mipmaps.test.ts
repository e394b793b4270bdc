import assert from 'node:assert/strict';
import { test } from 'node:test';
import { toSrgb } from './colour.ts';
import { mipmapsOf } from './mipmaps.ts';

const image = (width: number, height: number, pixels: readonly (readonly number[])[]) => ({
  ...{ width, height },
  data: Float32Array.from(pixels.flat()),
});
const near = (found: ArrayLike<number>, wanted: readonly number[]): void => {
  assert.equal(found.length, wanted.length);
  wanted.forEach((x, i) =>
    assert.ok(Math.abs(found[i]! - x) < 1e-6, `${[...Array.from(found)]} and ${wanted}`),
  );
};
const [WHITE, BLACK] = [
  [1, 1, 1, 1],
  [0, 0, 0, 1],
];

test('colours are averaged as light, numbers as they are, down to one pixel', () => {
  const board = image(4, 2, [WHITE!, BLACK!, WHITE!, BLACK!, BLACK!, WHITE!, BLACK!, WHITE!]);
  const sizes = (holds: 'color' | 'numbers') =>
    mipmapsOf(board, holds).map(({ width, height }) => [width, height]);
  assert.deepEqual(sizes('color'), [
    [4, 2],
    [2, 1],
    [1, 1],
  ]);
  const half = toSrgb(0.5);
  near(mipmapsOf(board, 'color')[1]!.data, [half, half, half, 1, half, half, half, 1]);
  near(mipmapsOf(board, 'color')[2]!.data, [half, half, half, 1]);
  near(mipmapsOf(board, 'numbers')[2]!.data, [0.5, 0.5, 0.5, 1]);
  assert.equal(mipmapsOf(board, 'color')[0], board);
});

test('what is seen through weighs as much as is there', () => {
  const cut = image(2, 1, [
    [1, 0, 0, 1],
    [0, 0, 0, 0],
  ]);
  near(mipmapsOf(cut, 'color')[1]!.data, [1, 0, 0, 0.5]);
  near(
    mipmapsOf(
      image(2, 1, [
        [1, 1, 1, 0],
        [0, 0, 0, 0],
      ]),
      'color',
    )[1]!.data,
    [0, 0, 0, 0],
  );
});

test('the mean of directions is one long, whatever lies before it', () => {
  const code = (x: number, y: number, z: number) => [x * 0.5 + 0.5, y * 0.5 + 0.5, z * 0.5 + 0.5, 1];
  const ways = image(2, 2, [code(1, 0, 0), code(0, 0, 1), code(0, 0, 1), code(1, 0, 0)]);
  near(mipmapsOf(ways, 'directions')[1]!.data, code(Math.SQRT1_2, 0, Math.SQRT1_2));
  // Not of the level before: three of four look up, and the mean of the four is not that of two means.
  const row = image(4, 1, [code(1, 0, 0), code(0, 0, 1), code(0, 0, 1), code(0, 0, 1)]);
  const long = Math.hypot(0.25, 0.75);
  near(mipmapsOf(row, 'directions')[2]!.data, code(0.25 / long, 0, 0.75 / long));
  near(mipmapsOf(image(2, 1, [code(1, 0, 0), code(-1, 0, 0)]), 'directions')[1]!.data, code(0, 0, 1));
});

test('of an odd number of pixels each counts as much as it is covered', () => {
  const grey = (x: number) => [x, x, x, 1];
  const row = image(5, 1, [0, 0.2, 0.4, 0.6, 0.8].map(grey));
  // Two and a half pixels each.
  const [a, b] = [(0 + 0.2 + 0.4 / 2) / 2.5, (0.4 / 2 + 0.6 + 0.8) / 2.5];
  near(mipmapsOf(row, 'numbers')[1]!.data, [...grey(a), ...grey(b)]);
  near(mipmapsOf(row, 'numbers')[2]!.data, grey(0.4));
});
