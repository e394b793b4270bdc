import type { Builder } from '../program/builder.ts';
import type { InputName } from '../program/inputs.ts';
import type { Type } from '../program/types.ts';
import type { Value } from '../program/value.ts';

/** `any` takes float, vec2, vec3 or vec4; all of an operator's `any` inputs are brought to one size. */
export type InputType = Type | 'any';

/** What one input of an operator takes. */
export interface OperatorInput {
  readonly type: InputType;
  /** Numbers, or the name of something the shader is given. */
  readonly default: readonly number[] | InputName;
  /** The range a drag stays in at first; typing may go beyond unless `hard`. */
  readonly min?: number;
  readonly max?: number;
  /** True where values outside min–max mean nothing and are held at the ends. */
  readonly hard?: boolean;
  /** True for an angle: past one end of min–max it comes in at the other. */
  readonly cyclic?: boolean;
  readonly unit?: string;
  readonly summary?: string;
}

export type Family = 'value' | 'numbers' | 'shaping' | 'noise' | 'uv' | 'vectors' | 'falloffs';

/**
 * One thing a step can do. The palette, the card, help, checks, the emitted source and the reference evaluator are
 * all read off this declaration.
 */
export interface Operator {
  readonly name: string;
  readonly family: Family;
  /** One sentence. */
  readonly summary: string;
  /** In the order a call in an expression gives them. */
  readonly inputs: Readonly<Record<string, OperatorInput>>;
  /** The input that takes what comes from the left, or null for an operator that starts a strand. */
  readonly flow: string | null;
  /** As mathematics, for people. */
  readonly formula?: string;
  readonly source?: string;
  /** What people call it elsewhere, for search. */
  readonly synonyms?: readonly string[];
  readonly lower: (b: Builder, inputs: Readonly<Record<string, Value>>) => Value;
}

type Inputs = Readonly<Record<string, OperatorInput>>;
type Declared<I extends Inputs> = Omit<Operator, 'inputs' | 'lower'> & {
  readonly inputs: I;
  readonly lower: (b: Builder, inputs: { readonly [name in keyof I]: Value }) => Value;
};

/** Declares an operator, keeping its inputs' names known to the compiler inside `lower`. */
export const operator = <const I extends Inputs>(declared: Declared<I>): Operator =>
  declared as unknown as Operator;

type More = Partial<Omit<OperatorInput, 'type' | 'default'>>;
const numbers = (given: number | readonly number[] | InputName) =>
  typeof given === 'number' ? [given] : given;

export const any = (given: number | readonly number[], more: More = {}): OperatorInput => ({
  type: 'any',
  default: numbers(given),
  ...more,
});
export const float = (given: number, more: More = {}): OperatorInput => ({
  type: 'float',
  default: [given],
  ...more,
});
export const int = (given: number, more: More = {}): OperatorInput => ({
  type: 'int',
  default: [given],
  ...more,
});
export const vec2 = (given: InputName | readonly [number, number], more: More = {}): OperatorInput => ({
  type: 'vec2',
  default: given,
  ...more,
});
export const vec3 = (
  given: InputName | readonly [number, number, number],
  more: More = {},
): OperatorInput => ({ type: 'vec3', default: given, ...more });
