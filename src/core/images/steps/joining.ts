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

const FROM = ['red', 'green', 'blue', 'alpha', 'luminance'] as const;
const INTO = ['red', 'green', 'blue', 'alpha'] as const;
/** One number of each pixel, by its name. */
const channelOf = (pixel: Pixels, name: (typeof FROM)[number]): Pair => {
  const { r, g, b, a } = pixel;
  return { red: r, green: g, blue: b, alpha: a, luminance: lightness(pixel) }[name];
};

const PACKED = new Map(
  INTO.flatMap((into, c) =>
    FROM.map((from) => {
      const formula = pixelFormula({ pictures: 2 }, ({ pictures, keep }) => {
        const [own, other] = pictures as readonly [Pixels, Pixels];
        const [r, g, b, a] = [own.r, own.g, own.b, own.a].with(c, keep(channelOf(other, from)));
        return { r: r!, g: g!, b: b!, a: a! };
      });
      return [`${into} ${from}` as string, formula] as const;
    }),
  ),
);

export const pack = declareStep({
  name: 'pack',
  summary: 'A channel of another texture in one of this one’s.',
  arguments: {
    into: {
      kind: 'choice',
      start: 'green',
      options: INTO,
      about: 'Which of this one’s.',
    },
    other: { kind: 'texture', about: 'Where it is from.' },
    from: { kind: 'choice', start: 'luminance', options: FROM, about: 'Which of its.' },
  },
  reach: () => 0,
  make: (image, given, { beside }) => {
    const { width, height, data } = image;
    const pictures = [data, beside(given.word('other'), image).data];
    const formula = PACKED.get(`${given.word('into')} ${given.word('from')}`)!;
    return { width, height, data: formula({ pictures }) };
  },
});

const UNPACKED = new Map(
  FROM.map((name) => {
    const formula = pixelFormula({ pictures: 1 }, ({ pictures: [pixel], keep }) => {
      const x = keep(channelOf(pixel!, name));
      return { r: x, g: x, b: x, a: always(1) };
    });
    return [name as string, formula] as const;
  }),
);

export const unpack = declareStep({
  name: 'unpack',
  summary: 'One of its channels, as grey.',
  arguments: { channel: { kind: 'choice', start: 'red', options: FROM, about: 'Which.' } },
  reach: () => 0,
  make: ({ width, height, data }, given) => ({
    ...{ width, height },
    data: UNPACKED.get(given.word('channel'))!({ pictures: [data] }),
  }),
});
