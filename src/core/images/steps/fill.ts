import { declareStep } from '../declareStep.ts';
import { drawn } from '../image.ts';

export const fill = declareStep({
  name: 'fill',
  summary: 'The same everywhere.',
  isSource: true,
  arguments: {
    value: {
      kind: 'numbers',
      start: [0.5, 0.5, 0.5, 1],
      least: -4,
      most: 4,
      about: 'Red, green, blue and alpha.',
    },
  },
  reach: () => 0,
  make: ({ width, height }, given) => {
    const value = given.numbers('value');
    return drawn(width, height, (_x, _y, to, at) => to.set(value, at));
  },
});
