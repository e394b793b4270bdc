import { declareStep } from '../declareStep.ts';
import { drawn, luminance, type Image } from '../image.ts';

const JOINS: Readonly<Record<string, (a: number, b: number) => number>> = {
  mix: (_, b) => b,
  add: (a, b) => a + b,
  subtract: (a, b) => a - b,
  multiply: (a, b) => a * b,
  lightest: Math.max,
  darkest: Math.min,
  screen: (a, b) => 1 - (1 - a) * (1 - b),
  difference: (a, b) => Math.abs(a - b),
};

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
  make: (image, given, around) => {
    const other = around.beside(given.word('other'), image);
    const masked = given.word('mask');
    const mask = masked ? around.beside(masked, image) : null;
    const by = given.word('by');
    const join = JOINS[by]!;
    // What is opaque less what is opaque would be seen through, and twice as opaque would be the sum of both.
    const joined = by === 'mix' ? 4 : 3;
    const amount = given.number('amount');
    return drawn(image.width, image.height, (_x, _y, to, at) => {
      const share = amount * (mask ? luminance(mask.data[at]!, mask.data[at + 1]!, mask.data[at + 2]!) : 1);
      to[at + 3] = image.data[at + 3]!;
      for (let c = 0; c < joined; c += 1) {
        const a = image.data[at + c]!;
        to[at + c] = a * (1 - share) + join(a, other.data[at + c]!) * share;
      }
    });
  },
});

const FROM = ['red', 'green', 'blue', 'alpha', 'luminance'] as const;
/** One channel of a pixel, by name. */
const channelOf = ({ data }: Image, at: number, name: string): number => {
  const place = FROM.indexOf(name as (typeof FROM)[number]);
  return place < 4 ? data[at + place]! : luminance(data[at]!, data[at + 1]!, data[at + 2]!);
};

export const pack = declareStep({
  name: 'pack',
  summary: 'A channel of another texture in one of this one’s.',
  arguments: {
    into: {
      kind: 'choice',
      start: 'green',
      options: ['red', 'green', 'blue', 'alpha'],
      about: 'Which of this one’s.',
    },
    other: { kind: 'texture', about: 'Where it is from.' },
    from: { kind: 'choice', start: 'luminance', options: FROM, about: 'Which of its.' },
  },
  reach: () => 0,
  make: (image, given, around) => {
    const other = around.beside(given.word('other'), image);
    const into = FROM.indexOf(given.word('into') as (typeof FROM)[number]);
    const from = given.word('from');
    return drawn(image.width, image.height, (_x, _y, to, at) => {
      for (let c = 0; c < 4; c += 1) to[at + c] = image.data[at + c]!;
      to[at + into] = channelOf(other, at, from);
    });
  },
});

export const unpack = declareStep({
  name: 'unpack',
  summary: 'One of its channels, as grey.',
  arguments: { channel: { kind: 'choice', start: 'red', options: FROM, about: 'Which.' } },
  reach: () => 0,
  make: (image, given) => {
    const channel = given.word('channel');
    return drawn(image.width, image.height, (_x, _y, to, at) => {
      const value = channelOf(image, at, channel);
      to.set([value, value, value, 1], at);
    });
  },
});
