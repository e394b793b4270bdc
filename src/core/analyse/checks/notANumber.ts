import { reachable } from '../../program/value.ts';
import { placeOf, wordOf } from '../placeOf.ts';
import type { Check, Found } from '../scene.ts';

export const notANumber: Check = {
  name: 'not-a-number',
  title: 'Something that is not a number',
  why: 'It spreads: bloom and blurs carry it over the whole frame, and machines show it each in another way.',
  of: 'shader',
  look: ({ subjects }) =>
    subjects.flatMap((subject): Found[] => {
      const { shader, program, measured } = subject;
      const shown = new Set(reachable(Object.values(program.outputs)));
      // The first that has some: what follows has them from there.
      for (const { value } of program.taps) {
        const extent = shown.has(value) ? measured(value) : null;
        if (!extent?.notNumbers) continue;
        const share = (100 * extent.notNumbers) / extent.looked;
        return [
          {
            ...{ part: shader.id, place: placeOf(subject, value) },
            message: `${wordOf(subject, value)} is not a number, or without end, ${extent.notNumberWith}; of all that was looked at, ${share < 0.1 ? 'less than 0.1' : share.toFixed(1)} %.`,
          },
        ];
      }
      return [];
    }),
};
