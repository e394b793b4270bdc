import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { evaluate } from '../evaluate/columns/evaluate.ts';
import { spellFloat } from '../emit/glsl/spell.ts';
import { packSlots } from '../numbers/pack.ts';
import { createBuilder, defineFunction, TypeMistake, type Builder } from './builder.ts';
import { optimise, peephole } from './passes/peephole.ts';
import { frameValuesOf } from './passes/rates.ts';
import { settle } from './passes/settle.ts';
import type { Program, Value } from './value.ts';

const b = createBuilder();

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

/** Random float values of u, v and constants, for comparing a program with what the passes make of it. */
const grow = (inner: Builder): fc.Arbitrary<Value> => {
  const u = inner.swizzle(inner.input('uv'), 'x');
  const v = inner.swizzle(inner.input('uv'), 'y');
  const { value } = fc.letrec<{ value: Value; flag: Value }>((tie) => {
    const x = tie('value');
    const flag = tie('flag');
    /** Components taken apart and put together again in another order. */
    const mixed = (p: Value, q: Value, r: Value): Value => {
      const v = inner.negate(inner.construct('vec3', p, q, r));
      const part = (picks: string) => inner.swizzle(v, picks);
      const w = inner.negate(inner.construct('vec4', part('y'), part('z'), q, part('x')));
      return inner.swizzle(inner.construct('vec3', inner.swizzle(w, 'xz'), inner.swizzle(w, 'y')), 'z');
    };
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
        fc.tuple(flag, x, x).map(([p, q, r]) => inner.select(p, q, r)),
        fc.tuple(x, x, x).map(([p, q, r]) => mixed(p, q, r)),
      ),
      flag: fc.oneof(
        { depthSize: 'medium' },
        fc.constantFrom(0, 1).map((n) => inner.constant('bool', [n])),
        fc.tuple(x, x).map(([p, q]) => inner.less(p, q)),
        fc.tuple(flag, flag).map(([p, q]) => inner.and(p, q)),
        fc.tuple(flag, flag).map(([p, q]) => inner.or(p, inner.and(q, inner.not(p)))),
        flag.map((p) => inner.not(p)),
        fc.tuple(flag, flag, flag).map(([p, q, r]) => inner.select(p, q, r)),
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
      const program: Program = { outputs: { x: value }, entries: [], taps: [], parameters: [] };
      const [before] = evaluate([value], points);
      const [after] = evaluate([optimise(program).outputs['x']!], points);
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
  const leanOf = (value: Value) =>
    optimise({ outputs: { x: value }, entries: [], taps: [], parameters: [] }).outputs['x']!;
  assert.equal(leanOf(inner.add(inner.multiply(u, 1), 0)).op, 'swizzle');
  assert.equal(leanOf(inner.saturate(inner.saturate(u))).inputs[0]!.op, 'swizzle');
  assert.deepEqual(leanOf(inner.sin(inner.multiply(2, 0))).payload, [0]);
  assert.equal(leanOf(inner.multiply(u, 0)).op, 'multiply', 'x·0 stays: it would hide a NaN');
  const made = createBuilder(peephole);
  const [p, q] = [made.less(made.input('time'), 1), made.less(2, made.input('time'))];
  const yes = made.constant('bool', [1]);
  assert.equal(made.select(p, yes, q), made.or(p, q), 'a choice between flags is a matter of or');
  assert.equal(made.or(p, made.and(q, made.not(p))), made.or(p, q));
  assert.equal(made.and(p, yes), p);
  const v = made.input('position');
  const apart = made.construct('vec4', made.swizzle(v, 'x'), made.swizzle(v, 'y'), made.swizzle(v, 'z'), 1);
  assert.equal(apart, made.construct('vec4', v, 1), 'components of one vector are taken together');
});

test('powers by small whole numbers are products, and what is not below 0 needs no guard', () => {
  const inner = createBuilder(peephole);
  const u = inner.swizzle(inner.input('uv'), 'x');
  assert.equal(inner.pow(inner.abs(u), 2), inner.multiply(inner.abs(u), inner.abs(u)));
  assert.equal(inner.pow(u, 2), inner.multiply(inner.max(u, 0), inner.max(u, 0)), 'below 0 it is 0');
  assert.equal(inner.pow(u, 2.5).op, 'pow');
  assert.equal(inner.max(inner.saturate(u), 0), inner.saturate(u));
  const wave = inner.add(inner.multiply(inner.sin(u), 0.5), 0.5);
  assert.equal(inner.max(wave, 0).op, 'max', 'a last bit may be below 0');
  assert.equal(inner.pow(inner.max(wave, 0), 3).inputs[1], wave, 'which products bear');
  assert.equal(inner.divide(u, 4), inner.multiply(u, 0.25));
  assert.equal(inner.divide(u, 3).op, 'divide', 'a third is no float');
  assert.equal(inner.mix(u, inner.abs(u), 0).op, 'mix', 'what is not known to be a number stays');
  assert.equal(inner.mix(0.5, u, 1), u);
});

test('functions become the ones a program needs, and give what they gave', () => {
  const inner = createBuilder();
  const lift = defineFunction(
    'lift',
    { i: 'int', sum: 'float', x: 'float', by: 'float', power: 'float' },
    (f, { i, sum, x, by, power }) =>
      f.add(sum, f.pow(f.add(f.abs(x), f.multiply(f.convert('float', i), by)), power)),
  );
  const sums = defineFunction('sums', { x: 'float', rounds: 'int', by: 'float' }, (f, { x, rounds, by }) =>
    f.iterate(lift, rounds, 0, x, by, 2),
  );
  const [u, v] = [inner.swizzle(inner.input('uv'), 'x'), inner.swizzle(inner.input('uv'), 'y')];
  const outputs = {
    few: inner.call(sums, u, 3, 0.25),
    other: inner.call(sums, v, 3, 0.5),
    many: inner.iterate(lift, inner.convert('int', v), 1, u, 0.75, 2),
  };
  const settled = settle({ outputs, entries: [], taps: [], parameters: [] });
  const points = {
    count: 3,
    inputs: { uv: [0.1, -0.5, 2, 0, 5, 7.5] },
    parameters: new Map(),
    knobs: new Map(),
  };
  for (const name of ['few', 'other', 'many'] as const)
    assert.deepEqual(evaluate([settled.outputs[name]!], points), evaluate([outputs[name]], points), name);
  const { fn } = settled.outputs['few']!;
  assert.deepEqual(
    fn!.parameters.map((each) => each.name),
    ['x', 'by'],
    'rounds is 3 for all calls, and by is not',
  );
  const chosen = defineFunction('chosen', { x: 'float', kind: 'int' }, (f, { x, kind }) =>
    f.select(f.equal(kind, 0), f.sqrt(x), f.call(sums, x, kind, 0.5)),
  );
  const root = settle({ outputs: { x: inner.call(chosen, u, 0) }, entries: [], taps: [], parameters: [] })
    .outputs['x']!;
  assert.equal(root.fn!.result.op, 'sqrt', 'what is never chosen is not called');
  assert.equal(fn!.result.op, 'call', 'three rounds are three calls');
  assert.equal(settled.outputs['many']!.op, 'iterate');
  assert.equal(settled.outputs['many']!.fn, fn!.result.fn);
  assert.deepEqual(
    fn!.result.fn!.parameters.map((each) => each.name),
    ['i', 'sum', 'x', 'by'],
  );
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

test('only what is the same at every prop and point is computed once a frame', () => {
  const b = createBuilder();
  const scaled = b.multiply(b.parameter('float', 'burn'), 2);
  const inObject = b.multiply(b.input('objectUp'), scaled);
  const inInstance = b.add(b.input('instanceAge'), b.input('time'));
  const root = b.add(inObject, b.multiply(inInstance, b.swizzle(b.input('uv'), 'x')));
  const hoisted = frameValuesOf({ entries: [], outputs: { x: root }, taps: [], parameters: [] });
  assert.deepEqual(
    hoisted.map((value) => (value.op === 'input' ? value.payload : value.op)),
    ['multiply', 'time'],
  );
});
