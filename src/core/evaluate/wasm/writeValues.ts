import { componentsOf, type Type } from '../../program/types.ts';
import { reachable, type ProgramFunction, type Value } from '../../program/value.ts';
import { createCode, type Code, type Part } from './code.ts';
import type { Kind, WasmFunction } from './encodeModule.ts';
import { foldOperation } from './foldOperation.ts';
import { IMPORTS, kindOf } from './host.ts';
import { writeOperation } from './operations.ts';

/** A value being computed, component by component. */
export type Parts = readonly Part[];

/** Values a function may hold and still be written in place at each of its uses. */
const SMALL = 400;
/** Values that the rounds of a loop may hold together and still be written one after another. */
const UNROLLED = 1200;
/** Values in all that may be written in place; functions are called from there on. */
const MOST_IN_PLACE = 20_000;
export const isSlope = (value: Value): boolean =>
  value.op === 'dFdx' || value.op === 'dFdy' || value.op === 'fwidth';

/** What is left to the interpreter: rare, and a host's work in any case. */
export const NOT_WRITTEN: ReadonlySet<Value['op']> = new Set([
  ...(['textureLod', 'textureGrad', 'texelFetch', 'textureWidth', 'textureHeight'] as const),
  ...(['packHalf2x16', 'packSnorm2x16', 'packUnorm2x16'] as const),
  ...(['unpackHalf2x16', 'unpackSnorm2x16', 'unpackUnorm2x16'] as const),
]);
/** True where the module can hold an operation. */
export const isWritten = (value: Value): boolean =>
  !NOT_WRITTEN.has(value.op) &&
  !(
    value.op === 'texture' &&
    (value.inputs.length > 2 || value.payload || value.inputs[0]!.type === 'sampler3D')
  );

interface Facts {
  readonly values: readonly Value[];
  /** What writing the function in place writes, calls within it included. */
  readonly weight: number;
  /** False where it holds slopes, code that only a graphics card runs, or what is not written, at any depth. */
  readonly fits: boolean;
  /** What depends on the first two arguments: in a loop's body, what changes from round to round. */
  readonly changing: ReadonlySet<Value>;
}

const facts = new WeakMap<ProgramFunction, Facts>();
export const factsOf = (fn: ProgramFunction): Facts => {
  const known = facts.get(fn);
  if (known) return known;
  const values = reachable([fn.result]);
  const called = values.flatMap((value) => (value.fn ? [factsOf(value.fn)] : []));
  const made: Facts = {
    values,
    weight: values.length + called.reduce((sum, each) => sum + each.weight, 0),
    fits:
      !fn.opaque &&
      !values.some((value) => isSlope(value) || !isWritten(value)) &&
      called.every((each) => each.fits),
    changing: dependents(values, (value) => value.op === 'argument' && (value.payload as number) < 2),
  };
  facts.set(fn, made);
  return made;
};

/** The values that are one of the given kind or depend on one. */
export const dependents = (values: readonly Value[], is: (value: Value) => boolean): ReadonlySet<Value> => {
  const found = new Set<Value>();
  for (const value of values)
    if (is(value) || value.inputs.some((input) => found.has(input))) found.add(value);
  return found;
};

const constantParts = (value: Value): Parts =>
  (value.payload as readonly number[]).map((constant) => ({ kind: kindOf(value.type), constant }));

export const kindsOf = (type: Type): Kind[] => Array.from({ length: componentsOf(type) }, () => kindOf(type));

/** Writes values, and the functions they call: in place where they are small, else once for the whole module. */
export const createWriter = () => {
  const functions: WasmFunction[] = [];
  const places = new Map<ProgramFunction, number>();
  let inPlace = 0;

  /** The body of a function, with its arguments in the given parts. */
  const writeBody = (
    code: Code,
    values: readonly Value[],
    made: Map<Value, Parts>,
    args: readonly Parts[],
  ): void => {
    for (const value of values)
      if (!made.has(value))
        made.set(value, value.op === 'argument' ? args[value.payload as number]! : write(code, value, made));
  };

  const isWrittenInPlace = (fn: ProgramFunction): boolean => {
    const { weight } = factsOf(fn);
    if (weight > SMALL || inPlace + weight > MOST_IN_PLACE) return false;
    inPlace += weight;
    return true;
  };

  /** The number of a function of its own, written when it is first asked for. */
  const placeOf = (fn: ProgramFunction): number => {
    let place = places.get(fn);
    if (place === undefined) {
      const parameters = fn.parameters.map((each) => kindsOf(each.type));
      const code = createCode(parameters.flat());
      let local = 0;
      const args = parameters.map((kinds) => kinds.map((kind): Part => ({ kind, local: local++ })));
      const made = new Map<Value, Parts>();
      writeBody(code, factsOf(fn).values, made, args);
      code.get(...made.get(fn.result)!);
      place = functions.push(code.finish(kindsOf(fn.result.type))) - 1;
      places.set(fn, place);
    }
    return place + IMPORTS.length;
  };

  const keepResults = (code: Code, type: Type): Parts =>
    kindsOf(type)
      .map((kind) => code.keep(kind))
      .reverse();

  const writeCall = (code: Code, fn: ProgramFunction, args: readonly Parts[]): Parts => {
    if (isWrittenInPlace(fn)) {
      const made = new Map<Value, Parts>();
      writeBody(code, factsOf(fn).values, made, args);
      return made.get(fn.result)!;
    }
    const place = placeOf(fn);
    code.get(...args.flat());
    code.call(place);
    return keepResults(code, fn.result.type);
  };

  const writeIterate = (code: Code, fn: ProgramFunction, inputs: readonly Parts[]): Parts => {
    const [count, initial, ...rest] = inputs as [Parts, Parts, ...Parts[]];
    const rounds = count[0]!.constant;
    if (rounds !== undefined && rounds * factsOf(fn).weight <= UNROLLED) {
      let state = initial;
      for (let i = 0; i < rounds; i += 1)
        state = writeCall(code, fn, [[{ kind: 'i32', constant: i }], state, ...rest]);
      return state;
    }
    const i = code.local('i32');
    const state = initial.map((part) => code.local(part.kind));
    // A loop within another starts over each time.
    code.constant('i32', 0);
    code.set(i);
    initial.forEach((part, c) => {
      code.get(part);
      code.set(state[c]!);
    });
    const args = [[i], state, ...rest];
    const before = new Map<Value, Parts>();
    const inside = isWrittenInPlace(fn);
    const { values, changing } = factsOf(fn);
    if (inside)
      writeBody(
        code,
        values.filter((value) => !changing.has(value)),
        before,
        args,
      );
    code.repeat(
      () => {
        code.get(i, count[0]!);
        code.op('i32.lt_s');
      },
      () => {
        if (inside) {
          writeBody(code, values, before, args);
          code.get(...before.get(fn.result)!);
        } else {
          const place = placeOf(fn);
          code.get(...args.flat());
          code.call(place);
        }
        for (const part of state.toReversed()) code.set(part);
        code.get(i);
        code.constant('i32', 1);
        code.op('i32.add');
        code.set(i);
      },
    );
    return state;
  };

  const write = (code: Code, value: Value, made: ReadonlyMap<Value, Parts>): Parts => {
    if (value.op === 'constant') return constantParts(value);
    const inputs = value.inputs.map((input) => made.get(input)!);
    if (value.op === 'call') return writeCall(code, value.fn!, inputs);
    if (value.op === 'iterate') return writeIterate(code, value.fn!, inputs);
    return foldOperation(value, inputs) ?? writeOperation(code, value, inputs);
  };

  return { write, functions };
};
