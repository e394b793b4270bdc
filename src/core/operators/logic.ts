import type { Builder } from '../program/builder.ts';
import type { Value } from '../program/value.ts';
import { any, flag, float, operator, type Operator } from './declare.ts';

const compare = (
  name: string,
  sign: string,
  summary: string,
  synonyms: readonly string[],
  lower: (b: Builder, x: Value, y: Value) => Value,
): Operator =>
  operator({
    name,
    family: 'logic',
    summary,
    inputs: { x: float(0), y: float(0.5) },
    flow: 'x',
    formula: `x ${sign} y`,
    synonyms,
    example: `select(${name}(uv.x, 0.5), 1.0, 0.0)`,
    lower: (b, { x, y }) => lower(b, x, y),
  });

export const less = compare(
  'less',
  '<',
  'True where x lies below y.',
  ['below', 'smaller', 'compare'],
  (b, x, y) => b.less(x, y),
);
export const greater = compare(
  'greater',
  '>',
  'True where x lies above y.',
  ['above', 'larger', 'compare'],
  (b, x, y) => b.less(y, x),
);
export const lessOrEqual = compare(
  'lessOrEqual',
  '≤',
  'True where x is y or lies below it.',
  ['at most', 'compare'],
  (b, x, y) => b.lessEqual(x, y),
);
export const greaterOrEqual = compare(
  'greaterOrEqual',
  '≥',
  'True where x is y or lies above it.',
  ['at least', 'compare'],
  (b, x, y) => b.lessEqual(y, x),
);

export const near = operator({
  name: 'near',
  family: 'logic',
  summary: 'True where x and y are as good as equal.',
  inputs: { x: float(0), y: float(0.5), within: float(0.001, { min: 0, max: 1 }) },
  flow: 'x',
  formula: '|x − y| ≤ within',
  synonyms: ['equal', 'same', 'compare', 'is'],
  example: 'select(near(floor(uv.x * 4.0), 2.0), 1.0, 0.0)',
  lower: (b, { x, y, within }) => b.lessEqual(b.abs(b.subtract(x, y)), within),
});

const both = { x: flag(false), y: flag(false) };
export const and = operator({
  name: 'and',
  family: 'logic',
  summary: 'True where both are.',
  inputs: both,
  flow: 'x',
  formula: 'x ∧ y',
  synonyms: ['both', 'intersection', 'boolean'],
  example: 'select(and(uv.x > 0.2, uv.x < 0.8), 1.0, 0.0)',
  lower: (b, { x, y }) => b.and(x, y),
});
export const or = operator({
  name: 'or',
  family: 'logic',
  summary: 'True where at least one is.',
  inputs: both,
  flow: 'x',
  formula: 'x ∨ y',
  synonyms: ['either', 'union', 'boolean'],
  example: 'select(or(uv.x < 0.2, uv.x > 0.8), 1.0, 0.0)',
  lower: (b, { x, y }) => b.or(x, y),
});
export const not = operator({
  name: 'not',
  family: 'logic',
  summary: 'True where x is not.',
  inputs: { x: flag(false) },
  flow: 'x',
  formula: '¬x',
  synonyms: ['opposite', 'boolean', 'flip'],
  example: 'select(not(frontFacing), 1.0, 0.0)',
  lower: (b, { x }) => b.not(x),
});
export const select = operator({
  name: 'select',
  family: 'logic',
  summary: 'One value where a condition is true, another where it is not.',
  inputs: { condition: flag(true), yes: any(1), no: any(0) },
  flow: 'condition',
  formula: 'condition ? yes : no',
  synonyms: ['if', 'branch', 'switch', 'choose', 'ternary'],
  example: 'select(frontFacing, vec3(1.0, 0.2, 0.1), vec3(0.1))',
  lower: (b, { condition, yes, no }) => {
    const wide = (value: Value, other: Value) =>
      value.type === 'float' && other.type !== 'float' ? b.construct(other.type, value) : value;
    return b.select(condition, wide(yes, no), wide(no, yes));
  },
});
