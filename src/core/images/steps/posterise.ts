import { declareStep } from '../declareStep.ts';
import { always, floor, held, over, plus, times, type Pair } from '../pixelCode.ts';
import { tone } from '../tone.ts';

/** To the nearest whole number, and up from the middle between two. */
export const nearest = (x: Pair): Pair => floor(plus(x, always(0.5)));

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
