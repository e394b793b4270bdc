import { surfaceLocals } from '../../language/names/glslNames.ts';
import { INPUTS, type InputName } from '../../program/inputs.ts';
import {
  functionsOf,
  reachableInside,
  type ProgramFunction,
  type Tap,
  type Value,
} from '../../program/value.ts';
import type { Dialect, Line } from './dialect.ts';
import { withNeeds, type InputRead, type Reads } from './reads.ts';
import { nameFunctions, writeFunctions, writeStatements } from './statements.ts';

export interface StageWriting {
  readonly roots: readonly Value[];
  /** Steps whose names the values go by. */
  readonly taps: readonly Tap[];
  readonly reads: Reads;
  /** Inputs that the stage itself reads. */
  readonly alsoRead: readonly InputName[];
  /** How values from outside are read: parameters, uniforms. What lies behind them is computed elsewhere. */
  readonly outside: (value: Value) => string | null;
  /** Names that no value may be given. */
  readonly kept: Iterable<string>;
  /** What functions are called, where that is decided already. */
  readonly functions?: ReadonlyMap<ProgramFunction, string>;
  /** A line on what each strand is for. */
  readonly notes?: ReadonlyMap<string, string> | undefined;
}

/** Writes one stage's computation: reads, strands, and what each root is called. */
export const writeStage = (
  dialect: Dialect,
  { roots, taps, reads, alsoRead, outside: isRead, kept, functions: named, notes }: StageWriting,
) => {
  const wished = new Map<Value, string>();
  // A value goes by the name of the step that first made it; one met again elsewhere keeps that name.
  for (const tap of taps)
    if (!wished.has(tap.value) && tap.value.origin?.step === tap.step) wished.set(tap.value, tap.label);
  // Asked of every value several times over.
  const answers: (string | null | undefined)[] = [];
  const outside = (value: Value): string | null => {
    const known = answers[value.id];
    return known === undefined ? (answers[value.id] = isRead(value)) : known;
  };
  const reached = reachableInside(roots, (value) => outside(value) === null);
  const values = reached.filter((value) => outside(value) === null);
  const given = values.filter((value) => value.op === 'input').map((value) => value.payload as InputName);
  const inputs = withNeeds(new Set([...given, ...alsoRead]), reads);
  const taken = new Set([...dialect.reserved, ...kept]);
  const functions = named ?? nameFunctions(functionsOf(values), taken);
  const { lines, textOf } = writeStatements(dialect, roots, {
    ...{ wished, taken, functions, outside, values: reached },
    heading: (strand) => {
      const note = notes?.get(strand);
      return note ? `${strand}: ${note}` : strand;
    },
  });
  const readLines = inputs.flatMap((name) => {
    const text = reads[name]?.text;
    return text === undefined ? [] : [dialect.declare(INPUTS[name].type, name, text)];
  });
  const every = <T>(part: (read: InputRead) => readonly T[] | undefined): T[] =>
    inputs.flatMap((name) => (reads[name] && part(reads[name])) ?? []);
  return {
    inputs,
    /** What is read from outside, and what is computed from it. */
    reached,
    from: every((read) => read.from),
    mesh: every((read) => read.mesh),
    callsScreenOf: inputs.some((name) => reads[name]?.calls === 'screenOf'),
    lines: [...plainLines(readLines), ...lines],
    functions: functionLines(dialect, values, functions),
    text: textOf,
    locals: surfaceLocals(taken),
  };
};

export const plainLines = (texts: readonly string[]): Line[] => texts.map((text) => ({ text, step: null }));
export const indent = (lines: readonly Line[]): Line[] =>
  lines.map((line) => ({ ...line, text: `  ${line.text}` }));
export const joined = (lines: readonly Line[]): string => lines.map((line) => line.text).join('\n');

/** Each function's lines, linked to the step that first calls it; definitions belong to none. */
const functionLines = (
  dialect: Dialect,
  values: readonly Value[],
  names: ReadonlyMap<ProgramFunction, string>,
): Line[] => {
  const steps = new Map<ProgramFunction, string | null>();
  const visit = (fn: ProgramFunction, step: string | null) => {
    if (steps.has(fn)) return;
    steps.set(fn, step);
    for (const inner of functionsOf([fn.result])) visit(inner, step);
  };
  for (const value of values) if (value.fn) visit(value.fn, value.origin?.step ?? null);
  const used = functionsOf(values);
  const texts = writeFunctions(dialect, values, names);
  const defined = texts.length - used.length;
  return texts.flatMap((text, i): Line[] => {
    const fn = used[i - defined];
    const step = (fn && steps.get(fn)) ?? null;
    const asWritten = fn?.opaque !== undefined;
    return [...text.split('\n').map((line) => ({ text: line, step, asWritten })), ...plainLines([''])];
  });
};
