import { hasExactInverse } from '../../numbers/hasExactInverse.ts';
import { componentsOf, type Type } from '../types.ts';
import type { Builder, Peephole } from '../builder.ts';
import type { Value } from '../value.ts';
import { bound, isNeverBelow0, isWithin } from '../knownRange.ts';

const isAll = (value: Value, x: number): boolean =>
  value.op === 'constant' && (value.payload as readonly number[]).every((each) => each === x);

const isFiniteConstant = (value: Value): boolean =>
  value.op === 'constant' && (value.payload as readonly number[]).every(Number.isFinite);

/** sin(x)·½ + ½, the wave from 0 to 1: below 0 by a last bit at most, which no pow may be given but any product may. */
const isHalfWave = ({ op, inputs: [product, half] }: Value): boolean =>
  op === 'add' &&
  bound(half) === 0.5 &&
  product!.op === 'multiply' &&
  bound(product!.inputs[1]) === 0.5 &&
  (product!.inputs[0]!.op === 'sin' || product!.inputs[0]!.op === 'cos');

/** The largest power that is written as products. */
const MOST_FACTORS = 4;

/** Powers by small whole numbers as products, which are quicker than any pow and nearer to the truth. */
const asProducts = (b: Builder, x: Value, exponent: number): Value | null => {
  if (!Number.isInteger(exponent) || exponent < 1 || exponent > MOST_FACTORS) return null;
  const wave = x.op === 'max' && isAll(x.inputs[1]!, 0) && isHalfWave(x.inputs[0]!);
  const base = wave ? x.inputs[0]! : isNeverBelow0(x) || isHalfWave(x) ? x : b.max(x, 0);
  if (exponent === 1) return base;
  const square = b.multiply(base, base);
  return exponent === 2 ? square : b.multiply(square, exponent === 3 ? base : square);
};

/** Finds work that changes nothing. Never x·0, which would hide a NaN. */
export const simplify: Peephole = (b, op, type, inputs, payload) => {
  const x = inputs[0]!;
  const y = inputs[1]!;
  const z = inputs[2]!;
  switch (op) {
    case 'add':
      // −0 + 0 is 0, so only +0 on the left of a sum may go; the difference shows nowhere else.
      if (isAll(y, 0) && x.type === type) return x;
      if (isAll(x, 0) && y.type === type) return y;
      break;
    case 'subtract':
      if (isAll(y, 0) && x.type === type) return x;
      break;
    case 'multiply':
      if (isAll(y, 1) && x.type === type) return x;
      if (isAll(x, 1) && y.type === type) return y;
      break;
    case 'divide':
      if (isAll(y, 1) && x.type === type) return x;
      if (y.op === 'constant' && y.type === 'float' && hasExactInverse(bound(y)!))
        return b.multiply(x, 1 / bound(y)!);
      break;
    case 'mix':
      // What is left out is multiplied by 0: it must be a number, or the result would not be one.
      if (isAll(z, 1) && isFiniteConstant(x) && y.type === type) return y;
      if (isAll(z, 0) && isFiniteConstant(y) && x.type === type) return x;
      break;
    case 'and':
      if (isAll(x, 0) || isAll(y, 1)) return x;
      if (isAll(y, 0) || isAll(x, 1)) return y;
      break;
    case 'or':
      if (isAll(x, 1) || isAll(y, 0)) return x;
      if (isAll(y, 1) || isAll(x, 0)) return y;
      // x or (y and not x) is x or y.
      if (y.op === 'and' && isNot(y.inputs[1]!, x)) return b.or(x, y.inputs[0]!);
      if (y.op === 'and' && isNot(y.inputs[0]!, x)) return b.or(x, y.inputs[1]!);
      break;
    case 'not':
      if (x.op === 'not') return x.inputs[0]!;
      break;
    case 'negate':
      if (x.op === 'negate') return x.inputs[0]!;
      break;
    case 'max':
      if (isAll(y, 0) && x.type === type && isNeverBelow0(x)) return x;
      break;
    case 'pow': {
      const exponent = bound(y);
      return exponent !== null && x.type === type ? asProducts(b, x, exponent) : null;
    }
    case 'clamp': {
      const low = bound(y);
      const high = bound(z);
      if (low !== null && high !== null && x.type === type && isWithin(x, low, high)) return x;
      break;
    }
    case 'select':
      if (x.op === 'constant') return (x.payload as readonly number[])[0] ? y : z;
      if (y === z) return y;
      return type === 'bool' ? chooseFlag(b, x, y, z) : null;
    case 'swizzle':
      return takeComponents(b, type, payload as string, x);
    case 'construct':
      return type === 'mat3' ? null : gather(b, type, inputs);
    case 'convert':
      if (x.type === type) return x;
      break;
  }
  return null;
};

/** A swizzle of a swizzle is one swizzle; a swizzle of something just put together is what was put in. */
const takeComponents = (b: Builder, type: Type, picks: string, source: Value): Value | null => {
  if (source.op === 'swizzle') {
    const inner = source.payload as string;
    return b.swizzle(source.inputs[0]!, [...picks].map((letter) => inner['xyzw'.indexOf(letter)]).join(''));
  }
  if (source.op === 'construct') {
    const [first, ...rest] = source.inputs;
    const all = source.inputs.flatMap((input) => {
      const count = componentsOf(input.type);
      return count === 1 ? [input] : Array.from({ length: count }, (_, i) => b.swizzle(input, 'xyzw'[i]!));
    });
    const parts = [...picks].map((letter) => (rest.length ? all['xyzw'.indexOf(letter)]! : first!));
    return parts.length === 1 ? parts[0]! : b.construct(type, ...parts);
  }
  return null;
};

const isNot = (value: Value, of: Value): boolean => value.op === 'not' && value.inputs[0] === of;

/** A choice between flags, one of which is known, is a matter of and, or and not. */
const chooseFlag = (b: Builder, condition: Value, yes: Value, no: Value): Value | null => {
  if (isAll(yes, 1)) return b.or(condition, no);
  if (isAll(yes, 0)) return b.and(b.not(condition), no);
  if (isAll(no, 0)) return b.and(condition, yes);
  if (isAll(no, 1)) return b.or(b.not(condition), yes);
  return null;
};

/** Components that stand side by side and come from one vector are taken together: vec4(v.x, v.y, 0, 1) is vec4(v.xy, 0, 1). */
const gather = (b: Builder, type: Type, inputs: readonly Value[]): Value | null => {
  const groups: Value[] = [];
  for (let i = 0; i < inputs.length;) {
    const source = inputs[i]!.op === 'swizzle' ? inputs[i]!.inputs[0]! : null;
    let picks = '';
    let end = i;
    while (source && inputs[end]?.op === 'swizzle' && inputs[end]!.inputs[0] === source) {
      picks += inputs[end]!.payload as string;
      end += 1;
    }
    groups.push(end > i + 1 ? b.swizzle(source!, picks) : inputs[i]!);
    i = Math.max(end, i + 1);
  }
  if (groups.length === inputs.length) return null;
  return groups.length === 1 ? groups[0]! : b.construct(type, ...groups);
};
