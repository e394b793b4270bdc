import { SURFACE } from '../lower/lowerShader.ts';
import type { Value } from '../program/value.ts';
import type { Place, Subject } from './scene.ts';

/** Where a value was authored: its step, else the surface's output of that name, else the shader. */
export const placeOf = ({ shader, program }: Pick<Subject, 'shader' | 'program'>, value: Value): Place => {
  // What an output's own expression makes has no step.
  const output = program.taps.find((tap) => tap.strand === SURFACE && tap.value === value);
  const origin = value.origin ?? output;
  if (!origin) return { kind: 'part' };
  const strand = shader.body.strands.find(({ steps }) => steps.some(({ id }) => id === origin.step));
  return strand
    ? { kind: 'step', strand: strand.id, step: origin.step }
    : { kind: 'output', output: origin.step };
};

/** A step as a sentence names it: “power in edge”. */
export const wordOf = ({ shader }: Pick<Subject, 'shader'>, value: Value): string => {
  const step = value.origin?.step;
  for (const { name, steps } of shader.body.strands) {
    const found = steps.find(({ id }) => id === step);
    if (found) return `${found.operator} in ${name}`;
  }
  return `the surface of ${shader.name}`;
};
