import { declareStep } from '../declareStep.ts';
import {
  always,
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
import { packed } from './normal.ts';

type Three = readonly [Pair, Pair, Pair];

const half = (x: Pair): Pair => over(x, always(2));

const negative = (x: Pair): Pair => times(x, always(-1));

const unpacked = (x: Pair): Pair => minus(times(x, always(2)), always(1));

const directionOf = ({ r, g, b }: Pixels): Three => [unpacked(r), unpacked(g), unpacked(b)];

/** Made as long as 1; what has no length stays. */
const unit = (v: Three, keep: Written['keep']): Three => {
  const [x, y, z] = [keep(v[0]), keep(v[1]), keep(v[2])];
  const long = keep(root(plus(plus(times(x, x), times(y, y)), times(z, z))));
  const size = keep(whereAtLeast(long, always(Number.MIN_VALUE), long, always(1)));
  return [keep(over(x, size)), keep(over(y, size)), keep(over(z, size))];
};

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
