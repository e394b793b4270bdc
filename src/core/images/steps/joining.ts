import { declareStep } from '../declareStep.ts';
import { CHANNELS, drawnRows, luminance } from '../image.ts';

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
    const [from, over, shares] = [image.data, other.data, mask?.data];
    return drawnRows(image.width, image.height, (to, start) => {
      for (let at = start; at < start + image.width * CHANNELS; at += CHANNELS) {
        const share = amount * (shares ? luminance(shares[at]!, shares[at + 1]!, shares[at + 2]!) : 1);
        to[at + 3] = from[at + 3]!;
        for (let c = at; c < at + joined; c += 1) {
          const a = from[c]!;
          to[c] = a * (1 - share) + join(a, over[c]!) * share;
        }
      }
    });
  },
});

const FROM = ['red', 'green', 'blue', 'alpha', 'luminance'] as const;
const placeOf = (name: string): number => FROM.indexOf(name as (typeof FROM)[number]);
/** One channel of a pixel, by its place; what is beyond them is how light it is. */
const channelOf = (data: Float32Array, at: number, place: number): number =>
  place < 4 ? data[at + place]! : luminance(data[at]!, data[at + 1]!, data[at + 2]!);

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
    const into = placeOf(given.word('into'));
    const from = placeOf(given.word('from'));
    return drawnRows(image.width, image.height, (to, start) => {
      const end = start + image.width * CHANNELS;
      to.set(image.data.subarray(start, end), start);
      for (let at = start; at < end; at += CHANNELS) to[at + into] = channelOf(other.data, at, from);
    });
  },
});

export const unpack = declareStep({
  name: 'unpack',
  summary: 'One of its channels, as grey.',
  arguments: { channel: { kind: 'choice', start: 'red', options: FROM, about: 'Which.' } },
  reach: () => 0,
  make: (image, given) => {
    const channel = placeOf(given.word('channel'));
    return drawnRows(image.width, image.height, (to, start) => {
      for (let at = start; at < start + image.width * CHANNELS; at += CHANNELS) {
        to[at] = to[at + 1] = to[at + 2] = channelOf(image.data, at, channel);
        to[at + 3] = 1;
      }
    });
  },
});
