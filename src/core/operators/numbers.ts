import type { Builder, Operand } from '../program/builder.ts';
import type { Value } from '../program/value.ts';
import { any, operator, type Operator } from './declare.ts';

const two = (
  name: string,
  summary: string,
  formula: string,
  start: number,
  lower: (b: Builder, x: Value, y: Value) => Value,
  synonyms: readonly string[] = [],
): Operator =>
  operator({
    name,
    family: 'numbers',
    summary,
    inputs: { x: any(0), y: any(start) },
    flow: 'x',
    formula,
    synonyms,
    lower: (b, { x, y }) => lower(b, x, y),
  });

const one = (
  name: string,
  summary: string,
  formula: string,
  lower: (b: Builder, x: Operand) => Value,
  synonyms: readonly string[] = [],
): Operator =>
  operator({
    name,
    family: 'numbers',
    summary,
    inputs: { x: any(0) },
    flow: 'x',
    formula,
    synonyms,
    lower: (b, { x }) => lower(b, x),
  });

export const add = two('add', 'The sum.', 'x + y', 0, (b, x, y) => b.add(x, y), ['plus', 'sum', 'offset']);
export const subtract = two('subtract', 'Takes y away.', 'x − y', 0, (b, x, y) => b.subtract(x, y), [
  'minus',
  'less',
]);
export const multiply = two('multiply', 'The product.', 'x · y', 1, (b, x, y) => b.multiply(x, y), [
  'times',
  'scale',
  'tint',
]);
export const divide = two(
  'divide',
  'The quotient. Dividing by zero gives no number, and the range bar says so.',
  'x / y',
  1,
  (b, x, y) => b.divide(x, y),
  ['over'],
);
export const power = two(
  'power',
  'Raises to a power; a base below 0 counts as 0.',
  'max(x, 0)^y',
  2,
  (b, x, y) => b.pow(b.max(x, 0), y),
  ['pow', 'exponent', 'gamma'],
);
export const min = two('min', 'The lesser of the two.', 'min(x, y)', 1, (b, x, y) => b.min(x, y), ['darken']);
export const max = two('max', 'The greater of the two.', 'max(x, y)', 0, (b, x, y) => b.max(x, y), [
  'lighten',
]);
export const mod = two(
  'mod',
  'What is left after whole times y.',
  'x − y·floor(x / y)',
  1,
  (b, x, y) => b.mod(x, y),
  ['modulo', 'repeat', 'remainder'],
);

export const negate = one('negate', 'Turns the sign.', '−x', (b, x) => b.negate(x), ['minus']);
export const abs = one('abs', 'Drops the sign.', '|x|', (b, x) => b.abs(x), ['absolute']);
export const fract = one('fract', 'What stands after the point: repeats 0–1.', 'x − floor(x)', (b, x) =>
  b.fract(x),
);
export const floor = one('floor', 'Rounds down.', '⌊x⌋', (b, x) => b.floor(x), ['round', 'steps']);
export const sqrt = one('sqrt', 'The square root; below 0 counts as 0.', '√max(x, 0)', (b, x) =>
  b.sqrt(b.max(x, 0)),
);
export const sin = one('sin', 'The sine of an angle in radians.', 'sin x', (b, x) => b.sin(x));
export const cos = one('cos', 'The cosine of an angle in radians.', 'cos x', (b, x) => b.cos(x));
