import { declareStep } from '../declareStep.ts';
import {
  absolute,
  always,
  greatest,
  least,
  lightness,
  minus,
  pixelFormula,
  plus,
  times,
  type Pair,
  type Pixels,
} from '../pixelCode.ts';

const JOINS: Readonly<Record<string, (a: Pair, b: Pair) => Pair>> = {
  mix: (_, b) => b,
  add: plus,
  subtract: minus,
  multiply: times,
  lightest: greatest,
  darkest: least,
  screen: (a, b) => minus(always(1), times(minus(always(1), a), minus(always(1), b))),
  difference: (a, b) => absolute(minus(a, b)),
};

/** One over the other, by the share that is told, or so much of it as a mask is light. */
const mixBy = (by: string, isMasked: boolean) =>
  pixelFormula({ pictures: isMasked ? 3 : 2, told: 1 }, ({ pictures, told, keep }) => {
    const [from, other, mask] = pictures as [Pixels, Pixels, Pixels | undefined];
    const share = mask ? keep(times(told[0]!, lightness(mask))) : told[0]!;
    const rest = keep(minus(always(1), share));
    const of = (a: Pair, b: Pair): Pair => plus(times(a, rest), times(JOINS[by]!(a, b), share));
    // What is opaque less what is opaque would be seen through, and twice as opaque would be the sum of both.
    const a = by === 'mix' ? of(from.a, other.a) : from.a;
    return { r: of(from.r, other.r), g: of(from.g, other.g), b: of(from.b, other.b), a };
  });

const MIXES = new Map(
  Object.keys(JOINS).map((by) => [by, { all: mixBy(by, false), masked: mixBy(by, true) }] as const),
);

export const mix = declareStep({
  name: 'mix',
  summary: 'Another texture over this one, by an amount, and by a mask where there is one.',
  arguments: {
    other: { kind: 'texture', about: 'What lies over it.' },
    by: {
      ...{
        kind: 'choice',
        start: 'mix',
        options: ['mix', 'add', 'subtract', 'multiply', 'lightest', 'darkest', 'screen', 'difference'],
      },
      about: 'What both colours come to. Alpha is mixed too, and by all the others stays as it is.',
    },
    amount: { kind: 'number', start: 0.5, least: 0, most: 1, about: 'How much of that.' },
    mask: {
      kind: 'texture',
      about: 'How much of the amount, by how light it is; everywhere, where none is told.',
    },
  },
  reach: () => 0,
  make: (image, given, { beside }) => {
    const { width, height, data } = image;
    const pictures = [data, beside(given.word('other'), image).data];
    const mask = given.word('mask');
    if (mask) pictures.push(beside(mask, image).data);
    const join = MIXES.get(given.word('by'))![mask ? 'masked' : 'all'];
    return { width, height, data: join({ pictures, told: [given.number('amount')] }) };
  },
});
