import { declareStep } from '../declareStep.ts';
import { always, lightness, over, pixelFormula, plus, type Pair, type Pixels } from '../pixelCode.ts';

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
