import { isWithin } from '../../program/knownRange.ts';
import type { Check, Found } from '../scene.ts';

/** Light beyond what a display shows, by a stop. */
const BRIGHT = 2;
const STRENGTH = 0.4;

export const brightWithoutBloom: Check = {
  name: 'no-bloom',
  title: 'Light beyond white, and no bloom',
  why: 'Above white, more light looks the same unless it spreads: a glow without bloom is a flat white patch.',
  of: 'set',
  look: ({ subjects, set }) => {
    if (!set || set.body.bloom.intensity > 0) return [];
    return subjects.flatMap(({ shader, program, measured, worn }): Found[] => {
      const emission = program.outputs['emission'];
      if (!emission || isWithin(emission, 0, 1) || !worn.some(({ prop }) => prop)) return [];
      const extent = measured(emission);
      return extent && extent.most > BRIGHT
        ? [
            {
              ...{ part: set.id, place: { kind: 'part' } },
              message: `${shader.name} gives light of ${extent.most.toFixed(1)} ${extent.mostWith}, and the bloom of ${set.name} stands at 0.`,
              fix: {
                ...{ label: `Let ${set.name} bloom`, part: set.id },
                patches: [{ op: 'replace', path: ['bloom', 'intensity'], value: STRENGTH }],
              },
            },
          ]
        : [];
    });
  },
};
