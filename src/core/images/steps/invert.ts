import { declareStep } from '../declareStep.ts';
import { always, minus } from '../pixelCode.ts';
import { tone } from '../tone.ts';

const inverted = tone(0, (x) => minus(always(1), x));

export const invert = declareStep({
  name: 'invert',
  summary: '1 less what it is.',
  arguments: {},
  reach: () => 0,
  make: (image) => inverted(image),
});
