import { isNeverBelow0 } from '../../program/knownRange.ts';
import { reachable, rootsOf, type Value } from '../../program/value.ts';
import { boundsOf } from '../boundsOf.ts';
import { placeOf, wordOf } from '../placeOf.ts';
import type { Check, Found } from '../scene.ts';
import { findStep } from '../../document/findStep.ts';

export const powersIn = (roots: readonly Value[]): Value[] =>
  reachable(roots).filter(({ op, inputs }) => op === 'pow' && !isNeverBelow0(inputs[0]!));

export const negativePower: Check = {
  name: 'negative-power',
  title: 'A power of what is below 0',
  why: 'It has no value; here it counts as 0, which cuts the lower half off, and elsewhere it may be a hole.',
  of: 'shader',
  look: ({ subjects }) =>
    subjects.flatMap((subject): Found[] => {
      const { shader, program, measured } = subject;
      const roots = rootsOf(program);
      const powers = powersIn(roots);
      const bounds = boundsOf(subject, roots);
      const told = new Set<string>();
      return powers.flatMap((value): Found[] => {
        const base = value.inputs[0]!;
        if (bounds.get(base)!.low >= 0) return [];
        const extent = measured(base);
        if (!extent || !(extent.least < -1e-6)) return [];
        const place = placeOf(subject, value);
        const key = JSON.stringify(place);
        if (told.has(key)) return [];
        told.add(key);
        const at = place.kind === 'step' ? findStep(shader.body, place.step) : null;
        return [
          {
            ...{ part: shader.id, place },
            message: `The base of ${wordOf(subject, value)} is ${extent.least.toPrecision(3).replace('-', '−')} ${extent.leastWith}.`,
            ...(at?.operator === 'power' && at.step > 0
              ? {
                  fix: {
                    ...{ label: 'Take the size of what is raised', part: shader.id },
                    patches: [
                      {
                        ...{ op: 'add', path: ['strands', at.strand, 'steps', at.step] },
                        value: {
                          id: `${place.kind === 'step' ? place.step : 'power'}-size`,
                          operator: 'abs',
                          arguments: {},
                        },
                      },
                    ],
                  },
                }
              : {}),
          },
        ];
      });
    }),
};
