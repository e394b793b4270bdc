import type { Step } from '../../document/shader.ts';
import { reachable, type Value } from '../../program/value.ts';
import { placeOf, wordOf } from '../placeOf.ts';
import { findStep } from '../../document/findStep.ts';
import type { Check, Found } from '../scene.ts';

/** Steps that mix colours, and the input that is laid on what comes from the left. */
const MIXERS: Readonly<Record<string, string>> = { mix: 'y', add: 'y', multiply: 'y', blend: 'over' };
const READERS: ReadonlySet<string> = new Set(['sample', 'normalFromHeight', 'triplanar', 'flipbook']);
/** Steps that take a packed normal. */
const UNPACKERS: ReadonlySet<string> = new Set([
  'unpackNormal',
  'tangentToWorld',
  'normalStrength',
  'combineNormals',
]);

export const mixedNormals: Check = {
  name: 'mixed-normals',
  title: 'Normals mixed as colours',
  why: 'Adding or mixing packed normals flattens both: directions are combined, not colours.',
  of: 'shader',
  look: ({ subjects }) =>
    subjects.flatMap((subject): Found[] => {
      const { shader, program } = subject;
      const steps = new Map<string, Step>(
        shader.body.strands.flatMap((each) => each.steps.map((step) => [step.id, step])),
      );
      const operatorOf = ({ origin }: Value): string => steps.get(origin?.step ?? '')?.operator ?? '';
      const told = new Set<string>();
      const unpacked = reachable(Object.values(program.outputs)).filter((value) =>
        UNPACKERS.has(operatorOf(value)),
      );
      return unpacked.flatMap((unpack): Found[] =>
        unpack.inputs.flatMap((mixer): Found[] => {
          const step = mixer.origin?.step;
          if (!step || !(operatorOf(mixer) in MIXERS) || told.has(step)) return [];
          const pictures = mixer.inputs.filter(
            (each) => each.type !== 'float' && reachable([each]).some((one) => READERS.has(operatorOf(one))),
          );
          if (new Set(pictures).size < 2) return [];
          told.add(step);
          const at = findStep(shader.body, step);
          const authored = steps.get(step)!;
          const detail = authored.arguments[MIXERS[authored.operator]!];
          return [
            {
              ...{ part: shader.id, place: placeOf(subject, mixer) },
              message: `${wordOf(subject, mixer)} mixes two packed normals as if they were colours.`,
              ...(at && typeof detail === 'string'
                ? {
                    fix: {
                      ...{ label: 'Combine them as normals', part: shader.id },
                      patches: [
                        {
                          ...{ op: 'replace', path: ['strands', at.strand, 'steps', at.step] },
                          value: {
                            ...authored,
                            operator: 'combineNormals',
                            arguments: {
                              detail,
                              ...(authored.operator === 'mix' && authored.arguments['amount'] !== undefined
                                ? { amount: authored.arguments['amount'] }
                                : {}),
                            },
                          },
                        },
                      ],
                    },
                  }
                : {}),
            },
          ];
        }),
      );
    }),
};
