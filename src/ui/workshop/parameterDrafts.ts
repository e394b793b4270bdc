import {
  PARAMETER_KINDS,
  type Parameter,
  type ParameterKind,
  type Score,
  type Step,
} from '#core/document/shader.ts';
import type { Library } from '#core/document/motif.ts';
import { knobNumbers } from '#core/lower/lowerShader.ts';
import { operatorOf } from '#core/lower/stepOperator.ts';
import { OPERATORS } from '#core/operators/catalogue.ts';
import { newId } from '../parts/newId.ts';

/** A parameter as it is proposed, before its author says yes. */
export interface Draft {
  readonly parameter: Parameter;
  readonly isNew: boolean;
  /** The number in the score that it would stand for. */
  readonly from?: { readonly step: string; readonly argument: string };
  readonly kinds: readonly ParameterKind[];
}

const freshName = (score: Score, wish: string): string => {
  const taken = new Set([...score.strands, ...score.parameters].map((each) => each.name));
  let name = wish;
  for (let n = 2; taken.has(name) || OPERATORS.has(name); n += 1) name = `${wish}${n}`;
  return name;
};
const parameterOf = (score: Score, wish: string, more: Partial<Parameter> = {}): Parameter => ({
  ...{ id: `parameter-${newId()}`, name: freshName(score, wish), kind: 'float', default: [0] },
  ...{ min: 0, max: 1, unit: '', group: '', description: '' },
  ...more,
});

/** A parameter that is changed, or one to begin with. */
export const draftOf = (score: Score, parameter: Parameter | null): Draft =>
  parameter
    ? { isNew: false, parameter, kinds: [parameter.kind] }
    : { isNew: true, parameter: parameterOf(score, 'amount'), kinds: PARAMETER_KINDS };

/** A parameter for a number in the score: its name, its range, and what it stands at now; null where none can be. */
export const draftFrom = (score: Score, library: Library, step: Step, argument: string): Draft | null => {
  const found = operatorOf(step, library);
  const operator = found.kind === 'unknown' ? null : found.signature;
  const input = operator?.inputs[argument];
  if (!operator || !input || input.type === 'choice' || input.type === 'sampler2D') return null;
  const now = [...knobNumbers(operator, argument, step.arguments[argument])];
  const kind =
    input.type === 'int' || input.type === 'bool'
      ? input.type
      : (['float', 'vec2', 'vec3', 'vec4'] as const)[now.length - 1]!;
  return {
    isNew: true,
    from: { step: step.id, argument },
    kinds: kind === 'vec3' ? ['vec3', 'color'] : [kind],
    parameter: parameterOf(score, argument === 'x' || argument === 'y' ? 'amount' : argument, {
      ...{ kind, default: now, unit: input.unit ?? '' },
      ...{ min: Math.min(input.min ?? 0, ...now), max: Math.max(input.max ?? 1, ...now) },
    }),
  };
};
