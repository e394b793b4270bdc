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
  make: ({ width, height, data }, given, { top, scale }) => {
    const told = [given.number('steps') - 1];
    // A small texture is the mean of the whole one's pixels; the pattern comes round after eight.
    const side = Math.min(Math.ceil(1 / scale), 8);
    const wholePlace = (at: number, part: number): number =>
      Math.floor((at + (part + 0.5) / side) / scale) % 8;
    const shifts = BAYER.map((places) =>
      Array.from({ length: side }, (_, part) =>
        Float32Array.from({ length: width }, (__, x) => (places[wholePlace(x, part)]! + 0.5) / 64 - 0.5),
      ),
    );
    const one = new Float32Array(width * CHANNELS);
    return drawnRows(width, height, (to, start, y) => {
      const row = [start, start + width * CHANNELS] as const;
      const [from, into] = [data.subarray(...row), to.subarray(...row)];
      if (side === 1) {
        dithered({ pictures: [from], planes: [shifts[wholePlace(top + y, 0)]![0]!], told }, into);
        return;
      }
      for (let j = 0; j < side; j += 1)
        for (const plane of shifts[wholePlace(top + y, j)]!) {
          dithered({ pictures: [from], planes: [plane], told }, one);
          for (let i = 0; i < one.length; i += 1) into[i]! += one[i]! / side ** 2;
        }
    });
  },
});
