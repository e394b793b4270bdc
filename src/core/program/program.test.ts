import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { evaluate, evaluateConstant } from '../emit/columns/evaluate.ts';
import { spellFloat } from '../emit/glsl/spell.ts';
import { packSlots } from '../numbers/pack.ts';
import { createBuilder, defineFunction, TypeMistake, type Builder } from './builder.ts';
import { lean } from './passes/lean.ts';
import type { Program, Value } from './value.ts';

const b = createBuilder();
const number = (value: Value) => evaluateConstant(value)[0]!;

test('building the same operation twice gives the same value', () => {
  const sum = () => b.add(b.input('time'), 2);
  assert.equal(sum(), sum());
  assert.notEqual(b.constant('float', [0]), b.constant('float', [-0]));
  assert.notEqual(b.constant('float', [1]), b.constant('int', [1]));
});

test('types that do not fit are refused with a reason', () => {
  assert.throws(
    () => b.add(b.input('uv'), b.input('position')),
    (error: unknown) => error instanceof TypeMistake && /differ in size/.test(error.message),
  );
  assert.throws(() => b.dot(b.input('uv'), 1), TypeMistake);
  assert.throws(() => b.and(b.float(1), b.float(1)), /works on bool/);
  assert.throws(() => b.swizzle(b.input('uv'), 'z'), /no component z/);
});

test('whole numbers wrap at 32 bits, and division by zero is 0', () => {
  assert.equal(number(b.multiply(b.uint(4294967295), b.uint(2))), 4294967294);
  assert.equal(number(b.add(b.int(2147483647), b.int(1))), -2147483648);
  assert.equal(number(b.quotient(b.int(5), b.int(0))), 0);
  assert.equal(number(b.remainder(b.int(-7), b.int(3))), -1);
  assert.equal(number(b.shiftRight(b.uint(4294967295), b.uint(31))), 1);
  assert.equal(number(b.shiftRight(b.int(-8), b.int(1))), -4);
});

test('floats round after every operation as on a GPU', () => {
  const x = b.add(b.float(16777216), b.float(1));
  assert.equal(number(b.subtract(x, b.float(16777216))), 0);
});

test('a loop runs as often as each point asks for', () => {
  const double = defineFunction('double', { i: 'int', state: 'float' }, (inner, { state }) =>
    inner.multiply(state, 2),
  );
  const times = b.convert('int', b.swizzle(b.input('uv'), 'x'));
  const [column] = evaluate([b.iterate(double, times, 1)], {
    count: 4,
    inputs: { uv: [0, 1, 3, 10, 0, 0, 0, 0] },
    parameters: new Map(),
    knobs: new Map(),
  });
  assert.deepEqual([...column!.data], [1, 2, 8, 1024]);
});

test('slopes work on quads, and say so where there are none', () => {
  const points = {
    count: 4,
    inputs: { uv: [0, 1, 0, 1, 0, 0, 3, 3] },
    parameters: new Map(),
    knobs: new Map(),
  };
  const u = b.swizzle(b.input('uv'), 'x');
  const v = b.swizzle(b.input('uv'), 'y');
  const [dx, dy] = evaluate([b.dFdx(u), b.fwidth(v)], { ...points, quads: true });
  assert.deepEqual([...dx!.data], [1, 1, 1, 1]);
  assert.deepEqual([...dy!.data], [3, 3, 3, 3]);
  assert.throws(() => evaluate([b.dFdx(u)], points), /2×2 quads/);
});

test('many points in blocks give what each gives alone', () => {
  const value = b.fract(b.multiply(b.dot(b.input('uv'), b.constant('vec2', [12.9, 78.2])), 43.7));
  const count = 5000;
  const uv = Float32Array.from({ length: count * 2 }, (_, i) => (i * 7919) % 1000);
  const given = { parameters: new Map(), knobs: new Map() };
  const [all] = evaluate([value], { count, inputs: { uv }, ...given });
  for (const i of [0, 2047, 2048, 4999]) {
    const [one] = evaluate([value], { count: 1, inputs: { uv: [uv[i]!, uv[count + i]!] }, ...given });
    assert.equal(all!.data[i], one!.data[0]);
  }
});

