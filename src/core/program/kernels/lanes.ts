/** One operation on one component of its inputs. What it gives is rounded to its type when it is stored. */
export type Lane = (x: number, y: number, z: number) => number;

const { fround } = Math;

/** Operations on floats, component by component. */
export const FLOAT_LANES: Readonly<Record<string, Lane>> = {
  add: (x, y) => x + y,
  subtract: (x, y) => x - y,
  multiply: (x, y) => x * y,
  divide: (x, y) => x / y,
  min: (x, y) => Math.min(x, y),
  max: (x, y) => Math.max(x, y),
  floor: Math.floor,
  fract: (x) => x - Math.floor(x),
  abs: Math.abs,
  negate: (x) => -x,
  sqrt: Math.sqrt,
  mix: (x, y, t) => fround(x * fround(1 - t)) + fround(y * t),
  clamp: (x, low, high) => Math.min(Math.max(x, low), high),
  step: (edge, x) => (x < edge ? 0 : 1),
  smoothstep: (low, high, x) => {
    const t = fround(Math.min(Math.max((x - low) / (high - low), 0), 1));
    return t * t * (3 - 2 * t);
  },
  mod: (x, y) => x - y * Math.floor(fround(x / y)),
  // Where GLSL leaves it open: 0 to a power above 0 is 0, to any other 1. So is anything below 0.
  pow: (x, y) => (x > 0 ? x ** y : y > 0 ? 0 : 1),
  sign: Math.sign,
  ceil: Math.ceil,
  round: (x) => Math.floor(fround(x + 0.5)),
  trunc: Math.trunc,
  inversesqrt: (x) => 1 / Math.sqrt(x),
  exp: Math.exp,
  log: Math.log,
  exp2: (x) => 2 ** x,
  log2: Math.log2,
  sin: Math.sin,
  cos: Math.cos,
  tan: Math.tan,
  asin: Math.asin,
  acos: Math.acos,
  atan: Math.atan,
  atan2: Math.atan2,
  isnan: (x) => (Number.isNaN(x) ? 1 : 0),
  less: (x, y) => (x < y ? 1 : 0),
  lessEqual: (x, y) => (x <= y ? 1 : 0),
  equal: (x, y) => (x === y ? 1 : 0),
};

/** Operations on whole numbers; results wrap at 32 bits as a GPU's do, because typed arrays store them so. */
export const WHOLE_LANES: Readonly<Record<string, Lane>> = {
  ...Object.fromEntries(['less', 'lessEqual', 'equal'].map((name) => [name, FLOAT_LANES[name]!])),
  add: (x, y) => (x + y) | 0,
  subtract: (x, y) => (x - y) | 0,
  multiply: Math.imul,
  negate: (x) => -x | 0,
  abs: Math.abs,
  min: (x, y) => Math.min(x, y),
  max: (x, y) => Math.max(x, y),
  clamp: (x, low, high) => Math.min(Math.max(x, low), high),
  // GLSL leaves division by zero and % of negatives open; here, and in what is emitted, both are defined.
  quotient: (x, y) => (y === 0 ? 0 : Math.trunc(x / y)),
  remainder: (x, y) => (y === 0 ? 0 : x - y * Math.trunc(x / y)),
  bitAnd: (x, y) => x & y,
  bitOr: (x, y) => x | y,
  bitXor: (x, y) => x ^ y,
  bitNot: (x) => ~x,
  shiftLeft: (x, y) => x << y,
  not: (x) => (x ? 0 : 1),
  and: (x, y) => x & y,
  or: (x, y) => x | y,
  xor: (x, y) => x ^ y,
};

/** >> keeps the sign of an int and fills a uint with zeros. */
export const shiftRight: Readonly<Record<'int' | 'uint', Lane>> = {
  int: (x, y) => x >> y,
  uint: (x, y) => x >>> y,
};
