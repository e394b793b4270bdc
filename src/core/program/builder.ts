import { INPUTS, type InputName } from './inputs.ts';
import { numberKind, PRIMITIVES, type PrimitiveName } from './primitives.ts';
import { componentsOf, type Type } from './types.ts';
import { createValueTable } from './valueTable.ts';
import type { Origin, ProgramFunction, Value } from './value.ts';

/** A value, or a bare number that becomes a constant of its neighbour's kind. */
export type Operand = Value | number;

/** Thrown when a value of the wrong type is built; the lowering turns it into a diagnostic at its place. */
export class TypeMistake extends Error {}

/** What has a type or picks besides its inputs. */
const MORE = ['construct', 'swizzle', 'convert', 'bitcast'] as const;
const WITH_MORE: ReadonlySet<string> = new Set(MORE);

type PrimitiveMethods = {
  readonly [name in Exclude<PrimitiveName, (typeof MORE)[number]>]: (...inputs: Operand[]) => Value;
};

export interface Builder extends PrimitiveMethods {
  constant(type: Type, numbers: readonly number[]): Value;
  float(x: number): Value;
  int(x: number): Value;
  uint(x: number): Value;
  /** An authored number that stays live: dragging it changes a uniform, never the program. */
  knob(type: Type, name: string): Value;
  parameter(type: Type, name: string): Value;
  input(name: InputName): Value;
  argument(type: Type, index: number): Value;
  construct(type: Type, ...inputs: Operand[]): Value;
  swizzle(source: Value, picks: string): Value;
  convert(type: Type, source: Operand): Value;
  /** The same 32 bits as another type. */
  bitcast(type: 'float' | 'int' | 'uint', source: Value): Value;
  /** Reads a texture so many whole texels beside the place that is asked for. */
  sampleAtOffset(
    op: 'texture' | 'textureLod' | 'textureGrad',
    offset: readonly [number, number],
    ...inputs: Value[]
  ): Value;
  call(fn: ProgramFunction, ...inputs: Operand[]): Value;
  /**
   * A fold: state = fn(i, state, ...rest) for i = 0 … count − 1, starting from `initial`. The only loop there is.
   */
  iterate(fn: ProgramFunction, count: Operand, initial: Operand, ...rest: Operand[]): Value;
  saturate(x: Operand): Value;
  /** Makes what is built inside `build` remember where it was authored. */
  within<T>(origin: Origin | null, build: () => T): T;
  /** Names a value for readable output of a function's body. */
  name<V extends Value>(name: string, value: V): V;
  /** Adds any operation as it is; used by passes that copy values. */
  intern(
    op: Value['op'],
    type: Type,
    inputs: readonly Value[],
    payload: Value['payload'],
    fn: ProgramFunction | null,
  ): Value;
  readonly locals: ReadonlyMap<Value, string>;
  /** How many values there are so far. */
  readonly size: () => number;
}

/** Finds less to do for an operation about to be added: a value to use in its place, or null. */
export type Peephole = (
  b: Builder,
  op: Value['op'],
  type: Type,
  inputs: readonly Value[],
  payload: Value['payload'],
) => Value | null;

/** Those that are built from their inputs alone, by a method of their name. */
const BY_NAME = (Object.keys(PRIMITIVES) as PrimitiveName[]).filter((name) => !WITH_MORE.has(name));

/**
 * Makes an empty program under construction. Building the same operation twice gives the same value.
 * @param peephole asked before each operation is added
 * @param room a power of two: how many places there are for values to begin with
 */
