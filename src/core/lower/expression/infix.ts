import type { Builder, Operand } from '../../program/builder.ts';
import { floatType, type Type } from '../../program/types.ts';
import type { Value } from '../../program/value.ts';
import { fail, type Span } from '../../language/mistake.ts';
import type { Binary } from '../../language/syntax.ts';
import { one, shape, spelled, vectorType, type GlslValue } from './glslValue.ts';
import { unify } from './conversions.ts';

type Work = (b: Builder, x: Operand, y: Operand) => Value;
const SIGNS: Readonly<Record<string, Work>> = {
  '+': (b, x, y) => b.add(x, y),
  '-': (b, x, y) => b.subtract(x, y),
  '*': (b, x, y) => b.multiply(x, y),
  '/': (b, x, y) => b.divide(x, y),
  '%': (b, x, y) => b.remainder(x, y),
  '&': (b, x, y) => b.bitAnd(x, y),
  '|': (b, x, y) => b.bitOr(x, y),
  '^': (b, x, y) => b.bitXor(x, y),
  '<<': (b, x, y) => b.shiftLeft(x, y),
  '>>': (b, x, y) => b.shiftRight(x, y),
};

const QUOTIENT: Work = (b, x, y) => b.quotient(x, y);

/** One of + − * / % & | ^ << >>. */
export const infix = (b: Builder, sign: string, left: GlslValue, right: GlslValue, at: Span): GlslValue => {
  const shifts = sign === '<<' || sign === '>>';
  const [x, y] = shifts ? [left, right] : unify(b, left, right);
  const [p, q] = [shape(x), shape(y)];
  const numbers = [p, q].every(({ base }) => base !== 'bool' && base !== 'none' && base !== 'sampler2D');
  if (!numbers)
    return fail(at, `${sign} works on numbers, not on ${spelled(x.type)} and ${spelled(y.type)}.`);
  if (p.base !== q.base && !shifts)
    return fail(
      at,
      `${sign} has a ${x.type} on its left and a ${y.type} on its right; bring both to one type.`,
    );
  if (p.form === 'matrix' || q.form === 'matrix') return withMatrix(b, sign, x, y, at);
  if (p.base === 'float' && '%&|^<<>>'.includes(sign))
    return fail(at, `${sign} works on whole numbers; for floats write mod(a, b).`);
  const work = sign === '/' && p.base !== 'float' ? QUOTIENT : SIGNS[sign]!;
  if (p.form === 'scalar' && q.form === 'scalar') return one(work(b, x.parts[0]!, y.parts[0]!));
  if (p.size > 1 && q.size > 1 && p.size !== q.size)
    return fail(
      at,
      `${sign} has a ${x.type} on its left and a ${y.type} on its right; bring both to one size.`,
    );
  if (p.base === 'float') return one(work(b, x.parts[0]!, y.parts[0]!));
  const size = Math.max(p.size, q.size);
  const part = (value: GlslValue, i: number) => value.parts[value.parts.length === 1 ? 0 : i]!;
  return {
    type: vectorType(p.base, size),
    parts: Array.from({ length: size }, (_, i) => work(b, part(x, i), part(y, i))),
  };
};

/** m·v as the sum of columns weighted by components. */
const weighted = (b: Builder, m: GlslValue, v: Value): Value =>
  m.parts
    .map((column, i) => b.multiply(column, b.swizzle(v, 'xyzw'[i]!)))
    .reduce((sum, each) => b.add(sum, each));
const withMatrix = (b: Builder, sign: string, x: GlslValue, y: GlslValue, at: Span): GlslValue => {
  const [p, q] = [shape(x), shape(y)];
  if (p.size > 1 && q.size > 1 && p.size !== q.size)
    return fail(at, `${x.type} and ${y.type} differ in size.`);
  if (sign === '*' && p.form === 'matrix' && q.form === 'matrix')
    return { type: x.type, parts: y.parts.map((column) => weighted(b, x, column)) };
  if (sign === '*' && p.form === 'matrix' && q.form === 'vector') return one(weighted(b, x, y.parts[0]!));
  if (sign === '*' && p.form === 'vector')
    return one(b.construct(floatType(q.size), ...y.parts.map((column) => b.dot(x.parts[0]!, column))));
  if (!'+-*/'.includes(sign) || p.form === 'vector' || q.form === 'vector')
    return fail(at, `${sign} does not work on ${x.type} and ${y.type}.`);
  const column = (value: GlslValue, i: number) => value.parts[value.parts.length === 1 ? 0 : i]!;
  const type = p.form === 'matrix' ? x.type : y.type;
  return {
    type,
    parts: Array.from({ length: Math.max(p.size, q.size) }, (_, i) =>
      SIGNS[sign]!(b, column(x, i), column(y, i)),
    ),
  };
};

/** ++ and −−: one more or less. */
export const step = (b: Builder, sign: '++' | '--', x: GlslValue, at: Span): GlslValue => {
  const { base, form } = shape(x);
  if (base === 'bool' || base === 'none' || form === 'matrix')
    return fail(at, `${sign} counts numbers, not a ${spelled(x.type)}.`);
  const unit: GlslValue = one(b.constant(base as Type, [1]));
  return infix(b, sign === '++' ? '+' : '-', x, unit, at);
};

/** One of < > <= >= == !=. */
export const compare = (b: Builder, e: Binary, left: GlslValue, right: GlslValue): GlslValue => {
  const [x, y] = unify(b, left, right);
  if (x.type !== y.type)
    return fail(
      e,
      `${e.sign} compares two values of one type, not a ${spelled(x.type)} with a ${spelled(y.type)}.`,
    );
  if (e.sign === '==' || e.sign === '!=') {
    const same = x.parts.map((part, i) => b.equal(part, y.parts[i]!)).reduce((p, q) => b.and(p, q));
    return one(e.sign === '==' ? same : b.not(same));
  }
  if (shape(x).form !== 'scalar')
    return fail(e, `${e.sign} compares single numbers; for vectors write lessThan(a, b) and the like.`);
  const [p, q] = [x.parts[0]!, y.parts[0]!];
  switch (e.sign) {
    case '<':
      return one(b.less(p, q));
    case '>':
      return one(b.less(q, p));
    case '<=':
      return one(b.lessEqual(p, q));
    default:
      return one(b.lessEqual(q, p));
  }
};
