import { declareStep } from '../declareStep.ts';
import { gaussianBlurred, gaussianReach } from '../gaussianBlurred.ts';
import { overChannels } from '../overChannels.ts';
import { minus, pixelFormula, plus, times, type Pair, type Pixels } from '../pixelCode.ts';

const sharpened = pixelFormula({ pictures: 2, told: 1 }, ({ pictures, told }) => {
  const [from, soft] = pictures as readonly [Pixels, Pixels];
  const of = (x: Pair, y: Pair): Pair => plus(x, times(minus(x, y), told[0]!));
  return { r: of(from.r, soft.r), g: of(from.g, soft.g), b: of(from.b, soft.b), a: from.a };
});

export const sharpen = declareStep({
  name: 'sharpen',
  summary: 'Further from what a blur makes of it.',
  arguments: {
    radius: {
      kind: 'number',
      start: 2,
      least: 0,
      most: 64,
      unit: 'px',
      about: 'The blur’s standard deviation.',
    },
    amount: { kind: 'number', start: 1, least: 0, most: 8, about: 'How much further.' },
  },
  reach: (given) => gaussianReach(given.pixels('radius')),
  make: (image, given, { wraps }) => {
    const radius = given.pixels('radius');
    const amount = given.number('amount');
    const soft = overChannels(image, (data, channels) =>
      gaussianBlurred(data, channels, image, radius, wraps),
    );
    // What is blurred is nobody else's, and becomes what is given back.
    const made = sharpened({ pictures: [image.data, soft.data], told: [amount] }, soft.data);
    return { ...image, data: made };
  },
});
