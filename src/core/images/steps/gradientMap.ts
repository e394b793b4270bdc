import { gradientInto } from '../../numbers/curve.ts';
import { amongPieces, EACH, FEW, inEaches } from '../amongPieces.ts';
import { declareStep } from '../declareStep.ts';
import { CHANNELS, drawnRows, luminance } from '../image.ts';
import {
  always,
  lightness,
  minus,
  over,
  pixelFormula,
  plus,
  times,
  whereAtLeast,
  type Pair,
} from '../pixelCode.ts';

/** How far x is from one key to another; at the other, where both lie at the same place. */
const between = (x: Pair, from: Pair, to: Pair): Pair =>
  whereAtLeast(always(0), minus(to, from), always(1), over(minus(x, from), minus(to, from)));

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
