import {
  OUTPUT_NAMES,
  OUTPUTS,
  type Argument,
  type OutputName,
  type Parameter,
  type ShaderDocument,
  type Step,
  type Strand,
} from '../document/shader.ts';
import { coerce, coerceInputs, lowerExpression, type Scope } from '../language/lowerExpression.ts';
import { SourceError, type Mistake, type Span } from '../language/mistake.ts';
import { nearestName } from '../language/nearest.ts';
import { parseExpression } from '../language/parseExpression.ts';
import { OPERATOR_NAMES, OPERATORS } from '../operators/catalogue.ts';
import type { Operator } from '../operators/declare.ts';
import { createBuilder, TypeMistake } from './builder.ts';
import { INPUTS, isInput } from './inputs.ts';
import { floatType, type Type } from './types.ts';
import type { Program, Tap, Value } from './value.ts';

/** A mistake and the place in the document where it stands. */
export interface Diagnostic extends Mistake {
  /** The strand's id, or `surface`. */
  readonly strand: string;
  /** The step's id, or the surface's output. */
  readonly step: string;
  /** The argument at fault, when it is one. */
  readonly argument: string | null;
}

export interface Lowered {
  readonly program: Program;
  /** What each knob stands at: `stepId.input` → numbers. */
  readonly knobs: ReadonlyMap<string, readonly number[]>;
  readonly diagnostics: readonly Diagnostic[];
}

/** Where surface outputs stand among taps and diagnostics. */
export const SURFACE = 'surface';

const WHOLE: Span = { from: 0, to: 0 };

export const parameterType = (kind: Parameter['kind']): Type =>
  kind === 'color' ? 'vec3' : kind === 'texture' ? 'sampler2D' : kind;

/** The knob an authored number is. */
export const knobName = (step: string, input: string): string => `${step}.${input}`;

/** The numbers an input stands at when nothing else is authored. */
export const knobNumbers = (
  operator: Operator,
  input: string,
  given: Argument | undefined,
): readonly number[] => {
  const declared = operator.inputs[input]!;
  const start = typeof declared.default === 'string' ? [0] : declared.default;
  const numbers =
    given === undefined || typeof given === 'string' ? start : typeof given === 'number' ? [given] : given;
  if (declared.type === 'any') return numbers;
  const size = { vec2: 2, vec3: 3, vec4: 4 }[declared.type as string] ?? 1;
  return Array.from({ length: size }, (_, i) => (numbers.length === 1 ? numbers[0]! : (numbers[i] ?? 0)));
};

