import { declareStep } from '../declareStep.ts';
import { CHANNELS, drawnRows } from '../image.ts';
import { held, over, pixelFormula, plus, times, type Pair } from '../pixelCode.ts';
import { nearest } from './posterise.ts';

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