export const createBuilder = (peephole: Peephole | null = null, room?: number): Builder => {
  const known = createValueTable(room);
  const locals = new Map<Value, string>();
  let origin: Origin | null = null;

  const intern: Builder['intern'] = (op, type, inputs, payload, fn) =>
    peephole?.(builder, op, type, inputs, payload) ?? known.intern(op, type, inputs, payload, fn, origin);

  const constant = (type: Type, numbers: readonly number[]): Value => {
    if (numbers.length !== componentsOf(type))
      throw new TypeMistake(`a ${type} holds ${componentsOf(type)} numbers, not ${numbers.length}`);
    const kept =
      type === 'int'
        ? numbers.map((x) => x | 0)
        : type === 'uint'
          ? numbers.map((x) => x >>> 0)
          : numbers.map(Math.fround);
    return intern('constant', type, [], kept, null);
  };

  const areValues = (operands: readonly Operand[]): operands is readonly Value[] =>
    operands.every((each) => typeof each !== 'number');

  const toValues = (operands: readonly Operand[]): readonly Value[] => {
    if (areValues(operands)) return operands;
    const first = operands.find((each): each is Value => typeof each !== 'number' && each.type !== 'bool');
    return operands.map((each) =>
      typeof each === 'number' ? constant(numberKind(first?.type), [each]) : each,
    );
  };

  const primitive = (
    name: PrimitiveName,
    operands: readonly Operand[],
    payload: Value['payload'] = null,
  ): Value => {
    const inputs = toValues(operands);
    const result = PRIMITIVES[name].types(
      inputs.map((each) => each.type),
      payload,
    );
    if (typeof result !== 'string') throw new TypeMistake(`${name}: ${result.why}`);
    return intern(name, result, inputs, payload, null);
  };

  const argumentsFor = (fn: ProgramFunction, operands: readonly Operand[], from: number): Value[] =>
    operands.map((each, i) => {
      const wanted = fn.parameters[i + from];
      if (!wanted) throw new TypeMistake(`${fn.name} takes ${fn.parameters.length} arguments`);
      const value = typeof each === 'number' ? constant(wanted.type, [each]) : each;
      if (value.type !== wanted.type)
        throw new TypeMistake(`${fn.name}: ${wanted.name} is a ${wanted.type}, not a ${value.type}`);
      return value;
    });

  const plain = {
    intern,
    constant,
    locals,
    size: known.size,
    float: (x: number) => constant('float', [x]),
    int: (x: number) => constant('int', [x]),
    uint: (x: number) => constant('uint', [x]),
    knob: (type: Type, name: string) => intern('knob', type, [], name, null),
    parameter: (type: Type, name: string) => intern('parameter', type, [], name, null),
    input: (name: InputName) => intern('input', INPUTS[name].type, [], name, null),
    argument: (type: Type, index: number) => intern('argument', type, [], index, null),
    construct: (type: Type, ...inputs: Operand[]) => {
      const values = toValues(inputs);
      if (values.length === 1 && values[0]!.type === type) return values[0]!;
      if (values.length === 1 && values[0]!.type === 'float' && type !== 'mat3')
        return intern('construct', type, values, type, null);
      return primitive('construct', values, type);
    },
    swizzle: (source: Value, picks: string) =>
      picks === 'xyzw'.slice(0, componentsOf(source.type)) ? source : primitive('swizzle', [source], picks),
    convert: (type: Type, source: Operand) => {
      const value = typeof source === 'number' ? constant('float', [source]) : source;
      return value.type === type ? value : primitive('convert', [value], type);
    },
    bitcast: (type: Type, source: Value) =>
      source.type === type ? source : primitive('bitcast', [source], type),
    sampleAtOffset: (op: PrimitiveName, offset: readonly number[], ...inputs: Value[]) =>
      primitive(op, inputs, offset.some(Boolean) ? offset : null),
    call: (fn: ProgramFunction, ...inputs: Operand[]) =>
      intern('call', fn.result.type, argumentsFor(fn, inputs, 0), fn.name, fn),
    iterate: (fn: ProgramFunction, count: Operand, initial: Operand, ...rest: Operand[]) => {
      const times = typeof count === 'number' ? constant('int', [count]) : count;
      if (times.type !== 'int') throw new TypeMistake(`${fn.name}: a loop's count is an int`);
      return intern(
        'iterate',
        fn.result.type,
        [times, ...argumentsFor(fn, [initial, ...rest], 1)],
        fn.name,
        fn,
      );
    },
    saturate: (x: Operand) => primitive('clamp', [x, 0, 1]),
    within: <T>(place: Origin | null, build: () => T): T => {
      const outer = origin;
      origin = place;
      try {
        return build();
      } finally {
        origin = outer;
      }
    },
    name: <V extends Value>(name: string, value: V): V => {
      locals.set(value, name);
      return value;
    },
  };
  const methods = plain as unknown as Record<string, (...inputs: Operand[]) => Value>;
  for (const name of BY_NAME) methods[name] = (...inputs) => primitive(name, inputs);
  const builder = plain as unknown as Builder;
  return builder;
};

let functions = 0;
/** A number of its own for each function of the program. */
export const nextFunction = (): number => (functions += 1);

/**
 * Declares a function of the program.
 * @example defineFunction('square', { x: 'float' }, (b, { x }) => b.multiply(x, x))
 */
export const defineFunction = <P extends Readonly<Record<string, Type>>>(
  name: string,
  parameters: P,
  body: (b: Builder, args: { readonly [key in keyof P]: Value }) => Value,
  more: Pick<ProgramFunction, 'withinWholes'> = {},
): ProgramFunction => {
  const b = createBuilder();
  const list = Object.entries(parameters).map(([key, type]) => ({ name: key, type }));
  const args = Object.fromEntries(list.map((each, i) => [each.name, b.argument(each.type, i)]));
  const result = body(b, args as { readonly [key in keyof P]: Value });
  return { ...more, id: nextFunction(), name, parameters: list, result, locals: b.locals };
};
