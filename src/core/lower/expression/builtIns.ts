import type { Builder } from '../../program/builder.ts';
import type { Operator } from '../../operators/declare.ts';
import * as numbers from '../../operators/numbers.ts';
import * as shaping from '../../operators/shaping.ts';
import { floatType } from '../../program/types.ts';
import type { Value } from '../../program/value.ts';
import { fail, type Span } from '../../language/mistake.ts';
import type { BuiltIn } from './builtIn.ts';
import {
  componentsOf,
  fromComponents,
  one,
  shape,
  spelled,
  vectorType,
  type GlslValue,
} from './glslValue.ts';
import { promote } from './conversions.ts';
import { opaque } from './opaque.ts';
import { TEXTURES } from './textureBuiltIns.ts';

/** Runs on floats and vectors of floats as one operation; whole numbers go one by one. */
const plain =
  (lower: (b: Builder, args: readonly Value[]) => Value): BuiltIn =>
  (b, args, at) => {
    const wrong = args.find((each) => {
      const { form, base } = shape(each);
      return form === 'matrix' || (base !== 'float' && base !== 'int' && base !== 'uint');
    });
    if (wrong) return fail(at, `This takes numbers and vectors of them, not a ${spelled(wrong.type)}.`);
    const first = shape(args[0]!);
    if (first.form !== 'wholes')
      return one(
        lower(
          b,
          args.map((arg) => arg.parts[0]!),
        ),
      );
    const parts = args[0]!.parts.map((_, i) =>
      lower(
        b,
        args.map((arg) => arg.parts[Math.min(i, arg.parts.length - 1)]!),
      ),
    );
    return { type: vectorType(first.base, parts.length), parts };
  };

const float = (b: Builder, value: Value): Value =>
  value.type === 'int' || value.type === 'uint' ? b.convert('float', value) : value;
/** As `plain`, on floats alone: a whole number is read as one. */
const real = (lower: (b: Builder, args: readonly Value[]) => Value): BuiltIn =>
  plain((b, args) =>
    lower(
      b,
      args.map((arg) => float(b, arg)),
    ),
  );

/** What GLSL leaves open, an operator has decided: code means by the same word the same. */
const decided = ({ inputs, lower }: Operator): BuiltIn =>
  real((b, args) => lower(b, Object.fromEntries(Object.keys(inputs).map((name, i) => [name, args[i]!])), {}));

/** Compares two vectors component by component. */
const compare =
  (lower: (b: Builder, x: Value, y: Value) => Value): BuiltIn =>
  (b, [x, y], at) => {
    const isVector = [x!, y!].every((each) => ['vector', 'wholes'].includes(shape(each).form));
    if (!isVector || x!.type !== y!.type)
      return fail(
        at,
        `This compares two vectors of one type, not a ${spelled(x!.type)} with a ${spelled(y!.type)}.`,
      );
    const [xs, ys] = [componentsOf(b, x!), componentsOf(b, y!)];
    return { type: vectorType('bool', xs.length), parts: xs.map((each, i) => lower(b, each, ys[i]!)) };
  };

/** A function of matrices, or of vectors of booleans, which takes nothing else. */
const only =
  (what: 'a square matrix' | 'a bvec2, bvec3 or bvec4', build: BuiltIn): BuiltIn =>
  (b, args, at) => {
    const wrong = args.find((each) => {
      const { form, base } = shape(each);
      return what === 'a square matrix' ? form !== 'matrix' : form !== 'wholes' || base !== 'bool';
    });
    return wrong ? fail(at, `This takes ${what}, not a ${spelled(wrong.type)}.`) : build(b, args, at);
  };

const columns = (m: GlslValue): Value[] => [...m.parts];
const cell = (b: Builder, m: GlslValue, column: number, row: number): Value =>
  b.swizzle(m.parts[column]!, 'xyzw'[row]!);

const transpose: BuiltIn = (b, [m]) => {
  const n = m!.parts.length;
  return {
    type: m!.type,
    parts: Array.from({ length: n }, (_, row) =>
      b.construct(floatType(n), ...Array.from({ length: n }, (__, column) => cell(b, m!, column, row))),
    ),
  };
};