test('what the points lack is named', () => {
  const none = { count: 1, inputs: {}, parameters: new Map(), knobs: new Map() };
  assert.throws(() => evaluate([b.input('uv')], none), /the points have no uv/);
  assert.throws(() => evaluate([b.parameter('float', 'burn')], none), /parameter burn/);
});

/** Random float values of u, v and constants, for comparing a program with what the passes make of it. */
const grow = (inner: Builder): fc.Arbitrary<Value> => {
  const u = inner.swizzle(inner.input('uv'), 'x');
  const v = inner.swizzle(inner.input('uv'), 'y');
  const { value } = fc.letrec<{ value: Value }>((tie) => {
    const x = tie('value');
    const two = (name: 'add' | 'subtract' | 'multiply' | 'min' | 'max' | 'step') =>
      fc.tuple(x, x).map(([p, q]) => inner[name](p, q));
    return {
      value: fc.oneof(
        { depthSize: 'medium' },
        fc.constant(u),
        fc.constant(v),
        fc.constantFrom(0, 1, -1, 0.5, 2).map((n) => inner.float(n)),
        ...(['add', 'subtract', 'multiply', 'min', 'max', 'step'] as const).map(two),
        x.map((p) => inner.saturate(p)),
        x.map((p) => inner.negate(p)),
        x.map((p) => inner.fract(p)),
        fc
          .tuple(x, x)
          .map(([p, q]) => inner.swizzle(inner.construct('vec2', p, q), 'yx'))
          .map((p) => inner.swizzle(p, 'x')),
        fc.tuple(x, x, x).map(([p, q, r]) => inner.select(inner.less(p, q), q, r)),
      ),
    };
  });
  return value;
};

test('the passes change no value', () => {
  const inner = createBuilder();
  const points = {
    count: 6,
    inputs: { uv: [0, 0.25, 0.5, 1, -1, 3.7, 1, 0.75, -0.5, 0, 2, 0.1] },
    parameters: new Map(),
    knobs: new Map(),
  };
  fc.assert(
    fc.property(grow(inner), (value) => {
      const program: Program = { outputs: { x: value }, taps: [], parameters: [] };
      const [before] = evaluate([value], points);
      const [after] = evaluate([lean(program).outputs['x']!], points);
      // 0 and −0 are one number to every shader.
      assert.deepEqual(
        [...after!.data].map((n) => n + 0),
        [...before!.data].map((n) => n + 0),
      );
    }),
    { numRuns: 500 },
  );
});

test('the passes remove idle work', () => {
  const inner = createBuilder();
  const u = inner.swizzle(inner.input('uv'), 'x');
  const leanOf = (value: Value) => lean({ outputs: { x: value }, taps: [], parameters: [] }).outputs['x']!;
  assert.equal(leanOf(inner.add(inner.multiply(u, 1), 0)).op, 'swizzle');
  assert.equal(leanOf(inner.saturate(inner.saturate(u))).inputs[0]!.op, 'swizzle');
  assert.deepEqual(leanOf(inner.sin(inner.multiply(2, 0))).payload, [0]);
  assert.equal(leanOf(inner.multiply(u, 0)).op, 'multiply', 'x·0 stays: it would hide a NaN');
});

test('float literals read back as the same float', () => {
  fc.assert(
    fc.property(
      fc.float({ noNaN: true, noDefaultInfinity: true }),
      (x) => Object.is(Math.fround(Number(spellFloat(x))), x) && /[.e]/.test(spellFloat(x)),
    ),
  );
});

test('packing overlaps nothing and wastes little', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 1, max: 4 }), { maxLength: 60 }), (sizes) => {
      const { places, slots } = packSlots(sizes);
      const used = new Set<number>();
      places.forEach((place, i) => {
        assert.equal(place.size, sizes[i]);
        assert.ok(place.offset + place.size <= 4);
        for (let c = 0; c < place.size; c += 1) {
          const at = place.slot * 4 + place.offset + c;
          assert.ok(!used.has(at));
          used.add(at);
        }
      });
      const total = sizes.reduce((sum, size) => sum + size, 0);
      assert.ok(slots <= Math.ceil(total / 2) + 1);
    }),
  );
});
