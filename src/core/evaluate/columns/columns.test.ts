import assert from 'node:assert/strict';
import { test } from 'node:test';
import { createBuilder, defineFunction, type Builder } from '../../program/builder.ts';
import { componentsOf } from '../../program/types.ts';
import type { Value } from '../../program/value.ts';
import { evaluate, prepare } from './evaluate.ts';
import { evaluateConstant, interpret, operationsOf } from './interpret.ts';
import type { Picture, Points } from '../points/points.ts';

const build = <T>(make: (b: Builder) => T): T => make(createBuilder());

/** A value's first component at each x, where x is the points' uv.x, and everywhere the same when x is one number. */
const over = (xs: readonly number[], make: (b: Builder, x: Value) => Value): number[] => {
  const value = build((b) => make(b, b.swizzle(b.input('uv'), 'x')));
  const uv = [...xs, ...xs.map(() => 0)];
  const [column] = evaluate([value], {
    count: xs.length,
    inputs: { uv },
    parameters: new Map(),
    knobs: new Map(),
  });
  return Array.from(column!.data.slice(0, xs.length));
};
const near = (found: readonly number[], wanted: readonly number[], what: string): void => {
  assert.equal(found.length, wanted.length, what);
  found.forEach((x, i) =>
    assert.ok(Object.is(x, wanted[i]) || Math.abs(x - wanted[i]!) < 1e-6, `${what}: ${found.join()}`),
  );
};

test('each operation gives its numbers, at points that differ and at one that stands for all', () => {
  const cases: readonly [string, (b: Builder, x: Value) => Value, readonly number[], readonly number[]][] = [
    ['add', (b, x) => b.add(x, 2), [-1, 0.5], [1, 2.5]],
    ['subtract from a number', (b, x) => b.subtract(2, x), [-1, 0.5], [3, 1.5]],
    ['divide', (b, x) => b.divide(1, x), [4, -2], [0.25, -0.5]],
    ['min, max', (b, x) => b.max(b.min(x, 0.5), -0.5), [-2, 0.25, 2], [-0.5, 0.25, 0.5]],
    ['clamp', (b, x) => b.clamp(x, -1, 1), [-3, 0.5, 9], [-1, 0.5, 1]],
    ['mix', (b, x) => b.mix(10, 20, x), [0, 0.25, 1.5], [10, 12.5, 25]],
    ['step', (b, x) => b.step(0.5, x), [0.4, 0.5, 0.6], [0, 1, 1]],
    ['smoothstep', (b, x) => b.smoothstep(0, 2, x), [-1, 1, 0.5, 3], [0, 0.5, 0.15625, 1]],
    ['smoothstep, upside down', (b, x) => b.smoothstep(2, 0, x), [0, 1, 2], [1, 0.5, 0]],
    ['mod follows the divisor', (b, x) => b.mod(x, 3), [-1, 4, 6], [2, 1, 0]],
    ['fract of what is below 0', (b, x) => b.fract(x), [-0.25, 1.75], [0.75, 0.75]],
    ['floor, ceil', (b, x) => b.add(b.floor(x), b.ceil(x)), [-1.5, 1.5, 2], [-3, 3, 4]],
    ['round halves up', (b, x) => b.round(x), [-0.5, 0.5, 1.5, 2.5], [0, 1, 2, 3]],
    ['trunc', (b, x) => b.trunc(x), [-1.7, 1.7], [-1, 1]],
    ['sign', (b, x) => b.sign(x), [-3, 0, 2], [-1, 0, 1]],
    ['pow at and below 0', (b, x) => b.pow(x, 2), [-2, 0, 3], [0, 0, 9]],
    ['pow to 0', (b, x) => b.pow(x, 0), [-2, 0, 3], [1, 1, 1]],
    ['inversesqrt', (b, x) => b.inversesqrt(x), [4, 0.25], [0.5, 2]],
    ['exp2 of log2', (b, x) => b.exp2(b.log2(x)), [8, 0.5], [8, 0.5]],
    ['atan2 by quadrant', (b, x) => b.atan2(x, -1), [1, -1], [(3 * Math.PI) / 4, (-3 * Math.PI) / 4]],
    ['select', (b, x) => b.select(b.less(x, 0), b.float(5), b.negate(x)), [-1, 2], [5, -2]],
    ['not a number is found', (b, x) => b.select(b.isnan(b.sqrt(x)), b.float(-1), x), [-4, 9], [-1, 9]],
  ];
  for (const [what, make, xs, wanted] of cases) {
    near(over(xs, make), wanted, what);
    xs.forEach((x, i) =>
      near(evaluateConstant(build((b) => make(b, b.float(x)))), [wanted[i]!], `${what}, constant ${x}`),
    );
  }
});

