import { declareStep } from '../declareStep.ts';
import { greatestWithin } from '../greatestWithin.ts';
import { CHANNELS, drawn, isGrey, planeOf } from '../image.ts';
import { withinBand } from '../rows.ts';

export const spread = declareStep({
  name: 'spread',
  summary: 'The greatest, or the least, of what is within a radius: masks grow or shrink.',
  arguments: {
    radius: { kind: 'number', start: 2, least: 0, most: 128, unit: 'px', about: 'How far, in a circle.' },
    by: {
      kind: 'choice',
      start: 'dilate',
      options: ['dilate', 'erode'],
      about: 'What is light grows, or shrinks.',
    },
  },
  reach: (given) => withinBand(Math.floor(given.pixels('radius'))),
  make: (image, given, { wraps }) => {
    const radius = given.pixels('radius');
    const isLeast = given.word('by') === 'erode';
    if (isGrey(image)) {
      const plane = greatestWithin(planeOf(image, 0), 1, image, radius, wraps, isLeast);
      return drawn(image.width, image.height, (_x, _y, to, at) => {
        to[at] = to[at + 1] = to[at + 2] = plane[at / CHANNELS]!;
        to[at + 3] = image.data[at + 3]!;
      });
    }
    const made = greatestWithin(image.data, CHANNELS, image, radius, wraps, isLeast);
    for (let i = 3; i < made.length; i += CHANNELS) made[i] = image.data[i]!;
    return { ...image, data: made };
  },
});
