import { filled } from '../numbers/filled.ts';
import { nextFunction } from './builder.ts';
import type { Type } from './types.ts';
import {
  functionsOf,
  reachable,
  rootsOf,
  type Origin,
  type Program,
  type ProgramFunction,
  type Tap,
  type Value,
} from './value.ts';

/** Values as columns: a value's inputs stand before it, so that depth is no limit to whoever copies them. */
export interface PackedValues {
  /** Every word that operations, types and origins are spelled with. */
  readonly words: readonly string[];
  readonly ops: Uint16Array;
  readonly types: Uint16Array;
  /** Two words each: strand and step; 0 for none. */
  readonly origins: Uint16Array;
  /** Where each value's inputs end among `inputs`. */
  readonly ends: Uint32Array;
  readonly inputs: Uint32Array;
  readonly payloads: readonly Value['payload'][];
  /** The called function, from 1; 0 for none. */
  readonly functions: Uint16Array;
}

type PackedFunction = Omit<ProgramFunction, 'id' | 'result' | 'locals'> & {
  readonly values: PackedValues;
  readonly result: number;
  readonly locals: readonly (readonly [value: number, name: string])[];
};

/** A program as plain data: it can be sent to another thread whatever its shape. */
export interface PackedProgram {
  readonly functions: readonly PackedFunction[];
  readonly values: PackedValues;
  readonly outputs: readonly (readonly [name: string, value: number])[];
  readonly taps: readonly (Omit<Tap, 'value'> & { readonly value: number })[];
  readonly rest: Omit<Program, 'outputs' | 'taps'>;
}

const packValues = (
  values: readonly Value[],
  functionNumbers: ReadonlyMap<ProgramFunction, number>,
): { readonly packed: PackedValues; readonly numberOf: (value: Value) => number } => {
  const words: string[] = [''];
  const known = new Map([['', 0]]);
  const word = (text: string): number => {
    let number = known.get(text);
    if (number === undefined) known.set(text, (number = words.push(text) - 1));
    return number;
  };
  const numbers = new Uint32Array((values.at(-1)?.id ?? -1) + 1);
  values.forEach((value, i) => (numbers[value.id] = i));
  const inputs: number[] = [];
  const ends = new Uint32Array(values.length);
  values.forEach((value, i) => {
    for (const input of value.inputs) inputs.push(numbers[input.id]!);
    ends[i] = inputs.length;
  });
  const packed: PackedValues = {
    ops: filled(new Uint16Array(values.length), (i) => word(values[i]!.op)),
    types: filled(new Uint16Array(values.length), (i) => word(values[i]!.type)),
    origins: Uint16Array.from(
      values.flatMap(({ origin }) => (origin ? [word(origin.strand), word(origin.step)] : [0, 0])),
    ),
    ...{ ends, inputs: Uint32Array.from(inputs), words },
    payloads: values.map((value) => value.payload),
    functions: filled(new Uint16Array(values.length), (i) => {
      const { fn } = values[i]!;
      return fn ? functionNumbers.get(fn)! : 0;
    }),
  };
  return { packed, numberOf: (value) => numbers[value.id]! };
};

const unpackValues = (packed: PackedValues, functions: readonly ProgramFunction[]): Value[] => {
  const { words, ops, types, origins, ends, inputs, payloads } = packed;
  const values: Value[] = [];
  let origin: Origin | null = null;
  let last = 0;
  let from = 0;
  for (let id = 0; id < ops.length; id += 1) {
    const step = origins[id * 2 + 1]!;
    // Neighbours are mostly of one step.
    if (step !== last) origin = step ? { strand: words[origins[id * 2]!]!, step: words[step]! } : null;
    last = step;
    const to = ends[id]!;
    const own = new Array<Value>(to - from);
    for (let i = from; i < to; i += 1) own[i - from] = values[inputs[i]!]!;
    from = to;
    values.push({
      ...{ id, op: words[ops[id]!]! as Value['op'], type: words[types[id]!]! as Type, inputs: own },
      ...{ payload: payloads[id]!, fn: functions[packed.functions[id]! - 1] ?? null, origin },
    });
  }
  return values;
};

/** @returns the program, and the number that each of its values goes by there */
export const packProgram = (
  program: Program,
): { readonly packed: PackedProgram; readonly numberOf: (value: Value) => number } => {
  const values = reachable(rootsOf(program));
  const functions = functionsOf(values);
  const functionNumbers = new Map(functions.map((fn, i) => [fn, i + 1]));
  const { packed, numberOf } = packValues(values, functionNumbers);
  const { outputs, taps, ...rest } = program;
  return {
    numberOf,
    packed: {
      ...{ values: packed, rest },
      functions: functions.map(({ id: _, result, locals, ...fn }) => {
        const body = packValues(reachable([result]), functionNumbers);
        const inside = new Set(reachable([result]));
        return {
          ...fn,
          values: body.packed,
          result: body.numberOf(result),
          locals: [...locals].flatMap(([value, name]) =>
            inside.has(value) ? [[body.numberOf(value), name] as const] : [],
          ),
        };
      }),
      outputs: Object.entries(outputs).map(([name, value]) => [name, numberOf(value)]),
      taps: taps.map((tap) => ({ ...tap, value: numberOf(tap.value) })),
    },
  };
};

/** @returns the program, and its values by the numbers they were packed under */
export const unpackProgram = (
  packed: PackedProgram,
): { readonly program: Program; readonly values: readonly Value[] } => {
  const functions: ProgramFunction[] = [];
  for (const { values, result, locals, ...fn } of packed.functions) {
    const body = unpackValues(values, functions);
    functions.push({
      ...{ ...fn, id: nextFunction(), result: body[result]! },
      locals: new Map(locals.map(([value, name]) => [body[value]!, name])),
    });
  }
  const values = unpackValues(packed.values, functions);
  return {
    values,
    program: {
      ...packed.rest,
      outputs: Object.fromEntries(packed.outputs.map(([name, value]) => [name, values[value]!])),
      taps: packed.taps.map((tap) => ({ ...tap, value: values[tap.value]! })),
    },
  };
};
