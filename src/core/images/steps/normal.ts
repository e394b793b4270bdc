import { declareStep } from '../declareStep.ts';
import { beyond, CHANNELS } from '../image.ts';
import {
  always,
  lightnessOf,
  minus,
  over,
  pixelFormula,
  plus,
  root,
  times,
  type Pair,
} from '../pixelCode.ts';

type Eight = readonly [Pair, Pair, Pair, Pair, Pair, Pair, Pair, Pair];

export const packed = (x: Pair): Pair => plus(times(x, always(0.5)), always(0.5));

/** A row, each of whose numbers is the one beside it. */
const besides = (row: Float32Array, by: -1 | 1, wraps: boolean): Float32Array => {
  const made = new Float32Array(row.length);
  if (by < 0) made.set(row.subarray(0, -1), 1);
  else made.set(row.subarray(1));
  const end = by < 0 ? 0 : row.length - 1;
  made[end] = row[beyond(end + by, row.length, wraps)]!;
  return made;
};

/** Of heights above, beside and below, each from left to right, and of how much the sides and the middle weigh, and x and y. */
const sloped = pixelFormula({ planes: 8, told: 4 }, ({ planes, told, keep }) => {
  const [a, up, b, left, right, c, down, d] = planes as Eight;
  const [side, middle, x, y] = told as readonly [Pair, Pair, Pair, Pair];
  const across = plus(times(side, minus(minus(plus(b, d), a), c)), times(middle, minus(right, left)));
  const downwards = plus(times(side, minus(minus(plus(c, d), a), b)), times(middle, minus(down, up)));
  const [nx, ny] = [keep(times(across, x)), keep(times(downwards, y))];
  const size = keep(root(plus(plus(times(nx, nx), times(ny, ny)), always(1))));
  return {
    ...{ r: packed(over(nx, size)), g: packed(over(ny, size)) },
    ...{ b: plus(over(always(0.5), size), always(0.5)), a: always(1) },
  };
});

export const normal = declareStep({
  name: 'normal',
  summary: 'Directions from a height: its slopes by Sobel’s or Scharr’s weights, packed into 0–1.',
  from: 'I. Sobel 1968; H. Scharr 2000',
  arguments: {
    depth: { kind: 'number', start: 4, least: -256, most: 256, unit: 'px', about: 'How high 1 is.' },
    by: {
      kind: 'choice',
      start: 'scharr',
      options: ['scharr', 'sobel'],
      about: 'How the neighbours are weighed.',
    },
    green: { kind: 'choice', start: 'up', options: ['up', 'down'], about: 'Which way y points.' },
  },
  reach: () => 1,
  make: ({ width, height, data }, given, { wraps }) => {
    const depth = given.pixels('depth');
    const [side, middle] = given.word('by') === 'scharr' ? [3 / 32, 10 / 32] : [1 / 8, 2 / 8];
    const sign = given.word('green') === 'up' ? 1 : -1;
    const heights = lightnessOf(data);
    const row = (y: number): readonly Float32Array[] => {
      const at = beyond(y, height, wraps[1]) * width;
      const middle = heights.subarray(at, at + width);
      return [besides(middle, -1, wraps[0]), middle, besides(middle, 1, wraps[0])];
    };
    const to = new Float32Array(data.length);
    // Rows run downwards, and y upwards.
    const told = [side, middle, -depth, depth * sign];
    let [above, here] = [row(-1), row(0)];
    for (let y = 0; y < height; y += 1) {
      const below = row(y + 1);
      const planes = [...above, here[0]!, here[2]!, ...below];
      sloped({ planes, told }, to.subarray(y * width * CHANNELS, (y + 1) * width * CHANNELS));
      [above, here] = [here, below];
    }
    return { width, height, data: to };
  },
});