/** The determinant of the square that is left without some rows and columns, by Laplace's expansion. */
const minor = (b: Builder, m: GlslValue, cols: readonly number[], rows: readonly number[]): Value => {
  if (cols.length === 1) return cell(b, m, cols[0]!, rows[0]!);
  return cols
    .map((column, i) => {
      const rest = minor(
        b,
        m,
        cols.filter((each) => each !== column),
        rows.slice(1),
      );
      const term = b.multiply(cell(b, m, column, rows[0]!), rest);
      return { term, minus: i % 2 === 1 };
    })
    .reduce<Value | null>(
      (sum, { term, minus }) => (sum ? (minus ? b.subtract(sum, term) : b.add(sum, term)) : term),
      null,
    )!;
};
const upTo = (n: number) => Array.from({ length: n }, (_, i) => i);

const determinant: BuiltIn = (b, [m]) => one(minor(b, m!, upTo(m!.parts.length), upTo(m!.parts.length)));

const inverse: BuiltIn = (b, [m]) => {
  const n = m!.parts.length;
  const whole = b.divide(1, minor(b, m!, upTo(n), upTo(n)));
  const cofactor = (column: number, row: number) => {
    if (n === 2) {
      const other = cell(b, m!, 1 - column, 1 - row);
      return column === row ? other : b.negate(other);
    }
    const value = minor(
      b,
      m!,
      upTo(n).filter((c) => c !== column),
      upTo(n).filter((r) => r !== row),
    );
    return (column + row) % 2 ? b.negate(value) : value;
  };
  return {
    type: m!.type,
    parts: upTo(n).map((column) =>
      b.multiply(b.construct(floatType(n), ...upTo(n).map((row) => cofactor(row, column))), whole),
    ),
  };
};

const hyperbolic =
  (way: 1 | -1) =>
  (b: Builder, [x]: readonly Value[]) => {
    const [up, down] = [b.exp(x!), b.exp(b.negate(x!))];
    return b.multiply(way === 1 ? b.add(up, down) : b.subtract(up, down), 0.5);
  };

const roundEven = (b: Builder, [x]: readonly Value[]): Value => {
  const near = b.floor(b.add(x!, 0.5));
  const half = b.subtract(1, b.sign(b.abs(b.subtract(b.subtract(near, x!), 0.5))));
  return b.subtract(near, b.multiply(half, b.mod(near, 2)));
};

const mix: BuiltIn = (b, [x, y, t]) => {
  if (shape(t!).base !== 'bool')
    return real((bb, [p, q, r]) => bb.mix(p!, q!, r!))(b, [x!, y!, t!], { from: 0, to: 0 });
  const [xs, ys] = [componentsOf(b, x!), componentsOf(b, y!)];
  return fromComponents(
    b,
    x!.type,
    xs.map((each, i) => b.select(t!.parts[Math.min(i, t!.parts.length - 1)]!, ys[i]!, each)),
  );
};

/** The largest float below 1. */
const NEAREST_1 = 1 - 2 ** -24;

/** The same bits as another type, component by component. */
const bits =
  (from: 'float' | 'int' | 'uint', to: 'float' | 'int' | 'uint'): BuiltIn =>
  (b, [x], at) => {
    const parts = componentsOf(b, x!);
    if (shape(x!).base !== from) fail(at, `This takes a ${from} or a vector of them, not a ${x!.type}.`);
    return fromComponents(
      b,
      vectorType(to, parts.length),
      parts.map((part) => b.bitcast(to, part)),
    );
  };

const packs = Object.fromEntries(
  (['Half', 'Snorm', 'Unorm'] as const).flatMap((kind) => [
    [
      `pack${kind}2x16`,
      [1, 1, (b: Builder, [x]: readonly GlslValue[]) => one(b[`pack${kind}2x16`](x!.parts[0]!))],
    ],
    [
      `unpack${kind}2x16`,
      [1, 1, (b: Builder, [x]: readonly GlslValue[]) => one(b[`unpack${kind}2x16`](x!.parts[0]!))],
    ],
  ]),
) as Readonly<Record<string, readonly [number, number, BuiltIn]>>;

