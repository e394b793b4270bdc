import { curveOver, gradientInto } from '../../numbers/curve.ts';
import { declareStep } from '../declareStep.ts';
import { CHANNELS, drawnRows, luminance, mapped, type Image } from '../image.ts';
import {
  always,
  floor,
  held,
  lightness,
  minus,
  over,
  pixelFormula,
  plus,
  times,
  whereAtLeast,
  type Pair,
  type Pixels,
  type Written,
} from '../pixelCode.ts';

/** A formula for each number of colour by itself; alpha stays. */
const tone = (told: number, of: (x: Pair, told: readonly Pair[], keep: Written['keep']) => Pair) => {
  const formula = pixelFormula({ pictures: 1, told }, ({ pictures: [pixel], told: numbers, keep }) => {
    const { r, g, b, a } = pixel!;
    return { r: of(r, numbers, keep), g: of(g, numbers, keep), b: of(b, numbers, keep), a };
  });
  return (image: Image, ...numbers: readonly number[]): Image => {
    const { width, height, data } = image;
    return { width, height, data: formula({ pictures: [data], told: numbers }) };
  };
};
const greyBy = (of: (pixel: Pixels) => Pair, isOpaque = false) =>
  pixelFormula({ pictures: 1 }, ({ pictures: [pixel], keep }) => {
    const x = keep(of(pixel!));
    return { r: x, g: x, b: x, a: isOpaque ? always(1) : pixel!.a };
  });
const GREYS = {
  luminance: greyBy(lightness),
  mean: greyBy(({ r, g, b }) => over(plus(plus(r, g), b), always(3))),
  red: greyBy(({ r }) => r),
  green: greyBy(({ g }) => g),
  blue: greyBy(({ b }) => b),
  alpha: greyBy(({ a }) => a, true),
} as const;

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
  make: ({ width, height, data }, given) => ({
    ...{ width, height },
    data: GREYS[given.word('by') as keyof typeof GREYS]({ pictures: [data] }),
  }),
});

const linear = tone(2, (x, [black, width]) => over(minus(x, black!), width!));
const linearHeld = tone(2, (x, [black, width]) => held(over(minus(x, black!), width!)));
const above = tone(1, (x, [edge]) => whereAtLeast(x, edge!, always(1), always(0)));

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
    const width = white - black;
    // Where both are the same there is nothing between: what lies above is white.
    if (width === 0) return above(image, white);
    if (gamma === 1) return (hold ? linearHeld : linear)(image, black, width);
    if (!hold)
      return mapped(image, (numbers) => {
        for (let i = 0; i < numbers.length; i += 1) {
          const t = (numbers[i]! - black) / width;
          numbers[i] = Math.sign(t) * Math.pow(Math.abs(t), 1 / gamma);
        }
      });
    return mapped(image, (numbers) => {
      for (let i = 0; i < numbers.length; i += 1) {
        const t = (numbers[i]! - black) / width;
        // What is held at an end needs no power, which is most of the work.
        numbers[i] = t <= 0 ? 0 : t >= 1 ? 1 : Math.pow(t, 1 / gamma);
      }
    });
  },
});

/** Numbers of a key, or a stop; of so many the pieces between are all worked out, and the one chosen that counts. */
const [EACH, FEW] = [4, 8] as const;
/**
 * A curve of few pieces at x: before the first key, and from the last on, it is as it is there.
 * @param piece from a key to the next, whatever x is
 */
const amongPieces = (
  x: Pair,
  keys: readonly (readonly Pair[])[],
  [first, last]: readonly [Pair, Pair],
  piece: (from: readonly Pair[], to: readonly Pair[]) => Pair,
): Pair => {
  let made = first;
  for (let i = 0; i + 1 < keys.length; i += 1) {
    const own = piece(keys[i]!, keys[i + 1]!);
    made = i ? whereAtLeast(x, keys[i]![0]!, own, made) : own;
  }
  made = whereAtLeast(x, keys.at(-1)![0]!, last, made);
  return whereAtLeast(keys[0]![0]!, x, first, made);
};
/** How far x is from one key to another; at the other, where both lie at the same place. */
const between = (x: Pair, from: Pair, to: Pair): Pair =>
  whereAtLeast(always(0), minus(to, from), always(1), over(minus(x, from), minus(to, from)));
const inEaches = (told: readonly Pair[]): readonly (readonly Pair[])[] =>
  Array.from({ length: told.length / EACH }, (_, i) => told.slice(i * EACH, (i + 1) * EACH));

