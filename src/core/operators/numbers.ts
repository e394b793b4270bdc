import type { Builder, Operand } from '../program/builder.ts';
import type { Value } from '../program/value.ts';
import { any, operator, type Operator } from './declare.ts';

interface Told {
  readonly name: string;
  readonly summary: string;
  readonly formula: string;
  readonly synonyms?: readonly string[];
  readonly example: string;
}

const two = (
  told: Told & Pick<Operator, 'doubt'> & { readonly start: number },
  lower: (b: Builder, x: Value, y: Value) => Value,
): Operator => {
  const { start, ...rest } = told;
  return operator({
    family: 'numbers',
    inputs: { x: any(0), y: any(start) },
    flow: 'x',
    lower: (b, { x, y }) => lower(b, x, y),
    ...rest,
  });
};

const one = (told: Told & { readonly unit?: string }, lower: (b: Builder, x: Operand) => Value): Operator => {
  const { unit, ...rest } = told;
  return operator({
    family: 'numbers',
    inputs: { x: any(0, unit ? { unit } : {}) },
    flow: 'x',
    lower: (b, { x }) => lower(b, x),
    ...rest,
  });
};

/** The least number a logarithm is taken of: the smallest normal 32-bit float. */
const LEAST = 2 ** -126;

export const add = two(
  {
    name: 'add',
    summary: 'The sum.',
    formula: 'x + y',
    start: 0,
    synonyms: ['plus', 'sum'],
    example: 'add(uv.x, 0.25)',
  },
  (b, x, y) => b.add(x, y),
);
export const subtract = two(
  {
    name: 'subtract',
    summary: 'Takes y away.',
    formula: 'x − y',
    start: 0,
    synonyms: ['minus', 'less', 'difference'],
    example: 'subtract(uv.x, 0.5)',
  },
  (b, x, y) => b.subtract(x, y),
);
export const multiply = two(
  {
    name: 'multiply',
    summary: 'The product.',
    formula: 'x · y',
    start: 1,
    synonyms: ['times', 'scale', 'tint', 'mask', 'product'],
    example: 'multiply(uv.x, 2.0)',
  },
  (b, x, y) => b.multiply(x, y),
);
export const divide = two(
  {
    name: 'divide',
    summary: 'The quotient. Dividing by zero gives no number, and the range bar says so.',
    formula: 'x / y',
    start: 1,
    synonyms: ['over', 'ratio', 'quotient'],
    example: 'divide(uv.x, 4.0)',
    doubt: ({ y }) =>
      y?.some((each) => each === 0) ? 'This divides by 0: what comes out is not a number.' : null,
  },
  (b, x, y) => b.divide(x, y),
);
export const power = two(
  {
    name: 'power',
    summary:
      'Raises to a power; a base below 0 counts as 0, and 0 to a power of 0 or less is 1, so that nothing becomes infinite.',
    formula: 'x > 0 ? x^y : y > 0 ? 0 : 1',
    start: 2,
    synonyms: ['pow', 'exponent', 'gamma', 'sharpen'],
    example: 'power(uv.x, 3.0)',
    doubt: ({ y }) =>
      y?.some((each) => each <= 0)
        ? `0 to the power of ${y.find((each) => each <= 0)} has no value; it counts as 1, and so does what is below 0.`
        : null,
  },
  (b, x, y) => b.pow(x, y),
);
export const min = two(
  {
    name: 'min',
    summary: 'The lesser of the two.',
    formula: 'min(x, y)',
    start: 1,
    synonyms: ['minimum', 'darken', 'smaller', 'intersection'],
    example: 'min(uv.x, uv.y)',
  },
  (b, x, y) => b.min(x, y),
);
export const max = two(
  {
    name: 'max',
    summary: 'The greater of the two.',
    formula: 'max(x, y)',
    start: 0,
    synonyms: ['maximum', 'lighten', 'larger', 'union'],
    example: 'max(uv.x, uv.y)',
  },
  (b, x, y) => b.max(x, y),
);
export const mod = two(
  {
    name: 'mod',
    summary: 'What is left after whole times y.',
    formula: 'x − y·floor(x / y)',
    start: 1,
    synonyms: ['modulo', 'repeat', 'remainder', 'wrap'],
    example: 'mod(uv.x, 0.25)',
  },
  (b, x, y) => b.mod(x, y),
);

