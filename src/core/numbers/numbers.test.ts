import assert from 'node:assert/strict';
import { test } from 'node:test';
import { MOST_TICKS_AT_ONCE, TICK_SECONDS, ticksDue } from '../time/tick.ts';
import { fromHex, toHex, toLinear, toSrgb, toSrgbByte } from './colour.ts';
import { formatNumber, snap } from './format.ts';
import { packSlots, readSlot } from './pack.ts';
import { chanceOf } from './chance.ts';
import { curveAt, gradientAt, keysProblem, MOST_KEYS } from './curve.ts';
import { fewerKeys, mixTables } from './mixTables.ts';
import { addKey, keysIn, putKey, removeKey, type Key } from './keys.ts';

test('a byte of light is the one that is nearest on the curve, wherever it goes over to the next', () => {
  for (let byte = 0; byte < 255; byte += 1) {
    const over = toLinear((byte + 0.5) / 255);
    for (const x of [over * (1 - 1e-9), over * (1 + 1e-9), over * 0.999, over * 1.001])
      assert.equal(toSrgbByte(x), Math.round(toSrgb(x) * 255), `${byte}: ${x}`);
  }
  for (let i = 0; i <= 50_000; i += 1)
    assert.equal(toSrgbByte(Math.fround(i / 50_000)), Math.round(toSrgb(Math.fround(i / 50_000)) * 255));
  assert.deepEqual([-1, NaN, -0, 1.5, Infinity].map(toSrgbByte), [0, 0, 0, 255, 255]);
});

test('a figure fits its field, with no more after the point than says something', () => {
  for (const [x, text] of [
    [0, '0.00'],
    [0.5, '0.50'],
    [-0.25, '−0.25'],
    [0.0625, '0.063'],
    [12.345, '12.35'],
    [123.45, '123.5'],
    [1234.5, '1235'],
    [0.00012, '1.2e−4'],
    [2_500_000, '2.5e+6'],
    [NaN, 'NaN'],
    [Infinity, '∞'],
    [-Infinity, '−∞'],
  ] as const)
    assert.equal(formatNumber(x), text);
});

test('a dragged number keeps to its steps, with no dust in its last digits', () => {
  assert.equal(snap(0.30000000004, 0.1), 0.3);
  assert.equal(snap(-1.26, 0.25), -1.25);
  assert.equal(snap(7.4, 1), 7);
});

test('the sRGB curve: its known places, both ways, and its ends held in a hex colour', () => {
  assert.equal(toSrgb(0), 0);
  assert.ok(Math.abs(toSrgb(1) - 1) < 1e-12);
  assert.ok(Math.abs(toSrgb(0.5) - 0.735357) < 1e-6);
  assert.ok(Math.abs(toLinear(0.5) - 0.214041) < 1e-6);
  for (let i = 0; i <= 255; i += 1) {
    const hex = `#${i.toString(16).padStart(2, '0').repeat(3)}`;
    assert.equal(toHex(fromHex(hex)), hex);
  }
  assert.equal(toHex([-1, 0.5, 40]), '#00bcff');
});

test('ticks keep to sixty a second whatever the frames do, and a long pause is let go', () => {
  assert.deepEqual(ticksDue(0, 0), { due: 0, forgiven: 0 });
  assert.deepEqual(ticksDue(1000, 57), { due: 3, forgiven: 0 });
  assert.deepEqual(ticksDue(16, 0), { due: 0, forgiven: 0 });
  assert.deepEqual(ticksDue(17, 0), { due: 1, forgiven: 0 });
  assert.equal(ticksDue(10, 5).due, 0);
  const { due, forgiven } = ticksDue(2000, 0);
  assert.equal(due, MOST_TICKS_AT_ONCE);
  assert.ok(Math.abs(forgiven - (120 - MOST_TICKS_AT_ONCE) * TICK_SECONDS * 1000) < 1e-9);
  // Frames of any length come to the same ticks.
  let done = 0;
  for (let t = 0; t <= 5000; t += 7.3) done += ticksDue(t, done).due;
  assert.equal(done, 299);
});

