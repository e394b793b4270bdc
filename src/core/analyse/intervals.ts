import { primitiveOf } from '../program/primitives.ts';
import { baseOf } from '../program/types.ts';
import { reachable, type ProgramFunction, type Value } from '../program/value.ts';

/** What every component of a value lies between, where it is a number at all. */
export interface Interval {
  readonly low: number;
  readonly high: number;
}

/** What is known of what a program is given. Null is anything. */
export interface KnownIntervals {
  readonly parameter: (name: string) => Interval | null;
  readonly knob: (name: string) => Interval | null;
}

export const ANY: Interval = { low: -Infinity, high: Infinity };
const of = (low: number, high: number): Interval =>
  low <= high ? { low, high } : low > high ? { low: high, high: low } : ANY;
const UNIT = of(0, 1);
const SIGNED = of(-1, 1);
const POSITIVE = of(0, Infinity);
export const intervalOf = (numbers: readonly number[]): Interval =>
  numbers.length && numbers.every((x) => !Number.isNaN(x))
    ? of(Math.min(...numbers), Math.max(...numbers))
    : ANY;
const hull = (...list: readonly Interval[]): Interval =>
  of(Math.min(...list.map((x) => x.low)), Math.max(...list.map((x) => x.high)));

const INPUTS: Readonly<Record<string, Interval>> = {
  ...{ normal: SIGNED, objectNormal: SIGNED, viewNormal: SIGNED, tangent: SIGNED, bitangent: SIGNED },
  ...{ viewDirection: SIGNED, frontFacing: UNIT, instanceOrder: UNIT },
  ...{ time: POSITIVE, timeStep: POSITIVE, instanceAge: POSITIVE },
  ...{ cameraRight: SIGNED, cameraUp: SIGNED, cameraBack: SIGNED },
};

/** Nothing times what has no end is taken for nothing: its factor is a number, however great. */
const product = (x: number, y: number): number => (x === 0 || y === 0 ? 0 : x * y);
const corners = (f: (x: number, y: number) => number, x: Interval, y: Interval): Interval =>
  intervalOf([f(x.low, y.low), f(x.low, y.high), f(x.high, y.low), f(x.high, y.high)]);
const add = (x: Interval, y: Interval): Interval => of(x.low + y.low, x.high + y.high);
const negate = (x: Interval): Interval => of(-x.high, -x.low);
const multiply = (x: Interval, y: Interval): Interval => corners(product, x, y);
const abs = (x: Interval): Interval =>
  x.low >= 0 ? x : x.high <= 0 ? negate(x) : of(0, Math.max(-x.low, x.high));
const rising =
  (f: (x: number) => number) =>
  ([x]: readonly Interval[]): Interval =>
    intervalOf([f(x!.low), f(x!.high)]);
/** A sum of as many squares as a vector has components. */
const lengthOf = (x: Interval): Interval => {
  const most = Math.max(Math.abs(x.low), Math.abs(x.high));
  return of(0, most * 2);
};
const clampTo = (x: Interval, low: Interval, high: Interval): Interval => {
  const above = of(Math.max(x.low, low.low), Math.max(x.high, low.high));
  return of(Math.min(above.low, high.low), Math.min(above.high, high.high));
};