/** Every built-in function that the program knows, by the number of arguments it takes. */
const BUILT_INS: Readonly<Record<string, readonly [least: number, most: number, build: BuiltIn]>> = {
  ...Object.fromEntries(
    [
      ...[
        numbers.radians,
        numbers.degrees,
        numbers.sin,
        numbers.cos,
        numbers.tan,
        numbers.asin,
        numbers.acos,
      ],
      ...[numbers.exp, numbers.log, numbers.exp2, numbers.log2, numbers.sqrt, numbers.inversesqrt],
      ...[numbers.floor, numbers.ceil, numbers.round, numbers.trunc, numbers.fract, numbers.mod],
      ...[shaping.step, shaping.smoothstep],
    ].map((each) => {
      const takes = Object.keys(each.inputs).length;
      return [each.name, [takes, takes, decided(each)] as const];
    }),
  ),
  ...Object.fromEntries(
    (['normalize', 'dFdx', 'dFdy', 'fwidth'] as const).map((name) => [
      name,
      [1, 1, real((b, [x]) => b[name](x!))] as const,
    ]),
  ),
  abs: [1, 1, plain((b, [x]) => b.abs(x!))],
  sign: [
    1,
    1,
    plain((b, [x]) => (x!.type === 'int' ? b.convert('int', b.sign(b.convert('float', x!))) : b.sign(x!))),
  ],
  atan: [
    1,
    2,
    (b, args, at) => (args.length > 1 ? decided(numbers.atan) : real((_, [y]) => b.atan(y!)))(b, args, at),
  ],
  sinh: [1, 1, real(hyperbolic(-1))],
  cosh: [1, 1, real(hyperbolic(1))],
  tanh: [
    1,
    1,
    real((b, [x]) => {
      const e = b.exp2(b.multiply(b.abs(x!), -2 * Math.LOG2E));
      return b.multiply(b.sign(x!), b.divide(b.subtract(1, e), b.add(e, 1)));
    }),
  ],
  asinh: [
    1,
    1,
    real((b, [x]) => b.multiply(b.sign(x!), b.log(b.add(b.abs(x!), b.sqrt(b.add(b.multiply(x!, x!), 1)))))),
  ],
  // Below 1 the least that a cosine is of; outside −1 to 1 the nearest that a tangent is of.
  acosh: [
    1,
    1,
    real((b, [given]) => {
      const x = b.max(given!, 1);
      return b.log(b.add(x, b.sqrt(b.subtract(b.multiply(x, x), 1))));
    }),
  ],
  atanh: [
    1,
    1,
    real((b, [given]) => {
      const x = b.clamp(given!, -NEAREST_1, NEAREST_1);
      return b.multiply(b.log(b.divide(b.add(x, 1), b.subtract(1, x))), 0.5);
    }),
  ],
  roundEven: [1, 1, real(roundEven)],
  pow: [2, 2, real((b, [x, y]) => b.pow(x!, y!))],
  min: [2, 2, plain((b, [x, y]) => b.min(x!, y!))],
  max: [2, 2, plain((b, [x, y]) => b.max(x!, y!))],
  clamp: [3, 3, plain((b, [x, y, z]) => b.clamp(x!, y!, z!))],
  mix: [3, 3, mix],
  floatBitsToInt: [1, 1, bits('float', 'int')],
  floatBitsToUint: [1, 1, bits('float', 'uint')],
  intBitsToFloat: [1, 1, bits('int', 'float')],
  uintBitsToFloat: [1, 1, bits('uint', 'float')],
  ...packs,
  isnan: [
    1,
    1,
    (b, [x]) => {
      const parts = componentsOf(b, x!).map((each) => b.isnan(each));
      return { type: vectorType('bool', parts.length), parts };
    },
  ],
  isinf: [
    1,
    1,
    (b, [x]) => {
      const parts = componentsOf(b, x!).map((each) => b.lessEqual(3.4028234663852886e38 * 2, b.abs(each)));
      return { type: vectorType('bool', parts.length), parts };
    },
  ],
  length: [1, 1, real((b, [x]) => b.length(x!))],
  distance: [2, 2, real((b, [x, y]) => b.distance(x!, y!))],
  dot: [2, 2, real((b, [x, y]) => b.dot(x!, y!))],
  cross: [2, 2, real((b, [x, y]) => b.cross(x!, y!))],
  reflect: [2, 2, real((b, [x, y]) => b.reflect(x!, y!))],
  faceforward: [3, 3, real((b, [n, i, g]) => b.select(b.less(b.dot(g!, i!), 0), n!, b.negate(n!)))],
  refract: [
    3,
    3,
    real((b, [i, n, eta]) => {
      const d = b.dot(n!, i!);
      const k = b.subtract(1, b.multiply(b.multiply(eta!, eta!), b.subtract(1, b.multiply(d, d))));
      const bent = b.subtract(
        b.multiply(i!, eta!),
        b.multiply(n!, b.add(b.multiply(eta!, d), b.sqrt(b.max(k, 0)))),
      );
      return b.select(b.less(k, 0), b.multiply(i!, 0), bent);
    }),
  ],
  matrixCompMult: [
    2,
    2,
    only('a square matrix', (b, [x, y]) => ({
      type: x!.type,
      parts: columns(x!).map((c, i) => b.multiply(c, y!.parts[i]!)),
    })),
  ],
  outerProduct: [
    2,
    2,
    (b, [c, r], at) => {
      const n = shape(c!).size;
      if (shape(r!).size !== n)
        opaque(at, 'outerProduct of vectors of unlike sizes makes a matrix that is not square');
      return {
        type: `mat${n}`,
        parts: upTo(n).map((i) => b.multiply(c!.parts[0]!, b.swizzle(r!.parts[0]!, 'xyzw'[i]!))),
      };
    },
  ],
  transpose: [1, 1, only('a square matrix', transpose)],
  determinant: [1, 1, only('a square matrix', determinant)],
  inverse: [1, 1, only('a square matrix', inverse)],
  lessThan: [2, 2, compare((b, x, y) => b.less(x, y))],
  lessThanEqual: [2, 2, compare((b, x, y) => b.lessEqual(x, y))],
  greaterThan: [2, 2, compare((b, x, y) => b.less(y, x))],
  greaterThanEqual: [2, 2, compare((b, x, y) => b.lessEqual(y, x))],
  equal: [2, 2, compare((b, x, y) => b.equal(x, y))],
  notEqual: [2, 2, compare((b, x, y) => b.not(b.equal(x, y)))],
  any: [1, 1, only('a bvec2, bvec3 or bvec4', (b, [x]) => one(x!.parts.reduce((p, q) => b.or(p, q))))],
  all: [1, 1, only('a bvec2, bvec3 or bvec4', (b, [x]) => one(x!.parts.reduce((p, q) => b.and(p, q))))],
  not: [
    1,
    1,
    only('a bvec2, bvec3 or bvec4', (b, [x]) => ({
      type: x!.type,
      parts: x!.parts.map((each) => b.not(each)),
    })),
  ],
  ...TEXTURES,
};

/** Lowers a call of a built-in; a whole number beside a float is read as one. @throws SourceError where it is called wrongly, Opaque where the program has none */
export const callBuiltIn = (b: Builder, name: string, args: readonly GlslValue[], at: Span): GlslValue => {
  const [least, most, build] = BUILT_INS[name]!;
  if (args.length < least || args.length > most)
    fail(
      at,
      `${name} takes ${least === most ? least : `${least} or ${most}`} ${most === 1 ? 'argument' : 'arguments'}, not ${args.length}.`,
    );
  const bases = args.map((arg) => shape(arg).base);
  const mixed = bases.includes('float') && bases.some((base) => base === 'int' || base === 'uint');
  return build(b, mixed ? args.map((arg) => promote(b, arg, 'float')) : args, at);
};
