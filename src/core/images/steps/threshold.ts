import { declareStep } from '../declareStep.ts';
import { always, held, minus, over, plus, whereAtLeast } from '../pixelCode.ts';
import { tone } from '../tone.ts';

export const above = tone(1, (x, [edge]) => whereAtLeast(x, edge!, always(1), always(0)));

const softlyAbove = tone(2, (x, [edge, soft]) => held(plus(over(minus(x, edge!), soft!), always(0.5))));

export const threshold = declareStep({
  name: 'threshold',
  summary: '1 where it is at least so much, else 0; soft over a width.',
  arguments: {
    edge: { kind: 'number', start: 0.5, least: -4, most: 4, about: 'From here on it is 1.' },
    soft: { kind: 'number', start: 0, least: 0, most: 2, about: 'Over so much it goes from 0 to 1, evenly.' },
  },
  reach: () => 0,
  make: (image, given) => {
    const [edge, soft] = [given.number('edge'), given.number('soft')];
    return soft > 0 ? softlyAbove(image, edge, soft) : above(image, edge);
  },
});
