import * as kernels from './kernels/kernels.ts';
import { componentwise, type Kernel, type Lane } from './kernels/kernels.ts';
import {
  arithmetic,
  bitcast,
  comparison,
  componentwise as componentwiseTypes,
  construct,
  convert,
  equality,
  exactly,
  logic,
  measure,
  negation,
  question,
  sameVectors,
  sampled,
  select,
  shift,
  slope,
  swizzle,
  transform,
  whole,
  type Rule,
} from './rules.ts';
import type { Type } from './types.ts';

/** How one language writes an operation: by a call of that name, by a sign, or as its emitter knows (`own`). */
export type Spelling =
  | {
      readonly call: string;
      /** Inputs that may stay single numbers beside vectors, where the language has that overload. */
      readonly scalars?: readonly number[];
    }
  | { readonly infix: string; readonly binds: number }
  | 'own';

/** What is known of every number that an operation gives. */
export type KnownRange = 'any' | 'not below 0' | '0 to 1';

/** Everything there is to say of one operation: a back end that lacks one does not compile. */
export interface Primitive {
  /** Which inputs fit, and what comes of them. */
  readonly types: Rule;
  /** How the columns compute it; textures are read by whoever has them. */
  readonly runs: Kernel | 'reads a texture' | 'measures a texture';
  readonly glsl: Spelling;
  readonly wgsl: Spelling;
  /**
   * Additions it is worth for each component of its result, roughly as on the graphics cards of phones: full-rate,
   * quarter-rate and emulated instructions differ so much. Of the size of its first input where that decides.
   */
  readonly cost: number | ((inputSize: number) => number);
  readonly range: KnownRange;
}

const { fround } = Math;
const floats = (lane: Lane): Kernel => componentwise({ float: lane });
/** Whole numbers and flags; results wrap at 32 bits as a GPU's do, because typed arrays store them so. */
const wholes = (lane: Lane): Kernel => componentwise({ int: lane, uint: lane, bool: lane });
const numbers = (float: Lane, lane: Lane = float): Kernel =>
  componentwise({ float, int: lane, uint: lane, bool: lane });
const call = (name: string, scalars: readonly number[] = []) => ({ call: name, scalars });
const sign = (infix: string, binds: number) => ({ infix, binds });

const both = <const S extends Spelling>(spelling: S) => ({ glsl: spelling, wgsl: spelling });
const ways = <const G extends Spelling, const W extends Spelling>(glsl: G, wgsl: W) => ({ glsl, wgsl });

/** One row: which types fit, how it is computed, how it is written, what it costs, what its numbers keep to. */
const op = <const Written extends Pick<Primitive, 'glsl' | 'wgsl'>>(
  types: Rule,
  runs: Primitive['runs'],
  written: Written,
  cost: Primitive['cost'],
  range: KnownRange = 'any',
) => ({ types, runs, ...written, cost, range });

/** A function that both languages have by one name, on floats and vectors. */
const shared = (
  name: string,
  lane: Lane,
  cost: number,
  { scalars, range }: { readonly scalars?: readonly number[]; readonly range?: KnownRange } = {},
) => op(componentwiseTypes, floats(lane), ways(call(name, scalars), call(name)), cost, range);
/** Packs two numbers into one word, or takes them out again. */
const packing = (name: 'packHalf2x16' | 'packSnorm2x16' | 'packUnorm2x16', runs: Kernel) =>
  op(exactly(['vec2'], 'uint'), runs, ways(call(name), call(`pack2x16${WGSL_WORDS[name]}`)), 4);
const unpacking = (name: 'unpackHalf2x16' | 'unpackSnorm2x16' | 'unpackUnorm2x16', runs: Kernel) =>
  op(exactly(['uint'], 'vec2'), runs, ways(call(name), call(`unpack2x16${WGSL_WORDS[name]}`)), 4);
const WGSL_WORDS = {
  ...{ packHalf2x16: 'float', packSnorm2x16: 'snorm', packUnorm2x16: 'unorm' },
  ...{ unpackHalf2x16: 'float', unpackSnorm2x16: 'snorm', unpackUnorm2x16: 'unorm' },
} as const;

/**
 * The small set of operations every back end knows, a row each. Operators lower to these; a new operator needs none.
 * Names are GLSL's where GLSL has one.
 */
