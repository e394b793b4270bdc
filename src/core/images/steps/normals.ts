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
  whereAtLeast,
  type Pair,
  type Pixels,
  type Written,
} from '../pixelCode.ts';

type Three = readonly [Pair, Pair, Pair];
type Eight = readonly [Pair, Pair, Pair, Pair, Pair, Pair, Pair, Pair];

const half = (x: Pair): Pair => over(x, always(2));
const negative = (x: Pair): Pair => times(x, always(-1));
const packed = (x: Pair): Pair => plus(times(x, always(0.5)), always(0.5));
const unpacked = (x: Pair): Pair => minus(times(x, always(2)), always(1));
const directionOf = ({ r, g, b }: Pixels): Three => [unpacked(r), unpacked(g), unpacked(b)];
/** Made as long as 1; what has no length stays. */
const unit = (v: Three, keep: Written['keep']): Three => {
  const [x, y, z] = [keep(v[0]), keep(v[1]), keep(v[2])];
  const long = keep(root(plus(plus(times(x, x), times(y, y)), times(z, z))));
  const size = keep(whereAtLeast(long, always(Number.MIN_VALUE), long, always(1)));
  return [keep(over(x, size)), keep(over(y, size)), keep(over(z, size))];
};

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

/** Ways of joining a detail’s normal to a base’s, both as unit vectors; S. Hill and C. Barré-Brisebois, Blending in Detail, 2012. */
const WAYS: Readonly<Record<string, (base: Three, detail: Three, keep: Written['keep']) => Three>> = {
  mix: (a, b) => [half(plus(a[0], b[0])), half(plus(a[1], b[1])), half(plus(a[2], b[2]))],
  add: (a, b) => [plus(a[0], b[0]), plus(a[1], b[1]), minus(plus(a[2], b[2]), always(1))],
  // The detail in the frame that the base spans: from z to it, the shorter way.
  basis: (a, b, keep) => {
    const t = unit([a[2], always(0), negative(a[0])], keep);
    const cross = (i: 0 | 1 | 2, k: 0 | 1 | 2): Pair => keep(minus(times(a[i], t[k]), times(a[k], t[i])));
    const s: Three = [cross(1, 2), cross(2, 0), cross(0, 1)];
    const along = (c: 0 | 1 | 2): Pair => plus(plus(times(t[c], b[0]), times(s[c], b[1])), times(a[c], b[2]));
    return [along(0), along(1), along(2)];
  },
  reoriented: (a, b, keep) => {
    const t: Three = [a[0], a[1], keep(plus(a[2], always(1)))];
    const u: Three = [negative(b[0]), negative(b[1]), b[2]];
    const along = keep(over(plus(plus(times(t[0], u[0]), times(t[1], u[1])), times(t[2], u[2])), t[2]));
    const of = (c: 0 | 1 | 2): Pair => minus(times(t[c], along), u[c]);
    return [of(0), of(1), of(2)];
  },
  whiteout: (a, b) => [plus(a[0], b[0]), plus(a[1], b[1]), times(a[2], b[2])],
  baseZ: (a, b) => [plus(a[0], b[0]), plus(a[1], b[1]), a[2]],
  flatZ: (a, b) => [plus(a[0], b[0]), plus(a[1], b[1]), always(1)],
};
const JOINED = new Map(
  Object.entries(WAYS).map(([by, join]) => {
    const formula = pixelFormula({ pictures: 2, told: 2 }, ({ pictures, told, keep }) => {
      const [base, other] = pictures as readonly [Pixels, Pixels];
      const [amount, most] = told as readonly [Pair, Pair];
      const [x, y, z] = unit(directionOf(other), keep);
      const detail: Three = [
        ...([times(x, amount), times(y, amount)] as const),
        plus(always(1), times(minus(z, always(1)), most)),
      ];
      const made = join(unit(directionOf(base), keep), unit(detail, keep), keep);
      const [r, g, b] = unit(made, keep).map(packed) as unknown as Three;
      return { r, g, b, a: base.a };
    });
    return [by, formula] as const;
  }),
);

export const combineNormals = declareStep({
  name: 'combineNormals',
  summary: 'Another texture’s directions laid over these.',
  from: 'S. Hill and C. Barré-Brisebois, Blending in Detail, 2012',
  arguments: {
    detail: { kind: 'texture', about: 'The finer directions.' },
    by: {
      ...{
        kind: 'choice',
        start: 'reoriented',
        options: ['reoriented', 'whiteout', 'basis', 'baseZ', 'flatZ', 'add', 'mix'],
      },
      about: 'How both are joined.',
    },
    amount: {
      kind: 'number',
      start: 1,
      least: -4,
      most: 4,
      about: 'Of the detail; below 0 it is turned in.',
    },
  },
  reach: () => 0,
  make: (image, given, { beside }) => {
    const other = beside(given.word('detail'), image);
    const amount = given.number('amount');
    const join = JOINED.get(given.word('by'))!;
    const told = [amount, Math.min(Math.abs(amount), 1)];
    return { ...image, data: join({ pictures: [image.data, other.data], told }) };
  },
});
