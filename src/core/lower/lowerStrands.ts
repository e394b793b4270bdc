import { reaches, type Library, type NamedMotif } from '../document/motif.ts';
import type { Argument, Step, Strand } from '../document/shader.ts';
import { lowerCode } from './code/codeOperator.ts';
import { coerceInputs, defaultOf, type ArgumentValue } from './coerceInputs.ts';
import { lowerArgument, type Scope } from './lowerArgument.ts';
import { fail, SourceError, type Mistake, type Span } from '../language/mistake.ts';
import { nearestName } from '../language/nearest.ts';
import { parseExpression } from '../language/parseExpression.ts';
import type { OperatorInput } from '../operators/declare.ts';
import { TypeMistake, type Builder } from '../program/builder.ts';
import { INPUT_NAMES, isInput } from '../program/inputs.ts';
import { operatorOf, type Signature } from './stepOperator.ts';
import { componentsOf, floatType, type Type } from '../program/types.ts';
import type { Tap, Value } from '../program/value.ts';

/** A mistake and the place in the document where it stands. */
export interface Diagnostic extends Mistake {
  /** The strand's id, or `surface`. */
  readonly strand: string;
  /** The step's id, or the surface's output. */
  readonly step: string;
  /** The argument at fault, when it is one; `code` for the step's own code. */
  readonly argument: string | null;
  /** Who says so, where it is not the compiler. */
  readonly by?: 'driver';
}

/** What lowering a document gathers as it goes. */
export interface Lowering {
  readonly b: Builder;
  readonly library: Library;
  /** What each knob stands at: `stepId.input` → numbers. */
  readonly knobs: Map<string, readonly number[]>;
  readonly diagnostics: Diagnostic[];
  /** What is worth knowing and not wrong: why code is opaque. */
  readonly notes: Diagnostic[];
  readonly taps: Tap[];
}

const WHOLE: Span = { from: 0, to: 0 };
/** Motifs inside motifs, at most. */
const DEEPEST_MOTIF = 32;

/** The knob an authored number is. */
export const knobName = (step: string, input: string): string => `${step}.${input}`;

/** The numbers an input stands at when nothing else is authored. */
export const knobNumbers = (
  signature: Signature,
  input: string,
  given: Argument | undefined,
): readonly number[] => {
  const declared = signature.inputs[input]!;
  const start = typeof declared.default === 'string' ? [0] : declared.default;
  const numbers =
    given === undefined || typeof given === 'string' ? start : typeof given === 'number' ? [given] : given;
  if (declared.type === 'any' || declared.type === 'choice') return numbers;
  const size = componentsOf(declared.type as Type);
  if (numbers.length === size) return numbers;
  return Array.from({ length: size }, (_, i) => (numbers.length === 1 ? numbers[0]! : (numbers[i] ?? 0)));
};

/** The word a choice stands at, or null where what is authored is none of its words. */
export const chosenWord = (input: OperatorInput, given: Argument | undefined): string | null => {
  const options = input.options!;
  if (given === undefined) return options[0]!;
  if (typeof given === 'number') return options[given] ?? null;
  return typeof given === 'string' && options.includes(given) ? given : null;
};

/** Names, outermost first, that a scope adds to what the shader is given. */
export interface Names {
  readonly values: Map<string, Value>;
  /** Members that stand for a value each: `grain.seed`. */
  readonly members: ReadonlyMap<string, ReadonlyMap<string, Value>>;
}

/** What names mean while strands are read one after another. */
export const scopeOf = (
  b: Builder,
  names: Names,
  strands: readonly Strand[],
  broken: ReadonlySet<string>,
): Scope => {
  const strandNames = new Set(strands.map((strand) => strand.name));
  return {
    resolve: (name) => names.values.get(name) ?? (isInput(name) ? b.input(name) : null),
    member: (name, member) => names.members.get(name)?.get(member) ?? null,
    names: () => [...names.values.keys(), ...names.members.keys(), ...INPUT_NAMES],
    explain: (name) => {
      if (broken.has(name))
        return { message: `“${name}” has a mistake in it; mend that first.`, follows: true };
      const members = names.members.get(name);
      if (members)
        return {
          message: `“${name}” is noise; read ${[...members.keys()].map((each) => `${name}.${each}`).join(' or ')}.`,
          follows: false,
        };
      return strandNames.has(name)
        ? {
            message: `“${name}” is not written above; a strand may use only strands above it.`,
            follows: false,
          }
        : null;
    },
  };
};

