import { declareStep } from '../declareStep.ts';
import { mapped } from '../image.ts';
import { held, minus, over } from '../pixelCode.ts';
import { tone } from '../tone.ts';
import { above } from './threshold.ts';

const linear = tone(2, (x, [black, width]) => over(minus(x, black!), width!));

const linearHeld = tone(2, (x, [black, width]) => held(over(minus(x, black!), width!)));

export const levels = declareStep({
  name: 'levels',
  summary: 'Stretches values: t = (x − black) ÷ (white − black), then t to the power of 1 ÷ gamma.',
  arguments: {
    black: { kind: 'number', start: 0, least: -4, most: 4, about: 'Comes to 0.' },
    white: { kind: 'number', start: 1, least: -4, most: 4, about: 'Comes to 1.' },
    gamma: { kind: 'number', start: 1, least: 0.05, most: 8, about: 'Above 1 the middle becomes lighter.' },
    hold: {
      kind: 'flag',
      start: true,
      about:
        'Clamps t to 0–1. Off, values beyond black and white stay beyond 0–1: sign(t)·|t| to the power of 1 ÷ gamma.',
    },
  },
  reach: () => 0,
  make: (image, given) => {
    const [black, white, gamma] = [given.number('black'), given.number('white'), given.number('gamma')];
    const hold = given.flag('hold');
    const width = white - black;
    // Where both are the same there is nothing between: what lies above is white.
    if (width === 0) return above(image, white);
    if (gamma === 1) return (hold ? linearHeld : linear)(image, black, width);
    if (!hold)
      return mapped(image, (numbers) => {
        for (let i = 0; i < numbers.length; i += 1) {
          const t = (numbers[i]! - black) / width;
          numbers[i] = Math.sign(t) * Math.pow(Math.abs(t), 1 / gamma);
        }
      });
    return mapped(image, (numbers) => {
      for (let i = 0; i < numbers.length; i += 1) {
        const t = (numbers[i]! - black) / width;
        // What is held at an end needs no power, which is most of the work.
        numbers[i] = t <= 0 ? 0 : t >= 1 ? 1 : Math.pow(t, 1 / gamma);
      }
    });
  },
});
