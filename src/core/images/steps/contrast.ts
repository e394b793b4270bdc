import { declareStep } from '../declareStep.ts';
import { minus, plus, times } from '../pixelCode.ts';
import { tone } from '../tone.ts';

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
