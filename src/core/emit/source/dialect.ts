import type { Type } from '../../program/types.ts';
import type { ProgramFunction, Value } from '../../program/value.ts';

/** Source text and how tightly it binds, so that brackets stand only where they are needed. */
export interface Spelled {
  readonly text: string;
  readonly binds: number;
}

/** How one shading language writes what every language has. */
export interface Dialect {
  /** Spells one operation from its already spelled inputs; `called` is the printed name of its function. */
  readonly spell: (value: Value, parts: readonly Spelled[], called: string) => Spelled;
  readonly declare: (type: Type, name: string, text: string) => string;
  readonly constant: (type: Type, numbers: readonly number[]) => string;
  /** A fold: the state starts at `initial`, and is `call` of itself `count` times. */
  readonly loop: (
    type: Type,
    name: string,
    initial: string,
    count: string,
    call: string,
  ) => readonly string[];
  readonly functionOf: (
    fn: ProgramFunction,
    name: string,
    parameters: readonly { readonly name: string; readonly type: Type }[],
    body: readonly string[],
  ) => string;
  /** How a parameter of a function is read: a sampler may be more than one name. */
  readonly parameter: (name: string, type: Type) => string;
  /** Definitions of what the language leaves open, by operation. */
  readonly prelude: Readonly<Record<string, (types: ReadonlySet<Type>) => readonly string[]>>;
  /** True where the language's own operation leaves nothing open, so that no definition is needed. */
  readonly isClosed: (value: Value) => boolean;
  /** Names that no value or function may be given. */
  readonly reserved: ReadonlySet<string>;
}

/** One line of generated source, and the step it comes from. */
export interface Line {
  readonly text: string;
  readonly step: string | null;
  /** True where it is an author's own, and not ours. */
  readonly asWritten?: boolean;
}

export const ATOM = 20;
export const atom = (text: string): Spelled => ({ text, binds: ATOM });

/** True where a clamp's ends are known to be in order; any other is open, and written as a least and a greatest. */
export const isOrdered = ({ inputs }: Value): boolean => {
  const [, low, high] = inputs;
  if (low!.op !== 'constant' || high!.op !== 'constant') return false;
  const [lows, highs] = [low!.payload, high!.payload] as [readonly number[], readonly number[]];
  const at = (list: readonly number[], i: number) => list[list.length === 1 ? 0 : i]!;
  return Array.from({ length: Math.max(lows.length, highs.length) }, (_, i) => i).every(
    (i) => at(lows, i) <= at(highs, i),
  );
};

/** Inputs that are a name already and need no variable. */
export const isName = (value: Value): boolean =>
  value.op === 'constant' ||
  value.op === 'input' ||
  value.op === 'parameter' ||
  value.op === 'knob' ||
  value.op === 'argument' ||
  (value.op === 'swizzle' && isName(value.inputs[0]!));
