import { blurredBy, boxOf } from '../blurred.ts';
import { declareStep } from '../declareStep.ts';
import { gaussianBlurred, gaussianReach } from '../gaussianBlurred.ts';
import { overChannels } from '../overChannels.ts';
import { withinBand } from '../rows.ts';

export const blur = declareStep({
  name: 'blur',
  summary: 'Each pixel with those around it, by a Gaussian or a box.',
  arguments: {
    radius: {
      ...{ kind: 'number', start: 3, least: 0, most: 256, unit: 'px' },
      about:
        'Gaussian: the standard deviation σ. Box: pixels to each side, the last one in part, so it is 2·radius + 1 wide.',
    },
    by: { kind: 'choice', start: 'gaussian', options: ['gaussian', 'box'], about: 'What weighs them.' },
    times: {
      kind: 'number',
      start: 1,
      least: 1,
      most: 8,
      whole: true,
      about: 'How often it is done: σ grows by the square root of this, a box’s reach in proportion.',
    },
  },
  reach: (given) => {
    const radius = given.pixels('radius');
    const once = given.word('by') === 'box' ? Math.ceil(radius) : gaussianReach(radius);
    return once === null ? null : withinBand(once * given.number('times'));
  },
  make: (image, given, { wraps }) => {
    const radius = given.pixels('radius');
    const isBox = given.word('by') === 'box';
    let made = image;
    for (let i = 0; i < given.number('times'); i += 1)
      made = overChannels(made, (data, channels) =>
        isBox
          ? blurredBy(data, channels, image, boxOf(radius), wraps)
          : gaussianBlurred(data, channels, image, radius, wraps),
      );
    return made;
  },
});