export const negate = one(
  {
    name: 'negate',
    summary: 'Turns the sign.',
    formula: '−x',
    synonyms: ['minus', 'opposite'],
    example: 'negate(uv.x)',
  },
  (b, x) => b.negate(x),
);
export const abs = one(
  {
    name: 'abs',
    summary: 'Drops the sign.',
    formula: '|x|',
    synonyms: ['absolute', 'mirror'],
    example: 'abs(uv.x - 0.5)',
  },
  (b, x) => b.abs(x),
);
export const sign = one(
  { name: 'sign', summary: '−1 below 0, 0 at 0, 1 above.', formula: 'sign x', example: 'sign(uv.x - 0.5)' },
  (b, x) => b.sign(x),
);
export const fract = one(
  {
    name: 'fract',
    summary: 'What stands after the point: repeats 0–1.',
    formula: 'x − floor(x)',
    synonyms: ['fraction', 'repeat', 'frac', 'saw'],
    example: 'fract(uv.x * 4.0)',
  },
  (b, x) => b.fract(x),
);
export const floor = one(
  {
    name: 'floor',
    summary: 'Rounds down.',
    formula: '⌊x⌋',
    synonyms: ['round down', 'steps'],
    example: 'floor(uv.x * 4.0)',
  },
  (b, x) => b.floor(x),
);
export const ceil = one(
  {
    name: 'ceil',
    summary: 'Rounds up.',
    formula: '⌈x⌉',
    synonyms: ['round up', 'ceiling'],
    example: 'ceil(uv.x * 4.0)',
  },
  (b, x) => b.ceil(x),
);
export const round = one(
  {
    name: 'round',
    summary: 'Rounds to the nearest whole number, halves upwards.',
    formula: '⌊x + ½⌋',
    synonyms: ['nearest', 'snap'],
    example: 'round(uv.x * 4.0)',
  },
  (b, x) => b.round(x),
);
export const trunc = one(
  {
    name: 'trunc',
    summary: 'Drops the fraction.',
    formula: 'x towards 0',
    synonyms: ['truncate', 'whole'],
    example: 'trunc(uv.x * 4.0)',
  },
  (b, x) => b.trunc(x),
);
export const sqrt = one(
  {
    name: 'sqrt',
    summary: 'The square root; below 0 counts as 0.',
    formula: '√max(x, 0)',
    synonyms: ['square root', 'root'],
    example: 'sqrt(uv.x)',
  },
  (b, x) => b.sqrt(b.max(x, 0)),
);
export const inversesqrt = one(
  {
    name: 'inversesqrt',
    summary: 'One over the square root; what is below 10⁻³⁰ counts as that.',
    formula: '1 / √max(x, 10⁻³⁰)',
    synonyms: ['reciprocal root', 'rsqrt'],
    example: 'inversesqrt(uv.x + 0.1)',
  },
  (b, x) => b.inversesqrt(b.max(x, 1e-30)),
);
export const exp = one(
  {
    name: 'exp',
    summary: 'e to the power of x.',
    formula: 'eˣ',
    synonyms: ['exponential', 'growth', 'decay'],
    example: 'exp(-uv.x)',
  },
  (b, x) => b.exp(x),
);
export const exp2 = one(
  {
    name: 'exp2',
    summary: '2 to the power of x: what stops do.',
    formula: '2ˣ',
    synonyms: ['stops', 'octave'],
    example: 'exp2(uv.x)',
  },
  (b, x) => b.exp2(x),
);
export const log = one(
  {
    name: 'log',
    summary: 'The natural logarithm; what is not above 0 counts as the least float above it.',
    formula: 'ln max(x, 2⁻¹²⁶)',
    synonyms: ['logarithm', 'ln'],
    example: 'log(uv.x + 1.0)',
  },
  (b, x) => b.log(b.max(x, LEAST)),
);
export const log2 = one(
  {
    name: 'log2',
    summary: 'The logarithm to base 2; what is not above 0 counts as the least float above it.',
    formula: 'log₂ max(x, 2⁻¹²⁶)',
    synonyms: ['logarithm', 'stops'],
    example: 'log2(uv.x + 1.0)',
  },
  (b, x) => b.log2(b.max(x, LEAST)),
);
export const sin = one(
  {
    name: 'sin',
    summary: 'The sine of an angle in radians.',
    formula: 'sin x',
    unit: 'rad',
    synonyms: ['sine', 'wave'],
    example: 'sin(uv.x * 6.2832)',
  },
  (b, x) => b.sin(x),
);
export const cos = one(
  {
    name: 'cos',
    summary: 'The cosine of an angle in radians.',
    formula: 'cos x',
    unit: 'rad',
    synonyms: ['cosine', 'wave'],
    example: 'cos(uv.x * 6.2832)',
  },
  (b, x) => b.cos(x),
);
export const tan = one(
  {
    name: 'tan',
    summary: 'The tangent of an angle in radians.',
    formula: 'tan x',
    unit: 'rad',
    synonyms: ['tangent'],
    example: 'tan(uv.x)',
  },
  (b, x) => b.tan(x),
);
export const asin = one(
  {
    name: 'asin',
    summary: 'The angle whose sine is x, in radians; x is held to −1–1.',
    formula: 'arcsin x',
    synonyms: ['arcsine'],
    example: 'asin(uv.x)',
  },
  (b, x) => b.asin(b.clamp(x, -1, 1)),
);
export const acos = one(
  {
    name: 'acos',
    summary: 'The angle whose cosine is x, in radians; x is held to −1–1.',
    formula: 'arccos x',
    synonyms: ['arccosine'],
    example: 'acos(uv.x)',
  },
  (b, x) => b.acos(b.clamp(x, -1, 1)),
);
export const atan = operator({
  name: 'atan',
  family: 'numbers',
  summary: 'The angle of the point (x, y) around 0, in radians from −π to π; 0 at 0 itself.',
  inputs: { y: any(0), x: any(1) },
  flow: 'y',
  formula: 'the angle whose tangent is y / x, in its own quarter',
  synonyms: ['arctangent', 'atan2', 'angle', 'polar'],
  example: 'atan(uv.y - 0.5, uv.x - 0.5)',
  // GLSL leaves (0, 0) open; nudged off it by the least normal float, the angle is 0.
  lower: (b, { y, x }) => b.atan2(y, b.add(x, b.multiply(b.step(b.add(b.abs(x), b.abs(y)), 0), LEAST))),
});
export const radians = one(
  {
    name: 'radians',
    summary: 'Degrees as radians.',
    formula: 'x·π / 180',
    unit: '°',
    example: 'radians(90.0)',
  },
  (b, x) => b.multiply(x, Math.PI / 180),
);
export const degrees = one(
  {
    name: 'degrees',
    summary: 'Radians as degrees.',
    formula: 'x·180 / π',
    unit: 'rad',
    example: 'degrees(uv.x)',
  },
  (b, x) => b.multiply(x, 180 / Math.PI),
);