/** Runs a part of the lowering; mistakes are noted at their place and give null. */
export const attempt = <T>(to: Lowering, place: Omit<Diagnostic, keyof Mistake>, work: () => T): T | null => {
  try {
    return work();
  } catch (error) {
    if (error instanceof SourceError) {
      const { mistake } = error;
      to.diagnostics.push({ ...place, ...(error.inCode ? { argument: 'code' } : {}), ...mistake });
    } else if (error instanceof TypeMistake)
      to.diagnostics.push({ ...place, ...WHOLE, message: `${error.message}.` });
    else throw error;
    return null;
  }
};

export const readExpression = (b: Builder, text: string, scope: Scope): Value => {
  const { expression, mistake } = parseExpression(text);
  if (!expression) throw new SourceError(mistake);
  return lowerArgument(b, expression, scope);
};

interface Within {
  readonly to: Lowering;
  readonly scope: Scope;
  /** Set before the ids of a motif's steps, so that its knobs are its own. */
  readonly prefix: string;
  /** Motifs being lowered, outermost first. */
  readonly inside: readonly string[];
}

const argumentValue = (within: Within, step: Step, signature: Signature, name: string): Value => {
  const { b, knobs } = within.to;
  const given = step.arguments[name];
  const declared = signature.inputs[name]!;
  if (typeof given === 'string') return readExpression(b, given, within.scope);
  if (given === undefined && (typeof declared.default === 'string' || declared.type === 'sampler2D'))
    return defaultOf(b, signature, name, WHOLE);
  const numbers = knobNumbers(signature, name, given);
  const type = declared.type === 'any' ? floatType(numbers.length) : (declared.type as Type);
  const knob = knobName(within.prefix + step.id, name);
  knobs.set(knob, numbers);
  return b.knob(type, knob);
};

/** The inputs that stand at numbers: authored, or constants of an expression. */
const plainNumbers = (
  { knobs }: Lowering,
  authored: Readonly<Record<string, ArgumentValue>>,
): Readonly<Record<string, readonly number[] | undefined>> => {
  const plain: Record<string, readonly number[] | undefined> = {};
  for (const name in authored) {
    const { op, payload } = authored[name]!.value;
    if (op === 'knob') plain[name] = knobs.get(payload as string);
    else if (op === 'constant') plain[name] = payload as readonly number[];
  }
  return plain;
};

const unknownArgument = (step: Step, { inputs }: Signature): string | undefined => {
  for (const name in step.arguments) if (!Object.hasOwn(inputs, name)) return name;
  return undefined;
};

const lowerStep = (within: Within, strand: Strand, step: Step, left: Value | null): Value | null => {
  const { to } = within;
  const { b } = to;
  const place = { strand: strand.id, step: step.id };
  const found = operatorOf(step, to.library);
  if (found.kind === 'unknown') {
    to.diagnostics.push({ ...place, argument: found.argument, ...found.mistake });
    return null;
  }
  const { signature } = found;
  if (step.muted && left) return left;
  const unknown = unknownArgument(step, signature);
  if (unknown !== undefined) {
    const near = nearestName(unknown, Object.keys(signature.inputs));
    to.diagnostics.push({
      ...place,
      ...WHOLE,
      argument: unknown,
      message: `${signature.name} has no argument “${unknown}”${near ? `; did you mean ${near}?` : `; it has ${Object.keys(signature.inputs).join(', ') || 'none'}.`}`,
    });
    return null;
  }
  const authored: Record<string, ArgumentValue> = {};
  const chosen: Record<string, string> = {};
  for (const name in signature.inputs) {
    const input = signature.inputs[name]!;
    const text = step.arguments[name];
    if (input.type === 'choice') {
      const word = chosenWord(input, text);
      if (word === null) {
        const near = typeof text === 'string' ? nearestName(text, input.options!) : null;
        to.diagnostics.push({
          ...place,
          argument: name,
          from: 0,
          to: typeof text === 'string' ? text.length : 0,
          message: `${signature.name}’s ${name} is one of ${input.options!.join(', ')}, not “${String(text)}”.`,
          ...(near ? { fix: { label: `change to ${near}`, text: near } } : {}),
        });
        return null;
      }
      chosen[name] = word;
      continue;
    }
    const value =
      name === signature.flow && text === undefined && left
        ? left
        : attempt(to, { strand: strand.id, step: step.id, argument: name }, () =>
            argumentValue(within, step, signature, name),
          );
    if (!value) return null;
    authored[name] = { value, at: typeof text === 'string' ? { from: 0, to: text.length } : WHOLE };
  }
  return attempt(to, { strand: strand.id, step: step.id, argument: null }, () => {
    const inputs = coerceInputs(b, signature, authored);
    switch (found.kind) {
      case 'operator': {
        const { doubt: ask } = found.signature;
        const doubt = ask?.(plainNumbers(to, authored));
        if (doubt) to.notes.push({ ...place, ...WHOLE, argument: null, message: doubt });
        return found.signature.lower(b, inputs, chosen);
      }
      case 'code':
        return inCode(() =>
          lowerCode(
            b,
            found.code,
            inputs,
            {
              resolve: within.scope.resolve,
              names: within.scope.names,
              explain: (name) => within.scope.explain?.(name) ?? null,
            },
            (why, at) =>
              to.notes.push({
                ...place,
                ...at,
                argument: 'code',
                message: `This runs on the graphics card as you wrote it, and nowhere else: ${why}.`,
              }),
          ),
        );
      case 'motif':
        return lowerMotif(within, found.motif, inputs, step);
    }
  });
};

