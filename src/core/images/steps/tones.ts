import { curveOver, gradientInto } from '../../numbers/curve.ts';
import { declareStep } from '../declareStep.ts';
import { CHANNELS, drawnRows, luminance, mapped } from '../image.ts';

const held = (x: number): number => Math.min(Math.max(x, 0), 1);

export const grey = declareStep({
  name: 'grey',
  summary: 'One number a pixel, in place of three.',
  arguments: {
    by: {
      ...{
        kind: 'choice',
        start: 'luminance',
        options: ['luminance', 'mean', 'red', 'green', 'blue', 'alpha'],
      },
      about: 'How light it is (Rec. 709, in linear light), the mean of the three, or one of them.',
    },
  },
  reach: () => 0,
  make: ({ width, height, data }, given) => {
    const by = given.word('by');
    const channel = ['red', 'green', 'blue', 'alpha'].indexOf(by);
    const isMean = by === 'mean';
    return drawnRows(width, height, (to, start) => {
      for (let at = start; at < start + width * CHANNELS; at += CHANNELS) {
        const [r, g, b] = [data[at]!, data[at + 1]!, data[at + 2]!];
        const value = channel >= 0 ? data[at + channel]! : isMean ? (r + g + b) / 3 : luminance(r, g, b);
        to[at] = to[at + 1] = to[at + 2] = value;
        to[at + 3] = channel === 3 ? 1 : data[at + 3]!;
      }
    });
  },
});

export const levels = declareStep({
  name: 'levels',
  summary: 'What is black comes to 0, what is white to 1, and the middle where gamma takes it.',
  arguments: {
    black: { kind: 'number', start: 0, least: -4, most: 4, about: 'Comes to 0.' },
    white: { kind: 'number', start: 1, least: -4, most: 4, about: 'Comes to 1.' },
    gamma: { kind: 'number', start: 1, least: 0.05, most: 8, about: 'Above 1 the middle becomes lighter.' },
    hold: { kind: 'flag', start: true, about: 'Nothing leaves 0–1.' },
  },
  reach: () => 0,
  make: (image, given) => {
    const [black, white, gamma] = [given.number('black'), given.number('white'), given.number('gamma')];
    const hold = given.flag('hold');
    // Where both are the same there is nothing between: what lies above is white.
    const width = white - black;
    const between = (x: number): number => (width === 0 ? (x >= white ? 1 : 0) : (x - black) / width);
    if (!hold)
      return mapped(image, (numbers) => {
        for (let i = 0; i < numbers.length; i += 1) {
          const t = between(numbers[i]!);
          numbers[i] = gamma === 1 ? t : Math.sign(t) * Math.pow(Math.abs(t), 1 / gamma);
        }
      });
    return mapped(image, (numbers) => {
      for (let i = 0; i < numbers.length; i += 1) {
        const t = between(numbers[i]!);
        // What is held at an end needs no power, which is most of the work.
        numbers[i] = t <= 0 ? 0 : t >= 1 ? 1 : gamma === 1 ? t : Math.pow(t, 1 / gamma);
      }
    });
  },
});

export const curves = declareStep({
  name: 'curves',
  summary: 'Each number as a curve has it.',
  arguments: {
    curve: { kind: 'curve', start: [0, 0, 1, 1, 1, 1, 1, 1], about: 'From 0 to 1, level beyond its ends.' },
  },
  reach: () => 0,
  make: (image, given) => {
    const curve = given.numbers('curve');
    return mapped(image, (numbers) => curveOver(curve, numbers));
  },
});

export const invert = declareStep({
  name: 'invert',
  summary: '1 less what it is.',
  arguments: {},
  reach: () => 0,
  make: (image) =>
    mapped(image, (numbers) => {
      for (let i = 0; i < numbers.length; i += 1) numbers[i] = 1 - numbers[i]!;
    }),
});

