import type { Instruction } from './code.ts';
import { binary, choose, unary, type Binary, type Lane } from './lane.ts';

const nearer =
  (less: Instruction): Binary =>
  (code, x, y) => {
    code.get(x, y, x, y);
    code.op(less, 'select');
  };

/** A division whose divisor may be 0, which gives 0, or −1, which is a negation: −2³¹ has no opposite, and wraps. */
const division =
  (instruction: 'i32.div_s' | 'i32.rem_s' | 'i32.div_u' | 'i32.rem_u'): Binary =>
  (code, x, y) => {
    if (y.constant !== undefined && y.constant !== 0 && y.constant !== -1)
      return binary(instruction)(code, x, y);
    const signed = instruction.endsWith('_s');
    const is = (what: number): void => {
      code.get(y);
      code.constant('i32', what);
      code.op('i32.eq');
    };
    // The divisor is made one that cannot trap; what was divided by it is not used then.
    const safe = (): void => {
      code.get(x);
      code.constant('i32', 1);
      code.get(y);
      is(0);
      if (signed) {
        is(-1);
        code.op('i32.or');
      }
      code.op('select', instruction);
    };
    const zero = (): void => code.constant('i32', 0);
    const opposite = (): void => {
      if (instruction === 'i32.rem_s') return zero();
      zero();
      code.get(x);
      code.op('i32.sub');
    };
    const nonZero = signed ? () => choose(code, opposite, safe, () => is(-1)) : safe;
    choose(code, zero, nonZero, () => is(0));
  };

/** Operations on whole numbers and truths, for int (and bool) or for uint. */
const whole = (u: boolean): Readonly<Record<string, Lane>> => {
  const less = u ? 'i32.lt_u' : 'i32.lt_s';
  const more = u ? 'i32.gt_u' : 'i32.gt_s';
  const min = nearer(less);
  const max = nearer(more);
  return {
    add: binary('i32.add'),
    subtract: binary('i32.sub'),
    multiply: binary('i32.mul'),
    negate: (code, x) => {
      code.constant('i32', 0);
      code.get(x);
      code.op('i32.sub');
    },
    abs: (code, x) => {
      if (u) return code.get(x);
      code.constant('i32', 0);
      code.get(x);
      code.op('i32.sub');
      code.get(x, x);
      code.constant('i32', 0);
      code.op('i32.lt_s', 'select');
    },
    min,
    max,
    clamp: (code, x, low, high) => {
      max(code, x, low);
      min(code, code.keep('i32'), high);
    },
    less: binary(less),
    lessEqual: binary(u ? 'i32.le_u' : 'i32.le_s'),
    equal: binary('i32.eq'),
    quotient: division(u ? 'i32.div_u' : 'i32.div_s'),
    remainder: division(u ? 'i32.rem_u' : 'i32.rem_s'),
    bitAnd: binary('i32.and'),
    bitOr: binary('i32.or'),
    bitXor: binary('i32.xor'),
    bitNot: (code, x) => {
      code.get(x);
      code.constant('i32', -1);
      code.op('i32.xor');
    },
    shiftLeft: binary('i32.shl'),
    shiftRight: binary(u ? 'i32.shr_u' : 'i32.shr_s'),
    not: unary('i32.eqz'),
    and: binary('i32.and'),
    or: binary('i32.or'),
    xor: binary('i32.xor'),
  };
};
export const INT_LANES = whole(false);
export const UINT_LANES = whole(true);
