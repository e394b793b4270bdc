import { hasExactInverse } from '../../numbers/hasExactInverse.ts';
import { importOf } from './host.ts';
import { binary, choose, f32, unary, type Binary, type Lane, type Unary } from './lane.ts';

/** A function of JavaScript's: doubles in, a double out. */
const host1 =
  (name: string): Unary =>
  (code, x) => {
    code.wide(x);
    code.call(importOf(name));
    code.op('f32.demote_f64');
  };
const host2 =
  (name: string): Binary =>
  (code, x, y) => {
    code.wide(x);
    code.wide(y);
    code.call(importOf(name));
    code.op('f32.demote_f64');
  };

/** Operations on floats: the same roundings, in the same places, as columns make them. */
export const FLOAT_LANES: Readonly<Record<string, Lane>> = {
  add: binary('f32.add'),
  subtract: binary('f32.sub'),
  multiply: (code, x, y) => {
    if (x.constant === 1 || y.constant === 1) return code.get(x.constant === 1 ? y : x);
    code.get(x, y);
    code.op('f32.mul');
  },
  divide: (code, x, y) => {
    const turned = y.constant !== undefined && hasExactInverse(y.constant);
    code.get(x, turned ? { kind: 'f32', constant: 1 / y.constant } : y);
    code.op(turned ? 'f32.mul' : 'f32.div');
  },
  min: binary('f32.min'),
  max: binary('f32.max'),
  negate: unary('f32.neg'),
  abs: unary('f32.abs'),
  floor: unary('f32.floor'),
  ceil: unary('f32.ceil'),
  trunc: unary('f32.trunc'),
  sqrt: unary('f32.sqrt'),
  less: binary('f32.lt'),
  lessEqual: binary('f32.le'),
  equal: binary('f32.eq'),
  isnan: (code, x) => {
    code.get(x, x);
    code.op('f32.ne');
  },
  fract: (code, x) => {
    code.get(x, x);
    code.op('f32.floor', 'f32.sub');
  },
  round: (code, x) => {
    code.get(x);
    code.constant('f32', 0.5);
    code.op('f32.add', 'f32.floor');
  },
  clamp: (code, x, low, high) => {
    code.get(x, low);
    code.op('f32.max');
    code.get(high);
    code.op('f32.min');
  },
  step: (code, edge, x) =>
    choose(code, f32(code, 0), f32(code, 1), () => {
      code.get(x, edge);
      code.op('f32.lt');
    }),
  sign: (code, x) => {
    const below = (): void =>
      choose(
        code,
        f32(code, -1),
        () => code.get(x),
        () => {
          code.get(x);
          code.constant('f32', 0);
          code.op('f32.lt');
        },
      );
    choose(code, f32(code, 1), below, () => {
      code.get(x);
      code.constant('f32', 0);
      code.op('f32.gt');
    });
  },
  mix: (code, x, y, t) => {
    // What is multiplied by 0 may be left out where it is known to be a number.
    if (t.constant === 1 && Number.isFinite(x.constant)) return code.get(y);
    code.get(x);
    code.constant('f32', 1);
    code.get(t);
    code.op('f32.sub', 'f32.mul');
    code.get(y, t);
    code.op('f32.mul', 'f32.add');
  },
  smoothstep: (code, low, high, x) => {
    code.wide(x);
    code.wide(low);
    code.op('f64.sub');
    code.wide(high);
    code.wide(low);
    code.op('f64.sub', 'f64.div');
    code.constant('f64', 0);
    code.op('f64.max');
    code.constant('f64', 1);
    code.op('f64.min', 'f32.demote_f64');
    const t = code.keep('f32');
    code.wide(t);
    code.wide(t);
    code.op('f64.mul');
    code.constant('f64', 3);
    code.constant('f64', 2);
    code.wide(t);
    code.op('f64.mul', 'f64.sub', 'f64.mul', 'f32.demote_f64');
  },
  mod: (code, x, y) => {
    code.wide(x);
    code.wide(y);
    code.get(x, y);
    code.op('f32.div', 'f32.floor', 'f64.promote_f32', 'f64.mul', 'f64.sub', 'f32.demote_f64');
  },
  pow: (code, x, y) => {
    const open = (): void =>
      choose(code, f32(code, 0), f32(code, 1), () => {
        code.get(y);
        code.constant('f32', 0);
        code.op('f32.gt');
      });
    choose(
      code,
      () => host2('pow')(code, x, y),
      open,
      () => {
        code.get(x);
        code.constant('f32', 0);
        code.op('f32.gt');
      },
    );
  },
  inversesqrt: (code, x) => {
    code.constant('f64', 1);
    code.wide(x);
    code.op('f64.sqrt', 'f64.div', 'f32.demote_f64');
  },
  exp2: (code, x) => {
    code.constant('f64', 2);
    code.wide(x);
    code.call(importOf('pow'));
    code.op('f32.demote_f64');
  },
  ...Object.fromEntries(
    ['sin', 'cos', 'tan', 'asin', 'acos', 'atan', 'exp', 'log', 'log2'].map((name) => [name, host1(name)]),
  ),
  atan2: host2('atan2'),
};
