import { functionsOf, reachable, rootsOf, type Value } from '../../program/value.ts';
import { placeOf, wordOf } from '../placeOf.ts';
import { findStep } from '../../document/findStep.ts';
import type { Check, Found } from '../scene.ts';

/** What reads single texels: by itself, or in code of the author's. Curves and gradients go between theirs. */
const isUnfiltered = (value: Value, isCode: (step: string | undefined) => boolean): boolean =>
  value.op === 'texelFetch' ||
  (value.fn !== null &&
    isCode(value.origin?.step) &&
    functionsOf([value]).some((fn) =>
      fn.opaque
        ? fn.opaque.source.includes('texelFetch')
        : reachable([fn.result]).some(({ op }) => op === 'texelFetch'),
    ));

export const steppedDistortion: Check = {
  name: 'stepped-distortion',
  title: 'A distortion without a filter',
  why: 'What moves a picture by steps tears it into blocks as large as a texel of what moves it.',
  of: 'shader',
  look: ({ subjects }) =>
    subjects.flatMap((subject): Found[] => {
      const { shader, program } = subject;
      const isCode = (step: string | undefined): boolean =>
        step !== undefined && findStep(shader.body, step)?.operator === 'code';
      const told = new Set<string>();
      return reachable(rootsOf(program)).flatMap((value): Found[] => {
        if (!['texture', 'textureLod', 'textureGrad'].includes(value.op)) return [];
        const by = reachable([value.inputs[1]!]).find((each) => isUnfiltered(each, isCode));
        const key = JSON.stringify(by && placeOf(subject, by));
        if (!by || told.has(key)) return [];
        told.add(key);
        return [
          {
            ...{ part: shader.id, place: placeOf(subject, by) },
            message: `The place at which ${wordOf(subject, value)} reads is moved by single texels, which ${wordOf(subject, by)} reads without a filter.`,
          },
        ];
      });
    }),
};