export const contrast = declareStep({
  name: 'contrast',
  summary: 'Further from the middle, or nearer to it.',
  arguments: {
    amount: {
      kind: 'number',
      start: 1.5,
      least: 0,
      most: 16,
      about: 'What the way from the middle is multiplied by.',
    },
    middle: { kind: 'number', start: 0.5, least: 0, most: 1, about: 'What stays.' },
  },
  reach: () => 0,
  make: (image, given) => {
    const [amount, middle] = [given.number('amount'), given.number('middle')];
    return mapped(image, (numbers) => {
      for (let i = 0; i < numbers.length; i += 1) numbers[i] = (numbers[i]! - middle) * amount + middle;
    });
  },
});

export const threshold = declareStep({
  name: 'threshold',
  summary: '1 where it is at least so much, else 0; soft over a width.',
  arguments: {
    edge: { kind: 'number', start: 0.5, least: -4, most: 4, about: 'From here on it is 1.' },
    soft: { kind: 'number', start: 0, least: 0, most: 2, about: 'Over so much it goes from 0 to 1, evenly.' },
  },
  reach: () => 0,
  make: (image, given) => {
    const [edge, soft] = [given.number('edge'), given.number('soft')];
    return mapped(image, (numbers) => {
      for (let i = 0; i < numbers.length; i += 1) {
        const x = numbers[i]!;
        numbers[i] = soft > 0 ? held((x - edge) / soft + 0.5) : x >= edge ? 1 : 0;
      }
    });
  },
});

export const gradientMap = declareStep({
  name: 'gradientMap',
  summary: 'Each pixel in the colour that a gradient has for how light it is.',
  arguments: {
    gradient: { kind: 'gradient', start: [0, 0.02, 0.01, 0.03, 1, 1, 0.8, 0.5], about: 'From 0 to 1.' },
  },
  reach: () => 0,
  make: ({ width, height, data }, given) => {
    const colour = gradientInto(given.numbers('gradient'));
    return drawnRows(width, height, (to, start) => {
      for (let at = start; at < start + width * CHANNELS; at += CHANNELS) {
        colour(luminance(data[at]!, data[at + 1]!, data[at + 2]!), to, at);
        to[at + 3] = data[at + 3]!;
      }
    });
  },
});

export const posterise = declareStep({
  name: 'posterise',
  summary: 'So many steps, and nothing between.',
  arguments: {
    steps: {
      kind: 'number',
      start: 4,
      least: 2,
      most: 256,
      whole: true,
      about: 'How many numbers are left.',
    },
  },
  reach: () => 0,
  make: (image, given) => {
    const steps = given.number('steps') - 1;
    return mapped(image, (numbers) => {
      for (let i = 0; i < numbers.length; i += 1) numbers[i] = Math.round(held(numbers[i]!) * steps) / steps;
    });
  },
});

/** Eight by eight places in the order in which they are filled most evenly (B. Bayer, 1973). */
const BAYER = (() => {
  let made = [[0]];
  for (let size = 1; size < 8; size *= 2)
    made = Array.from({ length: size * 2 }, (_, y) =>
      Array.from({ length: size * 2 }, (__, x) => {
        const add = [
          [0, 2],
          [3, 1],
        ][y < size ? 0 : 1]![x < size ? 0 : 1]!;
        return made[y % size]![x % size]! * 4 + add;
      }),
    );
  return made;
})();

export const dither = declareStep({
  name: 'dither',
  summary: 'So many steps, and what lies between as a pattern of both.',
  from: 'B. Bayer, An optimum method for two-level rendition of continuous-tone pictures, 1973',
  arguments: {
    steps: {
      kind: 'number',
      start: 2,
      least: 2,
      most: 256,
      whole: true,
      about: 'How many numbers are left.',
    },
  },
  reach: () => 0,
  make: ({ width, height, data }, given, { top }) => {
    const steps = given.number('steps') - 1;
    return drawnRows(width, height, (to, start, y) => {
      const shifts = BAYER[(top + y) % 8]!.map((place) => (place + 0.5) / 64 - 0.5);
      for (let x = 0, at = start; x < width; x += 1, at += CHANNELS) {
        const shift = shifts[x % 8]!;
        for (let c = at; c < at + 3; c += 1) to[c] = held(Math.round(held(data[c]!) * steps + shift) / steps);
        to[at + 3] = data[at + 3]!;
      }
    });
  },
});
