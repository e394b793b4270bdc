import { declareStep } from '../declareStep.ts';
import { CHANNELS } from '../image.ts';
import { movedTo } from '../movedTo.ts';

export const warp = declareStep({
  name: 'warp',
  summary: 'Each pixel from elsewhere, as red and green of another texture tell; 0.5 is nowhere else.',
  arguments: {
    by: { kind: 'texture', about: 'What tells where.' },
    strength: {
      kind: 'numbers',
      start: [16, 16],
      least: -512,
      most: 512,
      unit: 'px',
      about: 'Across and down, at 1.',
    },
  },
  make: (image, given, { beside, wraps, scale }) => {
    const other = beside(given.word('by'), image);
    const [dx, dy] = given.numbers('strength') as [number, number];
    return movedTo(image, wraps, (y, places) => {
      for (let x = 0, at = y * image.width * CHANNELS; x < image.width; x += 1, at += CHANNELS) {
        places[x * 2] = x + 0.5 + (other.data[at]! - 0.5) * 2 * dx * scale;
        places[x * 2 + 1] = y + 0.5 + (other.data[at + 1]! - 0.5) * 2 * dy * scale;
      }
    });
  },
});
