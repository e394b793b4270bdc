import type { Check, Found } from '../scene.ts';
import { boundsOf } from '../boundsOf.ts';
import { isWithin } from '../../program/knownRange.ts';
import { lackWhere } from '../worn.ts';

/** Single precision, and half of a step of an eight-bit picture: what is beyond is seen. */
const BEYOND = 1 / 512;
const figure = (x: number): string => x.toFixed(2).replace('-', '−');

export const unclampedOpacity: Check = {
  name: 'unclamped-opacity',
  title: 'An opacity that leaves 0 to 1',
  why: 'Blending with less than 0 or more than 1 takes light away or adds more than there is, unlike from one machine to another.',
  of: 'shader',
  look: ({ subjects }) =>
    subjects.flatMap((subject): Found[] => {
      const { shader, program, measured } = subject;
      const { alphaMode, outputs } = shader.body.surface;
      const opacity = program.outputs['opacity'];
      if (!opacity || (alphaMode !== 'blended' && alphaMode !== 'added') || isWithin(opacity, 0, 1))
        return [];
      const { low, high } = boundsOf(subject, [opacity]).get(opacity)!;
      if (low >= 0 && high <= 1) return [];
      const extent = measured(opacity);
      const why = extent ? null : lackWhere(subject.worn, opacity);
      const beyond = extent
        ? [
            ...(extent.least < -BEYOND ? [`${figure(extent.least)} ${extent.leastWith}`] : []),
            ...(extent.most > 1 + BEYOND ? [`${figure(extent.most)} ${extent.mostWith}`] : []),
          ]
        : [];
      if (extent && !beyond.length) return [];
      return [
        {
          ...{ part: shader.id, place: { kind: 'output', output: 'opacity' } },
          message: beyond.length
            ? `The opacity is ${beyond.join(', and ')}.`
            : `Nothing holds the opacity within 0 to 1, and it cannot be measured here. ${why ?? ''}`.trim(),
          fix: {
            ...{ label: 'Hold the opacity within 0 to 1', part: shader.id },
            patches: [
              {
                op: 'replace',
                path: ['surface', 'outputs', 'opacity'],
                value: `saturate(${outputs.opacity})`,
              },
            ],
          },
        },
      ];
    }),
};
