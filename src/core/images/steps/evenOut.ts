import { widelyBlurred } from '../blurred.ts';
import { declareStep } from '../declareStep.ts';
import { greyPixels } from '../greyRows.ts';
import { CHANNELS, isGrey, planeOf } from '../image.ts';
import { meanColour } from '../meanColour.ts';
import { minus, pixelFormula, times, type Pair, type Pixels } from '../pixelCode.ts';

/** What is left of a picture without what is slow in it, about means. */
const withoutSlow = pixelFormula({ pictures: 2, told: 4 }, ({ pictures, told }) => {
  const [from, slow] = pictures as readonly [Pixels, Pixels];
  const of = (c: 'r' | 'g' | 'b', mean: Pair): Pair => minus(from[c], times(minus(slow[c], mean), told[3]!));
  return { r: of('r', told[0]!), g: of('g', told[1]!), b: of('b', told[2]!), a: from.a };
});

export const evenOut = declareStep({
  name: 'evenOut',
  summary: 'Takes slow light and shade out: x − amount · (blur of x − mean of x), each channel by itself.',
  arguments: {
    radius: {
      kind: 'number',
      start: 96,
      least: 1,
      most: 512,
      unit: 'px',
      about: 'The blur’s standard deviation σ: variations wider than this are removed.',
    },
    amount: { kind: 'number', start: 1, least: 0, most: 1, about: 'How much of it goes.' },
  },
  make: (image, given, { wraps }) => {
    const radius = given.pixels('radius');
    const amount = given.number('amount');
    const { width, height, data } = image;
    // A plane stands for all three.
    const isPlane = isGrey(image);
    const from = isPlane ? planeOf(image, 0) : data;
    const blurred = widelyBlurred(from, isPlane ? 1 : CHANNELS, image, radius, wraps);
    const slow = isPlane ? greyPixels(blurred) : blurred;
    // What is blurred is nobody else's, but where it was too narrow to be.
    const room = slow === data ? undefined : slow;
    const made = withoutSlow({ pictures: [data, slow], told: [...meanColour(data), amount] }, room);
    return { width, height, data: made };
  },
});