/** Marks mistakes as standing in a step's code. */
const inCode = <T>(work: () => T): T => {
  try {
    return work();
  } catch (error) {
    if (error instanceof SourceError) throw new SourceError(error.mistake, true);
    throw error;
  }
};

/** A motif's strands in the place of a step. @throws SourceError where it goes in a circle or has a mistake */
const lowerMotif = (
  within: Within,
  motif: NamedMotif,
  inputs: Readonly<Record<string, Value>>,
  step: Step,
): Value => {
  const { to, inside } = within;
  if (inside.includes(motif.id))
    return fail(WHOLE, `The motif ${motif.name} uses itself; a motif cannot go in a circle.`);
  if (inside.length >= DEEPEST_MOTIF)
    return fail(WHOLE, `Motifs stand more than ${DEEPEST_MOTIF} deep in each other here.`);
  const own: Lowering = { ...to, diagnostics: [], taps: [] };
  const values = new Map(Object.entries(inputs));
  const made = lowerStrands(own, motif.body.strands, { values, members: new Map() }, `${motif.id}/`, [
    ...inside,
    motif.id,
  ]);
  const output = motif.body.outputs.find((each) => each.name === step.output) ?? motif.body.outputs[0];
  const wrong = own.diagnostics[0];
  if (wrong) {
    const at = motif.body.strands.find((each) => each.id === wrong.strand);
    return fail(
      WHOLE,
      `The motif ${motif.name} has a mistake${at ? ` in ${at.name}` : ''}: ${wrong.message}`,
    );
  }
  if (step.output !== undefined && output?.name !== step.output)
    return fail(
      WHOLE,
      `The motif ${motif.name} has no output “${step.output}”; it has ${motif.body.outputs.map((each) => each.name).join(', ') || 'none'}.`,
    );
  if (!output) return fail(WHOLE, `The motif ${motif.name} has no output yet; open it and name one.`);
  try {
    return readExpression(to.b, output.expression, made.scope);
  } catch (error) {
    if (error instanceof SourceError)
      return fail(WHOLE, `The motif ${motif.name}’s output ${output.name}: ${error.mistake.message}`);
    throw error;
  }
};

/** Lowers strands one after another; each may use those above it. */
export const lowerStrands = (
  to: Lowering,
  strands: readonly Strand[],
  names: Names,
  prefix = '',
  inside: readonly string[] = [],
): { readonly scope: Scope } => {
  const broken = new Set<string>();
  const scope = scopeOf(to.b, names, strands, broken);
  const within: Within = { to, scope, prefix, inside };
  for (const strand of strands) {
    let left: Value | null = null;
    let whole = strand.steps.length > 0;
    strand.steps.forEach((step, i) => {
      if (!whole) return;
      left = to.b.within({ strand: strand.name, step: prefix + step.id }, () =>
        lowerStep(within, strand, step, left),
      );
      whole = left !== null;
      const last = i === strand.steps.length - 1;
      if (left)
        to.taps.push({
          strand: strand.id,
          step: step.id,
          label: last ? strand.name : `${strand.name}_${step.operator}`,
          value: left,
        });
    });
    if (whole && left) names.values.set(strand.name, left);
    else {
      broken.add(strand.name);
      if (!strand.steps.length)
        to.diagnostics.push({
          ...{ strand: strand.id, step: '', argument: null, ...WHOLE },
          message: `${strand.name} has no steps yet; add one to give it a value.`,
        });
    }
  }
  return { scope };
};

/** True where a motif may be used by another without going in a circle. */
export const mayUse = (library: Library, user: string, used: string): boolean =>
  !reaches(library, used, user);