test('sizes are packed four to a vector: none crosses an edge, none overlaps, each is read where it lies', () => {
  for (const sizes of [[1], [3, 1, 2, 2], [1, 1, 1, 1, 1], [4, 3, 2, 1], [3, 3, 3], [2, 3, 2, 1, 4, 1]]) {
    const { places, slots } = packSlots(sizes);
    const taken = new Set<string>();
    for (const [i, place] of places.entries()) {
      const read = /^held\[(\d+)\](?:\.([xyzw]+))?$/.exec(readSlot('held', place));
      assert.ok(read, readSlot('held', place));
      const letters = read[2] ?? 'xyzw';
      assert.equal(letters.length, sizes[i]);
      assert.ok('xyzw'.includes(letters), `${letters} is not one stretch`);
      assert.ok(Number(read[1]) < slots);
      for (const letter of letters) {
        assert.ok(!taken.has(read[1]! + letter), `${sizes.join()} overlap`);
        taken.add(read[1]! + letter);
      }
    }
    assert.ok(slots <= sizes.length);
    assert.ok(slots >= Math.ceil(sizes.reduce((sum, each) => sum + each, 0) / 4));
  }
});

test('keys stay in order wherever they are moved, and one is always left', () => {
  const keys = keysIn([0, 1, 0, 0, 0.5, 2, 0, 0, 1, 3, 0, 0]);
  const places = (list: readonly Key[] | null) => list?.map((key) => key[0]);
  assert.deepEqual(places(putKey(keys, 1, [0.7, 9, 0, 0])), [0, 0.7, 1]);
  assert.deepEqual(putKey(keys, 1, [0.7, 9, 4, 5])[1], [0.7, 9, 4, 5]);
  assert.deepEqual(places(putKey(keys, 1, [1.4, 2, 0, 0])), [0, 1, 1], 'held by its neighbour');
  assert.deepEqual(places(putKey(keys, 0, [-3, 1, 0, 0])), [0, 0.5, 1], 'and by the ends');
  const added = addKey(keys, [0.25, 7, 0, 0])!;
  assert.deepEqual([places(added.keys), added.place], [[0, 0.25, 0.5, 1], 1]);
  assert.equal(addKey(keys, [1, 7, 0, 0])!.place, 3, 'after one that stands in the same place');
  const many = keysIn(new Array(MOST_KEYS * 4).fill(0));
  assert.equal(addKey(many, [0.5, 0, 0, 0]), null);
  assert.deepEqual(places(removeKey(keys, 1)), [0, 1]);
  assert.equal(removeKey(keys.slice(0, 1), 0), null);
  assert.deepEqual(places(keys), [0, 0.5, 1], 'nothing was changed in place');
});

test('between two curves or gradients, of other keys each, lies at every place what lies between what they come to', () => {
  let n = 0;
  const chance = () => chanceOf(7, (n += 1));
  const keys = (count: number, isCurve: boolean): number[] => {
    const xs = Array.from({ length: count }, () => Math.round(chance() * 20) / 20).sort((a, b) => a - b);
    return xs.flatMap((x) => [
      x,
      chance() * 3 - 1,
      ...[0, 1].map(() => (chance() - 0.5) * (isCurve ? 8 : 2)),
    ]);
  };
  for (let i = 0; i < 200; i += 1) {
    const isCurve = i % 2 === 0;
    const [a, b] = [keys(1 + (i % 7), isCurve), keys(1 + ((i * 3) % 8), isCurve)];
    const share = chance();
    const mixed = mixTables(isCurve ? 'curve' : 'gradient', a, b, share);
    assert.equal(keysProblem(mixed, 'key'), null);
    for (let k = 0; k <= 97; k += 1) {
      const x = k / 97;
      const [p, q, is] = [a, b, mixed].map((each) => (isCurve ? [curveAt(each, x)] : gradientAt(each, x)));
      p!.forEach((y, c) =>
        assert.ok(Math.abs(y * (1 - share) + q![c]! * share - is![c]!) < 1e-9, `${i} at ${x}`),
      );
    }
  }
  const many = Array.from({ length: 100 }, (_, i) => [
    i / 99,
    (i / 99) ** 2,
    (2 * i) / 99,
    (2 * i) / 99,
  ]).flat();
  const fewer = fewerKeys('curve', many);
  assert.equal(fewer.length, 4 * MOST_KEYS);
  for (const x of [0, 0.123, 0.5, 0.987, 1]) assert.ok(Math.abs(curveAt(fewer, x) - x * x) < 1e-3);
  assert.equal(fewerKeys('curve', many.slice(0, 40)).length, 40);
});
