import assert from 'node:assert/strict';
import { test } from 'node:test';
import { createBuilder, defineFunction } from '../../program/builder.ts';
import { valueAt } from '../../program/kernels/column.ts';
import { compile } from '../columns/compile.ts';
import { interpret } from '../columns/interpret.ts';
import type { Points } from '../points/points.ts';
import { createCode } from './code.ts';
import { emitWasm } from './emitWasm.ts';
import { ALL, COUNT, createChance, pointsFrom, randomValues } from './randomValues.testing.ts';
import { encodeModule, signed, unsigned } from './encodeModule.ts';

test('what is compiled gives the interpreter’s numbers to the last bit, at edges and at slopes too', () => {
  const seen = new Set<string>();
  for (let seed = 0; seed < 60; seed += 1) {
    const values = randomValues(seed);
    const points = pointsFrom(createChance(seed));
    const wanted = interpret(values)(points);
    const found = compile(values)(points);
    assert.ok(found, `seed ${seed} was compiled`);
    values.forEach((value, r) => {
      seen.add(value.op);
      const [a, b] = [wanted[r]!.data, found[r]!.data];
      const at = a.findIndex((x, i) => !Object.is(x, b[i]));
      if (at < 0) return;
      const inputs = value.inputs.map(
        (each) => `${each.type} ${valueAt(wanted[values.indexOf(each)]!, at % COUNT).join()}`,
      );
      assert.fail(
        `seed ${seed}, ${value.op} of ${inputs.join(' and ')}: ${a[at]} when interpreted, ${b[at]} compiled`,
      );
    });
  }
  assert.deepEqual(
    ALL.filter((name) => !seen.has(name)),
    [],
    'every operation was met',
  );
});

const plane: Points = { count: 8, inputs: {}, parameters: new Map(), knobs: new Map() };

test('parameters, and which inputs differ from point to point, may change between runs', () => {
  const b = createBuilder();
  const run = compile([
    b.add(b.multiply(b.input('time'), b.parameter('float', 'burn')), b.swizzle(b.input('uv'), 'y')),
  ]);
  const uv = Float32Array.from({ length: 16 }, (_, i) => i);
  const at = (burn: number, time: readonly number[], given: ArrayLike<number>) =>
    Array.from(
      run({ ...plane, inputs: { uv: given, time }, parameters: new Map([['burn', [burn]]]) })![0]!.data,
    );
  assert.deepEqual(at(2, [3], uv), [14, 15, 16, 17, 18, 19, 20, 21]);
  assert.deepEqual(at(1, [1, 2, 3, 4, 5, 6, 7, 8], [0, 0.5]), [1.5, 2.5, 3.5, 4.5, 5.5, 6.5, 7.5, 8.5]);
  assert.deepEqual(at(0.5, [4], [0, 1]), [3, 3, 3, 3, 3, 3, 3, 3]);
});

test('a sweep gives a parameter another number at every point, in both ways to compute', () => {
  const b = createBuilder();
  const root = b.add(b.multiply(b.parameter('float', 'burn'), 2), b.swizzle(b.knob('vec2', 'k'), 'y'));
  const points: Points = {
    ...plane,
    count: 4,
    parameters: new Map([['burn', [100]]]),
    knobs: new Map([['k', [0, 1]]]),
    columns: new Map([['burn', [0, 1, 2, 3]]]),
  };
  for (const way of [interpret([root]), compile([root])]) {
    assert.deepEqual(Array.from(way(points)![0]!.data), [1, 3, 5, 7]);
    const both = { ...points, columns: new Map([...points.columns!, ['k', [9, 9, 9, 9, 0, 10, 20, 30]]]) };
    assert.deepEqual(Array.from(way(both)![0]!.data), [0, 12, 24, 36]);
    assert.throws(
      () => way({ ...points, columns: new Map([['burn', [1, 2]]]) }),
      /burn should hold 4 numbers/,
    );
  }
});

test('what does not fit a module is left to the interpreter; what points lack is named', () => {
  const b = createBuilder();
  const slope = b.dFdx(b.input('uv'));
  const uv = new Float32Array(16);
  assert.equal(compile([slope])({ ...plane, inputs: { uv } }), null, 'points that are in no quads');
  const sloping = defineFunction('sloping', { x: 'float' }, (c, { x }) => c.fwidth(x));
  const inside = b.call(sloping, b.swizzle(b.input('uv'), 'x'));
  assert.equal(
    compile([inside])({ ...plane, quads: true, inputs: { uv } }),
    null,
    'a slope within a function',
  );
  const opaque = { ...sloping, opaque: { source: '', declares: [], main: '', why: 'it has an array' } };
  assert.equal(compile([b.call(opaque, 1)])(plane), null, 'code for the graphics card');
  assert.throws(() => compile([b.input('uv')])(plane), /the points have no uv/);
  assert.throws(() => compile([b.knob('float', 'k1')])(plane), /no value was given for the knob k1/);
});

