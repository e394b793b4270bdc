import type { Builder } from '../program/builder.ts';
import type { InputName } from '../program/inputs.ts';
import type { Type } from '../program/types.ts';
import type { Value } from '../program/value.ts';

/**
 * `any` takes float, vec2, vec3 or vec4; all of an operator's `any` inputs are brought to one size. `choice` takes one
 * of a few words and is settled when the shader is compiled, so that what was not chosen costs nothing.
 */
export type InputType = Type | 'any' | 'choice';

/** What one input of an operator takes. */
export interface OperatorInput {
  readonly type: InputType;
  /** Numbers, or the name of something the shader is given. Empty where the author must name a picture or a curve. */
  readonly default: readonly number[] | InputName;
  /** The words of a choice; its default is the number of one of them. */
  readonly options?: readonly string[];
  /** Which kinds of parameter a sampler reads. */
  readonly reads?: 'texture' | 'curve' | 'gradient';
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

export const FAMILIES = [
  ...(['value', 'inputs', 'numbers', 'shaping', 'noise', 'uv', 'falloffs', 'vectors', 'colour'] as const),
  ...(['images', 'normals', 'light', 'slopes', 'logic'] as const),
] as const;
export type Family = (typeof FAMILIES)[number];

/** The word chosen for each choice of an operator. */
export type Chosen = Readonly<Record<string, string>>;

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
  /** An expression that uses it, in a shader with a texture `picture`, a curve `shape` and a gradient `glow`. */
  readonly example?: string;
  readonly lower: (b: Builder, inputs: Readonly<Record<string, Value>>, chosen: Chosen) => Value;
  /** What is doubtful about inputs that stand at plain numbers, as a sentence; those that do not are left out. */
  readonly doubt?: (numbers: Readonly<Record<string, readonly number[] | undefined>>) => string | null;
}

type Inputs = Readonly<Record<string, OperatorInput>>;
type Declared<I extends Inputs> = Omit<Operator, 'inputs' | 'lower'> & {
  readonly inputs: I;
  readonly lower: (b: Builder, inputs: { readonly [name in keyof I]: Value }, chosen: Chosen) => Value;
};

/** Declares an operator, keeping its inputs' names known to the compiler inside `lower`. */
export const operator = <const I extends Inputs>(declared: Declared<I>): Operator =>
  declared as unknown as Operator;

type More = Partial<Omit<OperatorInput, 'type' | 'default'>>;
type Numbers<N extends number> = N extends 2
  ? readonly [number, number]
  : N extends 3
    ? readonly [number, number, number]
    : readonly [number, number, number, number];
const numbers = (given: number | readonly number[] | InputName) =>
  typeof given === 'number' ? [given] : given;

const input =
  <const T extends InputType, G extends number | readonly number[] | InputName>(type: T) =>
  (given: G, more: More = {}): OperatorInput => ({ type, default: numbers(given), ...more });

export const any = input<'any', number | readonly number[]>('any');
export const float = input<'float', number | InputName>('float');
export const int = input<'int', number>('int');
export const vec2 = input<'vec2', InputName | Numbers<2>>('vec2');
export const vec3 = input<'vec3', InputName | Numbers<3>>('vec3');
export const vec4 = input<'vec4', InputName | Numbers<4>>('vec4');
/** True or false. */
export const flag = (given: boolean, more: More = {}): OperatorInput => ({
  type: 'bool',
  default: [Number(given)],
  ...more,
});
/** One of a few words; the first is the default. */
export const choice = (options: readonly string[], more: More = {}): OperatorInput => ({
  type: 'choice',
  default: [0],
  options,
  ...more,
});
/** A texture, curve or gradient parameter, named by the author. */
export const sampler = (reads: 'texture' | 'curve' | 'gradient', more: More = {}): OperatorInput => ({
  type: 'sampler2D',
  default: [],
  reads,
  ...more,
});