test('whole numbers wrap at 32 bits, shift by their sign, and never divide by zero', () => {
  const is = (make: (b: Builder) => Value, wanted: number) =>
    assert.deepEqual(evaluateConstant(build(make)), [wanted]);
  is((b) => b.add(b.int(2147483647), b.int(1)), -2147483648);
  is((b) => b.add(b.uint(4294967295), b.uint(2)), 1);
  is((b) => b.subtract(b.uint(0), b.uint(1)), 4294967295);
  is((b) => b.multiply(b.uint(1664525), b.uint(1013904223)), Math.imul(1664525, 1013904223) >>> 0);
  is((b) => b.shiftRight(b.int(-8), b.int(1)), -4);
  is((b) => b.shiftRight(b.uint(4294967288), b.int(1)), 2147483644);
  is((b) => b.shiftLeft(b.int(3), b.int(4)), 48);
  is((b) => b.quotient(b.int(-7), b.int(2)), -3);
  is((b) => b.remainder(b.int(-7), b.int(2)), -1);
  is((b) => b.quotient(b.int(7), b.int(0)), 0);
  is((b) => b.remainder(b.int(7), b.int(0)), 0);
  is((b) => b.bitXor(b.int(12), b.int(10)), 6);
  is((b) => b.bitAnd(b.int(12), b.int(10)), 8);
  is((b) => b.bitOr(b.int(12), b.int(10)), 14);
  is((b) => b.bitNot(b.int(0)), -1);
});

test('a float becomes whole by dropping its fraction, and stays within the type', () => {
  const whole = (type: 'int' | 'uint', xs: readonly number[]) =>
    over(xs, (b, x) => b.convert('float', b.convert(type, x)));
  assert.deepEqual(whole('int', [-1.9, 1.9, 3e9, -3e9]), [-1, 1, 2147483520, -2147483648]);
  assert.deepEqual(whole('uint', [-1.9, 1.9, 5e9]), [0, 1, 4294967040]);
  const asked = over([0, -0.5, 2], (b, x) => b.convert('float', b.convert('bool', x)));
  assert.deepEqual(asked, [0, 1, 1]);
});

test('vectors: measured, turned, crossed and mirrored as a person would by hand', () => {
  const is = (make: (b: Builder) => Value, wanted: readonly number[]) => {
    const value = build(make);
    assert.equal(wanted.length, componentsOf(value.type));
    near(evaluateConstant(value), wanted, value.op);
  };
  const v = (b: Builder, ...xs: number[]) =>
    b.constant((['float', 'vec2', 'vec3', 'vec4'] as const)[xs.length - 1]!, xs);
  is((b) => b.dot(v(b, 1, 2, 3), v(b, 4, -5, 6)), [12]);
  is((b) => b.length(v(b, 2, 3, 6)), [7]);
  is((b) => b.distance(v(b, 1, 1), v(b, 4, 5)), [5]);
  is((b) => b.normalize(v(b, 0, 3, 4)), [0, 0.6, 0.8]);
  is((b) => b.normalize(v(b, 0, 0, 0)), [0, 0, 0]);
  is((b) => b.cross(v(b, 1, 0, 0), v(b, 0, 1, 0)), [0, 0, 1]);
  is((b) => b.reflect(v(b, 1, -1, 0), v(b, 0, 1, 0)), [1, 1, 0]);
  is(
    (b) => b.transform(b.construct('mat3', v(b, 0, 1, 0), v(b, -1, 0, 0), v(b, 0, 0, 1)), v(b, 2, 3, 4)),
    [-3, 2, 4],
  );
  is((b) => b.swizzle(v(b, 1, 2, 3, 4), 'wwx'), [4, 4, 1]);
  is((b) => b.construct('vec4', v(b, 1, 2), 3, v(b, 4)), [1, 2, 3, 4]);
  is((b) => b.construct('vec3', b.float(7)), [7, 7, 7]);
  is((b) => b.multiply(v(b, 1, 2, 3), 2), [2, 4, 6]);
  is((b) => b.convert('float', b.equal(v(b, 1, 2), v(b, 1, 3))), [0]);
});

test('floats round to 32 bits after every operation', () => {
  const sum = evaluateConstant(build((b) => b.add(b.float(0.1), b.float(0.2))));
  assert.equal(sum[0], Math.fround(Math.fround(0.1) + Math.fround(0.2)));
  assert.deepEqual(
    over([16777216], (b, x) => b.add(x, 1)),
    [16777216],
  );
});

const doubling = defineFunction('doubling', { i: 'int', state: 'float', by: 'float' }, (b, { state, by }) =>
  b.multiply(state, by),
);

test('a fold runs as often as each point asks, and not at all for none', () => {
  const powers = over([0, 1, 3, 10, -4], (b, x) => b.iterate(doubling, b.convert('int', x), 1, 2));
  assert.deepEqual(powers, [1, 2, 8, 1024, 1]);
  assert.deepEqual(evaluateConstant(build((b) => b.iterate(doubling, 4, 3, 2))), [48]);
});