/** By how many keys there are: cubic Hermite pieces, as `curveAt` has them. */
const curved = Array.from({ length: FEW }, (_, i) =>
  tone((i + 1) * EACH, (x, told, keep) => {
    const keys = inEaches(told);
    return amongPieces(x, keys, [keys[0]![1]!, keys.at(-1)![1]!], ([x0, y0, , out], [x1, y1, into]) => {
      const span = minus(x1!, x0!);
      const t = keep(over(minus(x, x0!), span));
      const s = keep(minus(always(1), t));
      const twice = times(always(2), t);
      const begins = times(times(times(y0!, plus(always(1), twice)), s), s);
      const leaves = times(times(times(times(span, out!), t), s), s);
      const ends = times(times(times(y1!, t), t), minus(always(3), twice));
      const comes = times(times(times(times(span, into!), t), t), s);
      const made = minus(plus(plus(begins, leaves), ends), comes);
      return whereAtLeast(always(0), span, y1!, made);
    });
  }),
);

export const curves = declareStep({
  name: 'curves',
  summary: 'Each number as a curve has it.',
  arguments: {
    curve: { kind: 'curve', start: [0, 0, 1, 1, 1, 1, 1, 1], about: 'From 0 to 1, level beyond its ends.' },
  },
  reach: () => 0,
  make: (image, given) => {
    const curve = given.numbers('curve');
    const quick = curved[curve.length / EACH - 1];
    if (quick) return quick(image, ...curve);
    return mapped(image, (numbers) => curveOver(curve, numbers));
  },
});

const inverted = tone(0, (x) => minus(always(1), x));

export const invert = declareStep({
  name: 'invert',
  summary: '1 less what it is.',
  arguments: {},
  reach: () => 0,
  make: (image) => inverted(image),
});

const contrasted = tone(2, (x, [amount, middle]) => plus(times(minus(x, middle!), amount!), middle!));

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
  make: (image, given) => contrasted(image, given.number('amount'), given.number('middle')),
});

const softlyAbove = tone(2, (x, [edge, soft]) => held(plus(over(minus(x, edge!), soft!), always(0.5))));

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
    return soft > 0 ? softlyAbove(image, edge, soft) : above(image, edge);
  },
});

/** By how many stops there are: straight between them, as `gradientAt` has it. */
const graded = Array.from({ length: FEW }, (_, i) =>
  pixelFormula({ pictures: 1, told: (i + 1) * EACH }, ({ pictures: [pixel], told, keep }) => {
    const stops = inEaches(told);
    const x = keep(lightness(pixel!));
    const of = (c: number): Pair =>
      amongPieces(x, stops, [stops[0]![c]!, stops.at(-1)![c]!], (from, to) => {
        const t = keep(between(x, from[0]!, to[0]!));
        return plus(times(from[c]!, minus(always(1), t)), times(to[c]!, t));
      });
    return { r: of(1), g: of(2), b: of(3), a: pixel!.a };
  }),
);

export const gradientMap = declareStep({
  name: 'gradientMap',
  summary: 'Each pixel in the colour that a gradient has for how light it is.',
  arguments: {
    gradient: { kind: 'gradient', start: [0, 0.02, 0.01, 0.03, 1, 1, 0.8, 0.5], about: 'From 0 to 1.' },
  },
  reach: () => 0,
  make: ({ width, height, data }, given) => {
    const stops = given.numbers('gradient');
    const quick = graded[stops.length / EACH - 1];
    if (quick) return { width, height, data: quick({ pictures: [data], told: stops }) };
    const colour = gradientInto(stops);
    return drawnRows(width, height, (to, start) => {
      for (let at = start; at < start + width * CHANNELS; at += CHANNELS) {
        colour(luminance(data[at]!, data[at + 1]!, data[at + 2]!), to, at);
        to[at + 3] = data[at + 3]!;
      }
    });
  },
});

/** To the nearest whole number, and up from the middle between two. */
const nearest = (x: Pair): Pair => floor(plus(x, always(0.5)));
const posterised = tone(1, (x, [steps]) => over(nearest(times(held(x), steps!)), steps!));

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
  make: (image, given) => posterised(image, given.number('steps') - 1),
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

const dithered = pixelFormula({ pictures: 1, planes: 1, told: 1 }, ({ pictures, planes, told }) => {
  const { r, g, b, a } = pictures[0]!;
  const [shift, steps] = [planes[0]!, told[0]!];
  const of = (x: Pair): Pair => held(over(nearest(plus(times(held(x), steps), shift)), steps));
  return { r: of(r), g: of(g), b: of(b), a };
});

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
    const told = [given.number('steps') - 1];
    const shifts = BAYER.map((places) =>
      Float32Array.from({ length: width }, (_, x) => (places[x % 8]! + 0.5) / 64 - 0.5),
    );
    return drawnRows(width, height, (to, start, y) => {
      const row = [start, start + width * CHANNELS] as const;
      const planes = [shifts[(top + y) % 8]!];
      dithered({ pictures: [data.subarray(...row)], planes, told }, to.subarray(...row));
    });
  },
});
