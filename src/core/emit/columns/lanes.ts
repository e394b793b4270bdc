import type { Numbers } from './column.ts';

/**
 * A lane runs one operation over one component of n points: it writes O from o on, and reads A at a + (i & da), where
 * the mask da is −1 when the input differs from point to point and 0 when it is the same everywhere; B and C likewise.
 */
export type Lane = (
  n: number,
  O: Numbers,
  o: number,
  A: Numbers,
  a: number,
  da: number,
  B: Numbers,
  b: number,
  db: number,
  C: Numbers,
  c: number,
  dc: number,
) => void;

const unary =
  (f: (x: number) => number): Lane =>
  (n, O, o, A, a, da) => {
    for (let i = 0; i < n; i += 1) O[o + i] = f(A[a + (i & da)]!);
  };
const binary =
  (f: (x: number, y: number) => number): Lane =>
  (n, O, o, A, a, da, B, b, db) => {
    for (let i = 0; i < n; i += 1) O[o + i] = f(A[a + (i & da)]!, B[b + (i & db)]!);
  };
const ternary =
  (f: (x: number, y: number, z: number) => number): Lane =>
  (n, O, o, A, a, da, B, b, db, C, c, dc) => {
    for (let i = 0; i < n; i += 1) O[o + i] = f(A[a + (i & da)]!, B[b + (i & db)]!, C[c + (i & dc)]!);
  };

const { fround } = Math;

/** Operations on floats, component by component. The busiest have loops of their own, which V8 keeps tight. */
export const FLOAT_LANES: Readonly<Record<string, Lane>> = {
  add: (n, O, o, A, a, da, B, b, db) => {
    for (let i = 0; i < n; i += 1) O[o + i] = A[a + (i & da)]! + B[b + (i & db)]!;
  },
  subtract: (n, O, o, A, a, da, B, b, db) => {
    for (let i = 0; i < n; i += 1) O[o + i] = A[a + (i & da)]! - B[b + (i & db)]!;
  },
  multiply: (n, O, o, A, a, da, B, b, db) => {
    for (let i = 0; i < n; i += 1) O[o + i] = A[a + (i & da)]! * B[b + (i & db)]!;
  },
  divide: (n, O, o, A, a, da, B, b, db) => {
    for (let i = 0; i < n; i += 1) O[o + i] = A[a + (i & da)]! / B[b + (i & db)]!;
  },
  min: (n, O, o, A, a, da, B, b, db) => {
    for (let i = 0; i < n; i += 1) O[o + i] = Math.min(A[a + (i & da)]!, B[b + (i & db)]!);
  },
  max: (n, O, o, A, a, da, B, b, db) => {
    for (let i = 0; i < n; i += 1) O[o + i] = Math.max(A[a + (i & da)]!, B[b + (i & db)]!);
  },
  floor: (n, O, o, A, a, da) => {
    for (let i = 0; i < n; i += 1) O[o + i] = Math.floor(A[a + (i & da)]!);
  },
  fract: (n, O, o, A, a, da) => {
    for (let i = 0; i < n; i += 1) O[o + i] = A[a + (i & da)]! - Math.floor(A[a + (i & da)]!);
  },
  abs: (n, O, o, A, a, da) => {
    for (let i = 0; i < n; i += 1) O[o + i] = Math.abs(A[a + (i & da)]!);
  },
  negate: (n, O, o, A, a, da) => {
    for (let i = 0; i < n; i += 1) O[o + i] = -A[a + (i & da)]!;
  },
  sqrt: (n, O, o, A, a, da) => {
    for (let i = 0; i < n; i += 1) O[o + i] = Math.sqrt(A[a + (i & da)]!);
  },
  mix: (n, O, o, A, a, da, B, b, db, C, c, dc) => {
    for (let i = 0; i < n; i += 1)
      O[o + i] = A[a + (i & da)]! * (1 - C[c + (i & dc)]!) + B[b + (i & db)]! * C[c + (i & dc)]!;
  },
  clamp: (n, O, o, A, a, da, B, b, db, C, c, dc) => {
    for (let i = 0; i < n; i += 1)
      O[o + i] = Math.min(Math.max(A[a + (i & da)]!, B[b + (i & db)]!), C[c + (i & dc)]!);
  },
  step: (n, O, o, A, a, da, B, b, db) => {
    for (let i = 0; i < n; i += 1) O[o + i] = B[b + (i & db)]! < A[a + (i & da)]! ? 0 : 1;
  },
  smoothstep: ternary((low, high, x) => {
    const t = fround(Math.min(Math.max((x - low) / (high - low), 0), 1));
    return t * t * (3 - 2 * t);
  }),
  mod: binary((x, y) => x - y * Math.floor(fround(x / y))),
  // Where GLSL leaves it open: 0 to a power above 0 is 0, to any other 1. So is anything below 0.
  pow: binary((x, y) => (x > 0 ? x ** y : y > 0 ? 0 : 1)),
  sign: unary(Math.sign),
  ceil: unary(Math.ceil),
  round: unary((x) => Math.floor(fround(x + 0.5))),
  trunc: unary(Math.trunc),
  inversesqrt: unary((x) => 1 / Math.sqrt(x)),
  exp: unary(Math.exp),
  log: unary(Math.log),
  exp2: unary((x) => 2 ** x),
  log2: unary(Math.log2),
  sin: unary(Math.sin),
  cos: unary(Math.cos),
  tan: unary(Math.tan),
  asin: unary(Math.asin),
  acos: unary(Math.acos),
  atan: unary(Math.atan),
  atan2: binary(Math.atan2),
  isnan: unary((x) => (Number.isNaN(x) ? 1 : 0)),
  less: binary((x, y) => (x < y ? 1 : 0)),
  lessEqual: binary((x, y) => (x <= y ? 1 : 0)),
  equal: binary((x, y) => (x === y ? 1 : 0)),
};