export const PRIMITIVES = {
  add: op(
    arithmetic,
    numbers(
      (x, y) => x + y,
      (x, y) => (x + y) | 0,
    ),
    both(sign('+', 13)),
    1,
  ),
  subtract: op(
    arithmetic,
    numbers(
      (x, y) => x - y,
      (x, y) => (x - y) | 0,
    ),
    both(sign('-', 13)),
    1,
  ),
  multiply: op(
    arithmetic,
    numbers((x, y) => x * y, Math.imul),
    both(sign('*', 14)),
    1,
  ),
  divide: op(
    componentwiseTypes,
    floats((x, y) => x / y),
    both(sign('/', 14)),
    4,
  ),
  negate: op(
    negation,
    numbers(
      (x) => -x,
      (x) => -x | 0,
    ),
    both('own'),
    1,
  ),
  min: op(
    arithmetic,
    numbers((x, y) => Math.min(x, y)),
    ways(call('min', [1]), call('min')),
    1,
  ),
  max: op(
    arithmetic,
    numbers((x, y) => Math.max(x, y)),
    ways(call('max', [1]), call('max')),
    1,
  ),
  clamp: op(
    arithmetic,
    numbers((x, low, high) => Math.min(Math.max(x, low), high)),
    both('own'),
    2,
  ),
  mod: op(
    componentwiseTypes,
    floats((x, y) => x - y * Math.floor(fround(x / y))),
    ways(call('mod', [1]), 'own'),
    6,
  ),
  // Where GLSL leaves it open: 0 to a power above 0 is 0, to any other 1. So is anything below 0.
  pow: op(
    componentwiseTypes,
    floats((x, y) => (x > 0 ? x ** y : y > 0 ? 0 : 1)),
    both('own'),
    9,
    'not below 0',
  ),
  abs: op(arithmetic, numbers(Math.abs), ways(call('abs'), 'own'), 1, 'not below 0'),
  sign: shared('sign', Math.sign, 1),
  floor: shared('floor', Math.floor, 1),
  ceil: shared('ceil', Math.ceil, 1),
  round: op(
    componentwiseTypes,
    floats((x) => Math.floor(fround(x + 0.5))),
    both('own'),
    1,
  ),
  trunc: shared('trunc', Math.trunc, 1),
  fract: shared('fract', (x) => x - Math.floor(x), 1, { range: '0 to 1' }),
  sqrt: shared('sqrt', Math.sqrt, 4, { range: 'not below 0' }),
  inversesqrt: op(
    componentwiseTypes,
    floats((x) => 1 / Math.sqrt(x)),
    ways(call('inversesqrt'), call('inverseSqrt')),
    4,
  ),
  exp: shared('exp', Math.exp, 5, { range: 'not below 0' }),
  log: shared('log', Math.log, 5),
  exp2: shared('exp2', (x) => 2 ** x, 4, { range: 'not below 0' }),
  log2: shared('log2', Math.log2, 4),
  sin: shared('sin', Math.sin, 4),
  cos: shared('cos', Math.cos, 4),
  tan: shared('tan', Math.tan, 9),
  asin: shared('asin', Math.asin, 12),
  acos: shared('acos', Math.acos, 12),
  atan: shared('atan', Math.atan, 12),
  atan2: op(componentwiseTypes, floats(Math.atan2), ways(call('atan'), call('atan2')), 16),
  mix: op(
    componentwiseTypes,
    floats((x, y, t) => fround(x * fround(1 - t)) + fround(y * t)),
    ways(call('mix', [2]), call('mix')),
    2,
  ),
  step: shared('step', (edge, x) => (x < edge ? 0 : 1), 1, { scalars: [0], range: '0 to 1' }),
  smoothstep: op(
    componentwiseTypes,
    floats((low, high, x) => {
      const t = fround(Math.min(Math.max((x - low) / (high - low), 0), 1));
      return t * t * (3 - 2 * t);
    }),
    ways(call('smoothstep', [0, 1]), 'own'),
    8,
    '0 to 1',
  ),
  dot: op(measure, kernels.dot, ways(call('dot'), 'own'), (size) => 2 * size - 1),
  length: op(measure, kernels.length, both(call('length')), 6, 'not below 0'),
  distance: op(measure, kernels.distance, both(call('distance')), 7, 'not below 0'),
  normalize: op(sameVectors, kernels.normalize, ways(call('unit'), 'own'), 3),
  reflect: op(sameVectors, kernels.reflect, ways(call('reflect'), 'own'), 6),
  cross: op(exactly(['vec3', 'vec3'], 'vec3'), kernels.cross, both(call('cross')), 6),
  transform: op(transform, kernels.transform, both('own'), 1),
  // GLSL leaves division by zero and % of negatives open; here, and in what is emitted, both are defined.
  quotient: op(
    whole,
    wholes((x, y) => (y === 0 ? 0 : Math.trunc(x / y))),
    both('own'),
    16,
  ),
  remainder: op(
    whole,
    wholes((x, y) => (y === 0 ? 0 : x - y * Math.trunc(x / y))),
    ways(call('remainder'), 'own'),
    18,
  ),
  bitAnd: op(
    whole,
    wholes((x, y) => x & y),
    both(sign('&', 9)),
    1,
  ),
  bitOr: op(
    whole,
    wholes((x, y) => x | y),
    both(sign('|', 7)),
    1,
  ),
  bitXor: op(
    whole,
    wholes((x, y) => x ^ y),
    both(sign('^', 8)),
    1,
  ),
  bitNot: op(
    whole,
    wholes((x) => ~x),
    both('own'),
    1,
  ),
  shiftLeft: op(
    shift,
    wholes((x, y) => x << y),
    both('own'),
    1,
  ),
  // >> keeps the sign of an int and fills a uint with zeros.
  shiftRight: op(shift, componentwise({ int: (x, y) => x >> y, uint: (x, y) => x >>> y }), both('own'), 1),
  less: op(
    comparison,
    numbers((x, y) => (x < y ? 1 : 0)),
    both(sign('<', 11)),
    1,
  ),
  lessEqual: op(
    comparison,
    numbers((x, y) => (x <= y ? 1 : 0)),
    both(sign('<=', 11)),
    1,
  ),
  equal: op(equality, kernels.equal, ways(sign('==', 10), 'own'), 1),
  not: op(
    logic,
    wholes((x) => (x ? 0 : 1)),
    both('own'),
    1,
  ),
  and: op(
    logic,
    wholes((x, y) => x & y),
    both(sign('&&', 6)),
    1,
  ),
  or: op(
    logic,
    wholes((x, y) => x | y),
    both(sign('||', 4)),
    1,
  ),
  xor: op(
    logic,
    wholes((x, y) => x ^ y),
    ways(sign('^^', 5), 'own'),
    1,
  ),
  select: op(select, kernels.select, both('own'), 1),
  isnan: op(
    question,
    floats((x) => (Number.isNaN(x) ? 1 : 0)),
    ways(call('isnan'), 'own'),
    1,
  ),
  construct: op(construct, kernels.construct, both('own'), 0),
  swizzle: op(swizzle, kernels.swizzle, both('own'), 0),
  convert: op(convert, kernels.convert, both('own'), 1),
  dFdx: op(slope, kernels.slope, ways(call('dFdx'), call('dpdx')), 1),
  dFdy: op(slope, kernels.slope, ways(call('dFdy'), 'own'), 1),
  fwidth: op(slope, kernels.slope, both(call('fwidth')), 1),
  texture: op(sampled()(['float']), 'reads a texture', both('own'), 0),
  textureLod: op(sampled('float')(), 'reads a texture', both('own'), 0),
  textureGrad: op(sampled('place', 'place')(), 'reads a texture', both('own'), 0),
  texelFetch: op(exactly(['sampler2D', 'int', 'int', 'int'], 'vec4'), 'reads a texture', both('own'), 0),
  textureWidth: op(exactly(['sampler2D', 'int'], 'int'), 'measures a texture', both('own'), 1),
  textureHeight: op(exactly(['sampler2D', 'int'], 'int'), 'measures a texture', both('own'), 1),
  bitcast: op(bitcast, kernels.bitcast, both('own'), 0),
  packHalf2x16: packing('packHalf2x16', kernels.pack('Half')),
  packSnorm2x16: packing('packSnorm2x16', kernels.pack('Snorm')),
  packUnorm2x16: packing('packUnorm2x16', kernels.pack('Unorm')),
  unpackHalf2x16: unpacking('unpackHalf2x16', kernels.unpack('Half')),
  unpackSnorm2x16: unpacking('unpackSnorm2x16', kernels.unpack('Snorm')),
  unpackUnorm2x16: unpacking('unpackUnorm2x16', kernels.unpack('Unorm')),
} satisfies Readonly<Record<string, Primitive>>;