test('numbers are written seven bits to a byte, as the specification has them', () => {
  assert.deepEqual(unsigned(0), [0]);
  assert.deepEqual(unsigned(127), [0x7f]);
  assert.deepEqual(unsigned(128), [0x80, 0x01]);
  assert.deepEqual(unsigned(624485), [0xe5, 0x8e, 0x26]);
  assert.deepEqual(unsigned(0xffffffff), [0xff, 0xff, 0xff, 0xff, 0x0f]);
  assert.deepEqual(signed(-1), [0x7f]);
  assert.deepEqual(signed(63), [0x3f]);
  assert.deepEqual(signed(64), [0xc0, 0x00]);
  assert.deepEqual(signed(-64), [0x40]);
  assert.deepEqual(signed(-123456), [0xc0, 0xbb, 0x78]);
  assert.deepEqual(signed(-2147483648), [0x80, 0x80, 0x80, 0x80, 0x78]);
});

test('a module is what an engine takes, whatever kinds its functions have', () => {
  const twice = createCode(['f32']);
  twice.get({ kind: 'f32', local: 0 }, { kind: 'f32', local: 0 });
  twice.op('f32.add');
  const bytes = encodeModule({
    imports: [{ from: 'math', name: 'sin', parameters: ['f64'], results: ['f64'] }],
    functions: [twice.finish(['f32'])],
    run: 0,
  });
  assert.ok(WebAssembly.validate(bytes));
  const memory = new WebAssembly.Memory({ initial: 1 });
  const { exports } = new WebAssembly.Instance(new WebAssembly.Module(bytes), {
    math: { sin: Math.sin },
    columns: { memory },
  });
  assert.equal((exports['run'] as (x: number) => number)(1.25), 2.5);
});

test('what is known beforehand is computed beforehand', () => {
  const b = createBuilder();
  const settled = defineFunction('settled', { x: 'float', k: 'float' }, (f, { x, k }) =>
    f.select(f.less(k, 1), f.add(x, f.sin(k)), f.exp(x)),
  );
  const x = b.swizzle(b.input('uv'), 'x');
  const withNumber = emitWasm([b.call(settled, x, 0.5)], 64, new Set([b.input('uv')]))!;
  const withParameter = emitWasm(
    [b.call(settled, x, b.parameter('float', 'k'))],
    64,
    new Set([b.input('uv')]),
  )!;
  assert.ok(withNumber.bytes.length < withParameter.bytes.length, 'neither the sine nor the choice is left');
  assert.deepEqual(
    withParameter.uniform.map((slot) => slot.value.payload),
    ['k'],
  );
  const uv = Float32Array.from({ length: 16 }, (_, i) => i / 8);
  const near = compile([b.call(settled, x, 0.5)])({ ...plane, inputs: { uv } })![0]!.data;
  near.forEach((found, i) => assert.equal(found, Math.fround(uv[i]! + Math.fround(Math.sin(0.5)))));
});

test('a volume is read between its eight nearest texels, by the interpreter alone', () => {
  const b = createBuilder();
  const fog = b.parameter('sampler3D', 'fog');
  const read = b.swizzle(b.texture(fog, b.input('position')), 'x');
  // Texel (x, y, z) of 2 × 2 × 2 holds x + 10 y + 100 z in red.
  const rgba = Float32Array.from({ length: 32 }, (_, i) =>
    i % 4 ? 0 : ((i >> 2) & 1) + 10 * ((i >> 3) & 1) + 100 * ((i >> 4) & 1),
  );
  const volume = { width: 2, height: 2, depth: 2, rgba, wrap: 'clamp', filter: 'linear' } as const;
  const at = (filter: 'linear' | 'nearest', ...place: readonly number[]): number => {
    const pictures = new Map([['fog', { ...volume, filter }]]);
    const points = { ...plane, count: 1, inputs: { position: place }, pictures };
    assert.equal(compile([read])(points), null);
    return interpret([read])(points)[0]!.data[0]!;
  };
  assert.equal(at('nearest', 0.9, 0.1, 0.9), 101);
  assert.equal(at('linear', 0.25, 0.25, 0.25), 0, 'at the centre of a texel');
  assert.equal(at('linear', 0.5, 0.25, 0.75), 100.5);
  assert.ok(Math.abs(at('linear', 0.5, 0.5, 0.5) - 55.5) < 1e-4);
  assert.equal(at('linear', 2, 2, 2), 111, 'held at its end');
  assert.throws(() => b.texture(fog, b.input('uv')), /sampler3D, vec3, float, not sampler3D, vec2/);
  assert.throws(() => b.sampleAtOffset('texture', [1, 0], fog, b.input('position')), /for a sampler2D/);
});