/** Turns a document into the typed program, strand by strand, collecting what is wrong with each step. */
export const lowerShader = (document: ShaderDocument): Lowered => {
  const b = createBuilder();
  const knobs = new Map<string, readonly number[]>();
  const diagnostics: Diagnostic[] = [];
  const taps: Tap[] = [];
  const named = new Map<string, Value>();
  const broken = new Set<string>();
  for (const { name, kind } of document.parameters) named.set(name, b.parameter(parameterType(kind), name));
  const strandNames = new Set(document.strands.map((strand) => strand.name));

  const scope: Scope = {
    resolve: (name) => named.get(name) ?? (isInput(name) ? b.input(name) : null),
    names: () => [...named.keys(), ...Object.keys(INPUTS)],
    explain: (name) =>
      broken.has(name)
        ? { message: `“${name}” has a mistake in it; mend that first.`, follows: true }
        : strandNames.has(name)
          ? {
              message: `“${name}” is not written above; a strand may use only strands above it.`,
              follows: false,
            }
          : null,
  };

  const attempt = <T>(place: Omit<Diagnostic, keyof Mistake>, work: () => T): T | null => {
    try {
      return work();
    } catch (error) {
      if (error instanceof SourceError) diagnostics.push({ ...place, ...error.mistake });
      else if (error instanceof TypeMistake)
        diagnostics.push({ ...place, ...WHOLE, message: `${error.message}.` });
      else throw error;
      return null;
    }
  };

  const readExpression = (text: string): Value => {
    const { expression, mistake } = parseExpression(text);
    if (!expression) throw new SourceError(mistake);
    return lowerExpression(b, expression, scope);
  };

  const argumentValue = (step: Step, operator: Operator, name: string): Value => {
    const given = step.arguments[name];
    const declared = operator.inputs[name]!;
    if (typeof given === 'string') return readExpression(given);
    if (given === undefined && typeof declared.default === 'string') return b.input(declared.default);
    const numbers = knobNumbers(operator, name, given);
    const type = declared.type === 'any' ? floatType(numbers.length) : declared.type;
    knobs.set(knobName(step.id, name), numbers);
    return b.knob(type, knobName(step.id, name));
  };

  const lowerStep = (strand: Strand, step: Step, left: Value | null): Value | null => {
    const place = { strand: strand.id, step: step.id };
    const operator = OPERATORS.get(step.operator);
    if (!operator) {
      const near = nearestName(step.operator, OPERATOR_NAMES);
      diagnostics.push({
        ...place,
        ...WHOLE,
        argument: null,
        message: `There is no operator “${step.operator}”.${near ? ` Did you mean ${near}?` : ''}`,
      });
      return null;
    }
    if (step.muted && left) return left;
    const unknown = Object.keys(step.arguments).find((name) => !Object.hasOwn(operator.inputs, name));
    if (unknown !== undefined)
      diagnostics.push({
        ...place,
        ...WHOLE,
        argument: unknown,
        message: `${operator.name} has no argument “${unknown}”; it has ${Object.keys(operator.inputs).join(', ')}.`,
      });
    const given: Record<string, { value: Value; at: Span }> = {};
    for (const name of Object.keys(operator.inputs)) {
      const flows = name === operator.flow && left && step.arguments[name] === undefined;
      const value = flows
        ? left
        : attempt({ ...place, argument: name }, () => argumentValue(step, operator, name));
      if (value) given[name] = { value, at: WHOLE };
    }
    if (Object.keys(given).length < Object.keys(operator.inputs).length) return null;
    return attempt({ ...place, argument: null }, () => operator.lower(b, coerceInputs(b, operator, given)));
  };

  for (const strand of document.strands) {
    let left: Value | null = null;
    let whole = strand.steps.length > 0;
    strand.steps.forEach((step, i) => {
      if (!whole) return;
      left = b.within({ strand: strand.name, step: step.id }, () => lowerStep(strand, step, left));
      whole = left !== null;
      const last = i === strand.steps.length - 1;
      if (left)
        taps.push({
          strand: strand.id,
          step: step.id,
          label: last ? strand.name : `${strand.name}_${step.operator}`,
          value: left,
        });
    });
    if (whole && left) named.set(strand.name, left);
    else {
      broken.add(strand.name);
      if (!strand.steps.length)
        diagnostics.push({
          strand: strand.id,
          step: '',
          argument: null,
          ...WHOLE,
          message: `${strand.name} has no steps yet; add one to give it a value.`,
        });
    }
  }

  const outputs: Partial<Record<OutputName, Value>> = {};
  for (const name of OUTPUT_NAMES) {
    const text = document.surface.outputs[name];
    if (text === undefined) continue;
    const value = attempt({ strand: SURFACE, step: name, argument: name }, () =>
      coerce(b, readExpression(text), OUTPUTS[name].type, { from: 0, to: text.length }, OUTPUTS[name].label),
    );
    if (!value) continue;
    outputs[name] = value;
    taps.push({ strand: SURFACE, step: name, label: `${name}Output`, value });
  }
  const parameters = document.parameters.map(({ name, kind }) => ({ name, type: parameterType(kind) }));
  return { program: { outputs: outputs as Record<string, Value>, taps, parameters }, knobs, diagnostics };
};