/** Operations on whole numbers; results wrap at 32 bits as a GPU's do, because typed arrays store them so. */
export const WHOLE_LANES: Readonly<Record<string, Lane>> = {
  ...Object.fromEntries(['less', 'lessEqual', 'equal'].map((name) => [name, FLOAT_LANES[name]!])),
  add: (n, O, o, A, a, da, B, b, db) => {
    for (let i = 0; i < n; i += 1) O[o + i] = (A[a + (i & da)]! + B[b + (i & db)]!) | 0;
  },
  subtract: (n, O, o, A, a, da, B, b, db) => {
    for (let i = 0; i < n; i += 1) O[o + i] = (A[a + (i & da)]! - B[b + (i & db)]!) | 0;
  },
  multiply: (n, O, o, A, a, da, B, b, db) => {
    for (let i = 0; i < n; i += 1) O[o + i] = Math.imul(A[a + (i & da)]!, B[b + (i & db)]!);
  },
  bitXor: (n, O, o, A, a, da, B, b, db) => {
    for (let i = 0; i < n; i += 1) O[o + i] = A[a + (i & da)]! ^ B[b + (i & db)]!;
  },
  bitAnd: binary((x, y) => x & y),
  bitOr: binary((x, y) => x | y),
  bitNot: unary((x) => ~x),
  negate: unary((x) => -x | 0),
  abs: unary(Math.abs),
  min: binary(Math.min),
  max: binary(Math.max),
  clamp: ternary((x, low, high) => Math.min(Math.max(x, low), high)),
  // GLSL leaves division by zero and % of negatives open; here, and in what is emitted, both are defined.
  quotient: binary((x, y) => (y === 0 ? 0 : Math.trunc(x / y))),
  remainder: binary((x, y) => (y === 0 ? 0 : x - y * Math.trunc(x / y))),
  shiftLeft: binary((x, y) => x << y),
  not: unary((x) => (x ? 0 : 1)),
  and: binary((x, y) => x & y),
  or: binary((x, y) => x | y),
  xor: binary((x, y) => x ^ y),
};

/** >> keeps the sign of an int and fills a uint with zeros. */
export const shiftRight: Lane = (n, O, o, A, a, da, B, b, db) => {
  if (O instanceof Uint32Array)
    for (let i = 0; i < n; i += 1) O[o + i] = A[a + (i & da)]! >>> B[b + (i & db)]!;
  else for (let i = 0; i < n; i += 1) O[o + i] = A[a + (i & da)]! >> B[b + (i & db)]!;
};
