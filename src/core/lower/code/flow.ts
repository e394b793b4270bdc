import type { Builder } from '../../program/builder.ts';
import type { Value } from '../../program/value.ts';
import { choose, type GlslValue } from '../expression/glslValue.ts';
import type { FunctionSource } from '../../language/glsl/syntax.ts';

/** A flag of the flow: known to be so or not, or a bool of the program. */
export type Flag = boolean | Value;

/** What variables hold at a place in the flow. Branches copy it and are merged again. */
export interface State {
  readonly values: Map<number, GlslValue>;
  returned: Flag;
  broken: Flag;
  continued: Flag;
  result: GlslValue | null;
  /** The function being run. */
  running: FunctionSource;
}

export const flagOf = (value: Value): Flag =>
  value.op === 'constant' ? (value.payload as readonly number[])[0] !== 0 : value;
const asValue = (b: Builder, flag: Flag): Value =>
  typeof flag === 'boolean' ? b.constant('bool', [Number(flag)]) : flag;
export const or = (b: Builder, x: Flag, y: Flag): Flag =>
  x === true || y === true ? true : x === false ? y : y === false ? x : b.or(x, y);
export const andNot = (b: Builder, x: Flag, not: Flag): Flag =>
  x === false || not === true ? false : not === false ? x : b.and(asValue(b, x), b.not(not));

/** Works out both of two ways to go on, and what each changes where it is taken. */
export const fork = <T>(
  b: Builder,
  condition: Value,
  state: State,
  yes: (state: State) => T,
  no: (state: State) => T,
): [T, T] => {
  const [then, otherwise] = [copyOf(state), copyOf(state)];
  const both: [T, T] = [yes(then), no(otherwise)];
  merge(b, state, condition, then, otherwise);
  return both;
};

export const copyOf = (state: State): State => ({ ...state, values: new Map(state.values) });
/** Takes over what a copy came to, where `condition` holds, into `state`, which holds what was so otherwise. */
export const merge = (b: Builder, state: State, condition: Value, then: State, otherwise: State): void => {
  for (const key of state.values.keys()) {
    const [x, y] = [then.values.get(key)!, otherwise.values.get(key)!];
    if (x !== y) state.values.set(key, choose(b, condition, x, y));
  }
  const flag = (x: Flag, y: Flag): Flag =>
    x === y ? x : flagOf(b.select(condition, asValue(b, x), asValue(b, y)));
  state.returned = flag(then.returned, otherwise.returned);
  state.broken = flag(then.broken, otherwise.broken);
  state.continued = flag(then.continued, otherwise.continued);
  state.result =
    then.result && otherwise.result
      ? choose(b, condition, then.result, otherwise.result)
      : (then.result ?? otherwise.result);
};
