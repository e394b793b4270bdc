import { primitiveOf } from '../../program/primitives.ts';
import { type Value } from '../../program/value.ts';
import { placeOf, wordOf } from '../placeOf.ts';
import { isEncoded } from '../srgb.ts';
import { findStep } from '../../document/findStep.ts';
import type { Check, Found } from '../scene.ts';

/** What passes a displayed colour on as it is, or dims it. */
const PASSES: ReadonlySet<string> = new Set([
  'multiply',
  'swizzle',
  'construct',
  'mix',
  'clamp',
  'min',
  'max',
  'select',
]);

export const toneMappedTwice: Check = {
  name: 'tone-mapped-twice',
  title: 'Brought to the display twice',
  why: 'Surfaces give linear light; the frame is tone-mapped and encoded once, after bloom. Done before, it is washed out.',
  of: 'shader',
  look: ({ subjects, set }) =>
    subjects.flatMap((subject): Found[] => {
      const { shader, program } = subject;
      const told = new Set<string>();
      const encoders = (value: Value, seen = new Set<Value>()): Value[] => {
        if (seen.has(value)) return [];
        seen.add(value);
        if (isEncoded(value)) return [value];
        return PASSES.has(value.op) && primitiveOf(value.op)
          ? value.inputs.flatMap((each) => encoders(each, seen))
          : [];
      };
      return ['emission', 'baseColor'].flatMap((output): Found[] => {
        const value = program.outputs[output];
        return (value ? encoders(value) : []).flatMap((each): Found[] => {
          const step = each.origin?.step ?? '';
          if (told.has(step)) return [];
          told.add(step);
          const at = findStep(shader.body, step);
          return [
            {
              ...{ part: shader.id, place: placeOf(subject, each) },
              message: `${wordOf(subject, each)} is sRGB already, and ${set ? `${set.name} encodes` : 'the frame is encoded'}${set && set.body.toneMapping !== 'none' ? ' and tone-maps' : ''} it once more.`,
              ...(at?.operator === 'linearToSrgb'
                ? {
                    fix: {
                      ...{ label: 'Leave it linear', part: shader.id },
                      patches: [{ op: 'remove', path: ['strands', at.strand, 'steps', at.step] }],
                    },
                  }
                : {}),
            },
          ];
        });
      });
    }),
};