test('more points than are computed together give the same numbers as one alone', () => {
  const xs = Array.from({ length: 5000 }, (_, i) => i / 5000);
  const make = (b: Builder, x: Value) => b.sin(b.iterate(doubling, 3, b.add(x, 0.5), x));
  const all = over(xs, make);
  for (const i of [0, 1, 2047, 2048, 4095, 4096, 4999]) assert.equal(all[i], over([xs[i]!], make)[0]);
});

test('what is run often gives the same numbers once it is compiled, however few the points are', () => {
  const root = build((b) => {
    const x = b.swizzle(b.input('uv'), 'x');
    return b.sin(b.iterate(doubling, 9, b.add(x, 0.5), b.add(x, 1)));
  });
  const points: Points = {
    ...{ count: 5, inputs: { uv: [0, 0.1, 0.35, 0.7, 1, 0, 0, 0, 0, 0] } },
    ...{ parameters: new Map(), knobs: new Map() },
  };
  const effort = { spent: 0 };
  const slowly = interpret([root], effort);
  const [wanted] = slowly(points);
  const once = effort.spent;
  slowly(points);
  assert.equal(effort.spent, 2 * once, 'each run is counted');
  assert.ok(once > operationsOf([root]), 'a loop is run more often than it is written');
  const run = prepare([root]);
  for (let i = 0; i < 200; i += 1) assert.deepEqual(run(points)[0]!.data, wanted!.data);
});

test('slopes are a quad’s own, and need quads', () => {
  const value = build((b) =>
    b.construct('vec3', ...(['dFdx', 'dFdy', 'fwidth'] as const).map((op) => b[op](uvSum(b)))),
  );
  const points: Points = {
    count: 4,
    inputs: { uv: [0, 1, 0, 1, 0, 0, 0.25, 0.25] },
    parameters: new Map(),
    knobs: new Map(),
    quads: true,
  };
  const [column] = evaluate([value], points);
  assert.deepEqual(Array.from(column!.data), [2, 2, 2, 2, 0.75, 0.75, 0.75, 0.75, 2.75, 2.75, 2.75, 2.75]);
  assert.throws(() => evaluate([value], { ...points, quads: false }), /needs points laid out in 2×2 quads/);
});
const uvSum = (b: Builder): Value =>
  b.add(b.multiply(b.swizzle(b.input('uv'), 'x'), 2), b.multiply(b.swizzle(b.input('uv'), 'y'), 3));

const checks = (wrap: Picture['wrap'], filter: Picture['filter']): Picture => ({
  width: 2,
  height: 2,
  rgba: Float32Array.from([0, 0, 0, 1, 1, 0, 0, 1, 0.5, 0, 0, 1, 0.25, 0, 0, 1]),
  wrap,
  filter,
});

test('a picture is read at texel centres from its lower left, wrapped or held, smooth or not', () => {
  const value = build((b) => b.texture(b.parameter('sampler2D', 'tile'), b.input('uv')));
  const red = (picture: Picture, u: number, v: number) =>
    evaluate([value], {
      count: 1,
      inputs: { uv: [u, v] },
      parameters: new Map(),
      knobs: new Map(),
      pictures: new Map([['tile', picture]]),
    })[0]!.data[0];
  assert.equal(red(checks('clamp', 'nearest'), 0.75, 0.25), 1);
  assert.equal(red(checks('clamp', 'nearest'), 0.25, 0.75), 0.5);
  assert.equal(red(checks('clamp', 'linear'), 0.5, 0.25), 0.5);
  assert.equal(red(checks('clamp', 'linear'), 0.5, 0.5), 0.4375);
  assert.equal(red(checks('clamp', 'nearest'), 1.2, 0.25), 1);
  assert.equal(red(checks('repeat', 'nearest'), 1.2, 0.25), 0);
  assert.equal(red(checks('repeat', 'nearest'), -0.2, 0.25), 1);
  assert.equal(red(checks('repeat', 'linear'), 0, 0.25), 0.5);
  // Across and down each in its way.
  const two: Picture = { ...checks('repeat', 'nearest'), wrapDown: 'clamp' };
  assert.deepEqual([red(two, 1.2, 1.3), red(checks('repeat', 'nearest'), 1.2, 1.3)], [0.5, 0]);
});

test('what the points lack is named', () => {
  const bare: Points = { count: 2, inputs: {}, parameters: new Map(), knobs: new Map() };
  const fails = (make: (b: Builder) => Value, points: Points, said: RegExp) =>
    assert.throws(() => evaluate([build(make)], points), said);
  fails((b) => b.input('uv'), bare, /the points have no uv/);
  fails((b) => b.parameter('float', 'burn'), bare, /no value was given for the parameter burn/);
  fails((b) => b.knob('float', 'k1'), bare, /no value was given for the knob k1/);
  fails(
    (b) => b.input('uv'),
    { ...bare, inputs: { uv: [1, 2, 3] } },
    /uv should hold 4 numbers for 2 points, not 3/,
  );
  fails(
    (b) => b.texture(b.parameter('sampler2D', 'tile'), b.constant('vec2', [0, 0])),
    bare,
    /no picture was given for the texture tile/,
  );
});
