import assert from 'node:assert/strict';
import { test } from 'node:test';
import { interpret } from '../evaluate/columns/interpret.ts';
import { createChance, COUNT, randomValues } from '../evaluate/wasm/randomValues.testing.ts';
import { createBuilder, type Builder } from '../program/builder.ts';
import { isSampler } from '../program/types.ts';
import { ANY, intervalsOf } from './intervals.ts';

/** Leaves that lie between known ends, so that what is made of them does too. */
const leaves = (b: Builder) => [
  ...[b.parameter('float', 'burn'), b.knob('vec3', 'k'), b.parameter('sampler2D', 'tile'), b.input('time')],
  b.convert('int', b.parameter('float', 'burn')),
  b.convert('uint', b.abs(b.parameter('float', 'burn'))),
  b.construct('vec2', b.parameter('float', 'burn'), b.float(0.25)),
];

test('every number that a program gives lies in the interval that was told of it', () => {
  let narrow = 0;
  for (let seed = 0; seed < 120; seed += 1) {
    const values = randomValues(seed, leaves);
    const chance = createChance(seed);
    const between = (low: number, high: number, size: number) =>
      Float32Array.from({ length: size * COUNT }, () => low + (high - low) * chance());
    const columns = interpret(values)({
      ...{ count: COUNT, quads: true, inputs: { time: [1.25] } },
      ...{ parameters: new Map([['burn', [0]]]), knobs: new Map([['k', [0, 0, 0]]]) },
      columns: new Map([
        ['burn', between(-2, 3, 1)],
        ['k', between(0, 1, 3)],
      ]),
      pictures: new Map([
        [
          'tile',
          {
            ...{ width: 3, height: 2, wrap: 'repeat', filter: 'linear' },
            rgba: Float32Array.from({ length: 24 }, () => chance()),
          },
        ],
      ]),
    });
    const bounds = intervalsOf(values, {
      parameter: (name) => (name === 'burn' ? { low: -2, high: 3 } : { low: 0, high: 1 }),
      knob: () => ({ low: 0, high: 1 }),
    });
    values.forEach((value, i) => {
      if (isSampler(value.type)) return;
      const { low, high } = bounds.get(value)!;
      if (Number.isFinite(low) && Number.isFinite(high)) narrow += 1;
      const room = 1e-4 * Math.max(1, Math.abs(low), Math.abs(high));
      const beyond = columns[i]!.data.find((x) => x < low - room || x > high + room);
      assert.equal(beyond, undefined, `seed ${seed}: ${value.op} told ${low} to ${high}`);
    });
  }
  assert.ok(narrow > 2000, `${narrow} values are told between two numbers`);
});

test('what is known of a value is as narrow as by hand', () => {
  const b = createBuilder();
  const x = b.parameter('float', 'x');
  const told = (value: Parameters<typeof intervalsOf>[0][number], low: number, high: number) => {
    const found = intervalsOf([value], { parameter: () => ({ low: -1, high: 2 }), knob: () => null });
    assert.deepEqual(found.get(value), { low, high });
  };
  told(b.multiply(x, x), 0, 4);
  told(b.multiply(b.subtract(1, x), 2), -2, 4);
  told(b.abs(x), 0, 2);
  told(b.clamp(x, 0, 1), 0, 1);
  told(b.mix(b.float(3), x, b.fract(x)), -1, 3);
  told(b.divide(1, b.add(x, 2)), 0.25, 1);
  told(b.divide(1, x), ANY.low, ANY.high);
  told(b.dot(b.construct('vec2', x, x), b.construct('vec2', x, b.float(1))), -4, 8);
});