type Rule = (inputs: readonly Interval[], value: Value) => Interval;
const RULES: Readonly<Record<string, Rule>> = {
  add: ([x, y]) => add(x!, y!),
  subtract: ([x, y]) => add(x!, negate(y!)),
  multiply: ([x, y], { inputs }) =>
    inputs[0] === inputs[1]
      ? (({ low, high }) => of(product(low, low), product(high, high)))(abs(x!))
      : multiply(x!, y!),
  divide: ([x, y]) => (y!.low <= 0 && y!.high >= 0 ? ANY : multiply(x!, of(1 / y!.high, 1 / y!.low))),
  negate: ([x]) => negate(x!),
  min: ([x, y]) => of(Math.min(x!.low, y!.low), Math.min(x!.high, y!.high)),
  max: ([x, y]) => of(Math.max(x!.low, y!.low), Math.max(x!.high, y!.high)),
  clamp: ([x, low, high]) => clampTo(x!, low!, high!),
  mod: ([, y]) => (y!.low > 0 ? of(0, y!.high) : y!.high < 0 ? of(y!.low, 0) : ANY),
  abs: ([x]) => abs(x!),
  sign: ([x]) => of(Math.sign(x!.low), Math.sign(x!.high)),
  floor: rising(Math.floor),
  ceil: rising(Math.ceil),
  round: rising((x) => Math.floor(x + 0.5)),
  trunc: rising(Math.trunc),
  fract: () => UNIT,
  sqrt: ([x]) => of(Math.sqrt(Math.max(x!.low, 0)), Math.sqrt(Math.max(x!.high, 0))),
  inversesqrt: ([x]) => (x!.low > 0 ? of(1 / Math.sqrt(x!.high), 1 / Math.sqrt(x!.low)) : POSITIVE),
  exp: rising(Math.exp),
  exp2: rising((x) => 2 ** x),
  log: ([x]) => (x!.low > 0 ? rising(Math.log)([x!]) : ANY),
  log2: ([x]) => (x!.low > 0 ? rising(Math.log2)([x!]) : ANY),
  sin: () => SIGNED,
  cos: () => SIGNED,
  asin: () => of(-Math.PI / 2, Math.PI / 2),
  acos: () => of(0, Math.PI),
  atan: () => of(-Math.PI / 2, Math.PI / 2),
  atan2: () => of(-Math.PI, Math.PI),
  pow: ([x, y]) => {
    const base = of(Math.max(x!.low, 0), Math.max(x!.high, 0));
    if (base.high <= 1 && y!.low >= 0) return UNIT;
    if (y!.low < 0) return POSITIVE;
    return of(0, Math.max(1, base.high ** y!.high));
  },
  mix: ([x, y, t]) =>
    t!.low >= 0 && t!.high <= 1
      ? hull(x!, y!)
      : add(multiply(x!, add(of(1, 1), negate(t!))), multiply(y!, t!)),
  step: () => UNIT,
  smoothstep: () => UNIT,
  dot: ([x, y], { inputs }) => {
    const each = multiply(x!, y!);
    const size = { vec2: 2, vec3: 3, vec4: 4 }[inputs[0]!.type as string] ?? 1;
    const sum = of(product(each.low, size), product(each.high, size));
    return inputs[0] === inputs[1] ? of(0, Math.max(sum.high, 0)) : sum;
  },
  length: ([x]) => lengthOf(x!),
  distance: ([x, y]) => lengthOf(add(x!, negate(y!))),
  normalize: () => SIGNED,
  cross: ([x, y]) => multiply(of(2, 2), hull(multiply(x!, y!), negate(multiply(x!, y!)))),
  select: ([, x, y]) => hull(x!, y!),
  construct: (inputs) => hull(...inputs),
  swizzle: ([x]) => x!,
  convert: ([x], { type }) =>
    type === 'bool' ? UNIT : type === 'float' ? x! : of(Math.trunc(x!.low), Math.trunc(x!.high)),
};
for (const flag of ['less', 'lessEqual', 'equal', 'not', 'and', 'or', 'xor', 'isnan'])
  Object.assign(RULES, { [flag]: () => UNIT });

/** What whole numbers wrap within. */
const HELD: Readonly<Record<string, Interval>> = {
  int: of(-(2 ** 31), 2 ** 31 - 1),
  uint: of(0, 2 ** 32 - 1),
  bool: UNIT,
};
/** What goes beyond its type may have wrapped to any number of it. */
const wrapped = (value: Value, found: Interval): Interval => {
  const held = HELD[baseOf(value.type)];
  return held && !(found.low >= held.low && found.high <= held.high) ? held : found;
};

const MOST_ROUNDS = 32;
/** Rounds of a loop whose count is a number; what is written to each round may be the end. */
const loop = (
  fn: ProgramFunction,
  [count, initial, ...rest]: readonly Interval[],
  known: KnownIntervals,
): Interval => {
  if (!(count!.high <= MOST_ROUNDS)) return ANY;
  let state = initial!;
  let all = count!.low <= 0 ? state : null;
  for (let i = 0; i < count!.high; i += 1) {
    state = inside(fn, [of(i, i), state, ...rest], known);
    if (i + 1 >= count!.low) all = all ? hull(all, state) : state;
  }
  return all ?? state;
};

const inside = (fn: ProgramFunction, given: readonly Interval[], known: KnownIntervals): Interval =>
  fn.opaque ? ANY : intervalsOf([fn.result], known, given).get(fn.result)!;

const ownInterval = (
  value: Value,
  of_: (value: Value) => Interval,
  known: KnownIntervals,
  given: readonly Interval[],
): Interval => {
  const name = value.payload as string;
  switch (value.op) {
    case 'constant':
      return intervalOf(value.payload as readonly number[]);
    case 'parameter':
      return known.parameter(name) ?? ANY;
    case 'knob':
      return known.knob(name) ?? ANY;
    case 'argument':
      return given[value.payload as number] ?? ANY;
    case 'input':
      return INPUTS[name] ?? ANY;
    case 'call':
      return inside(value.fn!, value.inputs.map(of_), known);
    case 'iterate':
      return loop(value.fn!, value.inputs.map(of_), known);
    default: {
      if (primitiveOf(value.op)?.runs === 'reads a texture') return of_(value.inputs[0]!);
      const rule = RULES[value.op];
      if (rule) return rule(value.inputs.map(of_), value);
      return primitiveOf(value.op)?.range === 'not below 0' ? POSITIVE : ANY;
    }
  }
};

/**
 * What every value lies between, whatever point it is computed at: interval arithmetic (R. Moore, Interval Analysis, 1966)
 * over the program. True but often wide: that a value is not known to stay within bounds does not say that it leaves
 * them. A sampler's interval is that of what is read from it. In exact numbers: single precision may be off by its
 * rounding. Says nothing of what is not a number.
 */
export const intervalsOf = (
  roots: readonly Value[],
  known: KnownIntervals,
  given: readonly Interval[] = [],
): ReadonlyMap<Value, Interval> => {
  const found = new Map<Value, Interval>();
  const intervalAt = (value: Value): Interval => found.get(value)!;
  for (const value of reachable(roots))
    found.set(value, wrapped(value, ownInterval(value, intervalAt, known, given)));
  return found;
};