export type PrimitiveName = keyof typeof PRIMITIVES;

/** Operations that a language's emitter writes itself. */
export type WrittenItself<Language extends 'glsl' | 'wgsl'> = {
  [name in PrimitiveName]: (typeof PRIMITIVES)[name][Language] extends 'own' ? name : never;
}[PrimitiveName];

const rowOf: ReadonlyMap<string, Primitive> = new Map(Object.entries(PRIMITIVES));

/** The row of an operation, null of leaves and calls. */
export const primitiveOf = (op: string): Primitive | null => rowOf.get(op) ?? null;

/** How the columns compute an operation. @throws Error where there is no such kernel: calls and textures */
export const kernelOf = (op: string): Kernel => {
  const runs = primitiveOf(op)?.runs;
  if (typeof runs !== 'function') throw new Error(`${op} has no kernel`);
  return runs;
};

/** Operations that ask a texture. The first three may carry a whole offset in texels, [x, y], as their payload. */
export const asksTexture = (op: string): boolean => typeof primitiveOf(op)?.runs === 'string';
/** Of those, the ones that read it. */
export const readsTexture = (op: string): boolean => primitiveOf(op)?.runs === 'reads a texture';

/** True where the first input's scalar kind decides what a bare number beside it means. */
export const numberKind = (type: Type | undefined): 'int' | 'uint' | 'float' =>
  type === 'int' || type === 'uint' ? type : 'float';
