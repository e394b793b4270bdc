import type { Library, NamedMotif } from '../document/motif.ts';
import type { Parameter, ParameterKind, Step } from '../document/shader.ts';
import { readCode } from './code/codeOperator.ts';
import type { Analysed } from '../language/glsl/analyseModule.ts';
import type { Mistake } from '../language/mistake.ts';
import { nearestName } from '../language/nearest.ts';
import { OPERATOR_NAMES, OPERATORS } from '../operators/catalogue.ts';
import type { Operator, OperatorInput } from '../operators/declare.ts';
import { INPUTS, isInput } from '../program/inputs.ts';
import type { Type } from '../program/types.ts';

/** The steps whose operator the author makes. */
export const CODE = 'code';
export const MOTIF = 'motif';

/** A parameter's type in the program. Noise is two whole numbers, and has none of its own. */
export const parameterType = (kind: ParameterKind): Type => {
  switch (kind) {
    case 'color':
      return 'vec3';
    case 'texture':
    case 'curve':
    case 'gradient':
      return 'sampler2D';
    case 'noise':
      return 'int';
    default:
      return kind;
  }
};

/** What a step takes and gives: its card, its arguments and its help are read off this. */
export type Signature = Omit<Operator, 'lower'>;

export type StepOperator =
  | { readonly kind: 'operator'; readonly signature: Operator }
  | { readonly kind: 'code'; readonly signature: Signature; readonly code: Analysed }
  | { readonly kind: 'motif'; readonly signature: Signature; readonly motif: NamedMotif }
  | { readonly kind: 'unknown'; readonly mistake: Mistake; readonly argument: string | null };

const motifInput = (input: Parameter & { readonly reads?: string }): OperatorInput => {
  const type = parameterType(input.kind);
  const told = { min: input.min, max: input.max, unit: input.unit, summary: input.description };
  if (type === 'sampler2D') return { type, default: [], reads: input.kind as 'texture', ...told };
  const { reads } = input;
  if (reads !== undefined && isInput(reads) && INPUTS[reads].type === type)
    return { type, default: reads, ...told };
  const numbers = input.kind === 'color' ? input.default.slice(0, 3) : input.default;
  return { type, default: numbers, ...told };
};

const motifSignature = ({ name, body }: NamedMotif): Signature => ({
  name,
  family: 'value',
  summary: body.description || 'A motif of this project.',
  inputs: Object.fromEntries(body.parameters.map((each) => [each.name, motifInput(each)])),
  flow: body.parameters[0]?.name ?? null,
});

const unknown = (
  message: string,
  argument: string | null = null,
  span = { from: 0, to: 0 },
): StepOperator => ({
  kind: 'unknown',
  argument,
  mistake: { ...span, message },
});

/** Finds out what a step's operator takes: one of ours, the author's code, or a motif. */
export const operatorOf = (step: Step, library: Library): StepOperator => {
  if (step.operator === CODE) {
    const read = readCode(step.code ?? '');
    return read.operator
      ? { kind: 'code', signature: read.operator, code: read.code }
      : { kind: 'unknown', mistake: read.mistake, argument: 'code' };
  }
  if (step.operator === MOTIF) {
    const motif = library.get(step.motif ?? '');
    return motif
      ? { kind: 'motif', signature: motifSignature(motif), motif }
      : unknown('This motif is not in the project any more.');
  }
  const operator = OPERATORS.get(step.operator);
  if (operator) return { kind: 'operator', signature: operator };
  const near = nearestName(step.operator, OPERATOR_NAMES);
  return unknown(`There is no operator “${step.operator}”.${near ? ` Did you mean ${near}?` : ''}`);
};
