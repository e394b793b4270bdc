import { componentsOf } from '../../program/types.ts';
import { reachable, type Value } from '../../program/value.ts';
import { createCode, type Code, type Part } from './code.ts';
import { encodeModule } from './encodeModule.ts';
import { IMPORTS, kindOf, SAMPLED } from './host.ts';
import { createWriter, dependents, factsOf, isSlope, kindsOf, type Parts, isWritten } from './writeValues.ts';

/** A column, or one number for all points, that the module reads or writes: component after component. */
export interface Slot {
  readonly value: Value;
  /** The address of its first number. */
  readonly at: number;
}

/** A module that computes a block of points, and where it looks for what. */
export interface ColumnsModule {
  readonly bytes: Uint8Array<ArrayBuffer>;
  /** Inputs with a number for each point: components are `block` numbers apart. */
  readonly varying: readonly Slot[];
  /** Parameters, knobs, samplers, and inputs that are the same at all points: components lie side by side. */
  readonly uniform: readonly Slot[];
  /** The roots' columns. */
  readonly results: readonly Slot[];
  /** How many bytes of memory it uses. */
  readonly memory: number;
}

/** WebAssembly engines take 50,000 locals in one function. */
const MOST_LOCALS = 50_000;

/** How many slopes of slopes a value holds. */
const slopeDepths = (values: readonly Value[]): ReadonlyMap<Value, number> => {
  const depths = new Map<Value, number>();
  for (const value of values) {
    const inner = Math.max(0, ...value.inputs.map((input) => depths.get(input)!));
    depths.set(value, inner + (isSlope(value) ? 1 : 0));
  }
  return depths;
};

/** The slope of what every point of the quad shares: nothing, or no number where that is not one. */
const writeFlatSlope = (code: Code, [part]: Parts): Part => {
  code.get(part!, part!);
  code.op('f32.sub');
  return code.keep('f32');
};

/** One slope for each 2×2 quad, from the columns that an earlier pass over the block stored. */
const writeSlope = (code: Code, value: Value, offset: Part, at: number, block: number): Parts => {
  code.get(offset);
  code.constant('i32', ~15);
  code.op('i32.and');
  const quad = code.keep('i32');
  const apart = (address: number, neighbour: number): void => {
    for (const place of [neighbour, 0]) {
      code.get(quad);
      code.load('f32', address + place * 4);
      code.op('f64.promote_f32');
    }
    code.op('f64.sub');
  };
  return Array.from({ length: componentsOf(value.type) }, (_, c) => {
    const address = at + c * block * 4;
    if (value.op !== 'dFdy') apart(address, 1);
    if (value.op === 'fwidth') code.op('f64.abs');
    if (value.op !== 'dFdx') apart(address, 2);
    if (value.op === 'fwidth') code.op('f64.abs', 'f64.add');
    code.op('f32.demote_f64');
    return code.keep('f32');
  });
};

/**
 * Writes values as a WebAssembly module whose `run(bytes)` computes them at the first bytes / 4 points of a block. What
 * is the same at all points is computed once, before the points; what does not change in a loop, before the loop.
 * @param given what is given anew for every point: inputs, and parameters and knobs where they differ
 * @returns null where it does not fit: code that only a graphics card runs, slopes within functions, too much of it
 */
export const emitWasm = (
  roots: readonly Value[],
  block: number,
  given: ReadonlySet<Value>,
): ColumnsModule | null => {
  const values = reachable(roots);
  if (
    values.length > MOST_LOCALS ||
    values.some((value) => !isWritten(value) || (value.fn && !factsOf(value.fn).fits))
  )
    return null;
  const isVarying = (value: Value): boolean => given.has(value);
  const moving = dependents(values, isVarying);

  // A picture's colour is written to the first four numbers.
  let memory = SAMPLED + 16;
  const reserve = (value: Value, apart: number): Slot => {
    const slot = { value, at: memory };
    memory += componentsOf(value.type) * apart * 4;
    return slot;
  };
  const isGiven = (value: Value): boolean => ['input', 'parameter', 'knob'].includes(value.op);
  const uniform = values
    .filter((value) => isGiven(value) && !moving.has(value))
    .map((value) => reserve(value, 1));
  const varying = values.filter(isVarying).map((value) => reserve(value, block));
  const results = roots.map((value) => reserve(value, block));
  const sloped = new Set(
    values.filter((value) => isSlope(value) && moving.has(value)).map((value) => value.inputs[0]!),
  );
  const slopeSlots = new Map([...sloped].map((value) => [value, reserve(value, block)]));
  const addressOf = new Map([...uniform, ...varying].map(({ value, at }) => [value, at]));

  const { write, functions } = createWriter();
  const code = createCode(['i32']);
  const bytes: Part = { kind: 'i32', local: 0 };
  const before = new Map<Value, Parts>();
  const load = (value: Value, offset: Part, apart: number): Parts =>
    kindsOf(value.type).map((kind, c) => {
      code.get(offset);
      code.load(kindOf(value.type), addressOf.get(value)! + c * apart * 4);
      return code.keep(kind);
    });
  const start: Part = { kind: 'i32', constant: 0 };
  for (const value of values)
    if (!moving.has(value))
      before.set(
        value,
        addressOf.has(value)
          ? load(value, start, 1)
          : isSlope(value)
            ? before.get(value.inputs[0]!)!.map((part) => writeFlatSlope(code, [part]))
            : write(code, value, before),
      );

  /** One pass over the block: computes what the wanted values need, and stores them. */
  const pass = (wanted: readonly Slot[]): void => {
    const offset = code.local('i32');
    const made = new Map(before);
    code.get(start);
    code.set(offset);
    const needed = neededFor(wanted.map((slot) => slot.value));
    code.repeat(
      () => {
        code.get(offset, bytes);
        code.op('i32.lt_s');
      },
      () => {
        for (const value of needed)
          if (!made.has(value))
            made.set(
              value,
              addressOf.has(value)
                ? load(value, offset, block)
                : isSlope(value)
                  ? writeSlope(code, value, offset, slopeSlots.get(value.inputs[0]!)!.at, block)
                  : write(code, value, made),
            );
        for (const { value, at } of wanted)
          made.get(value)!.forEach((part, c) => {
            code.get(offset, part);
            code.store(kindOf(value.type), at + c * block * 4);
          });
        code.get(offset);
        code.constant('i32', 4);
        code.op('i32.add');
        code.set(offset);
      },
    );
  };
  const depths = slopeDepths(values);
  const deepest = Math.max(0, ...depths.values());
  for (let depth = 0; depth < deepest; depth += 1)
    pass([...slopeSlots.values()].filter(({ value }) => depths.get(value) === depth));
  pass(results);
  if (code.size() > MOST_LOCALS) return null;

  const run = functions.push(code.finish([])) - 1;
  return { bytes: encodeModule({ imports: IMPORTS, functions, run }), varying, uniform, results, memory };
};

/** What must be computed at a point for the wanted values: a slope is read from an earlier pass. */
const neededFor = (wanted: readonly Value[]): Value[] => {
  const seen = new Set(wanted);
  const stack = [...seen];
  for (let value = stack.pop(); value; value = stack.pop())
    for (const input of isSlope(value) ? [] : value.inputs)
      if (!seen.has(input)) {
        seen.add(input);
        stack.push(input);
      }
  return [...seen].sort((a, b) => a.id - b.id);
};
