import assert from 'node:assert/strict';
import { test } from 'node:test';
import { histogramOf } from './histogram.ts';

const OUTSIDE = -3.3e38;

test('numbers are counted where the step is drawn, over as many components as it has', () => {
  const rgba = Float32Array.of(
    ...[0.25, 9, 9, 9],
    ...[OUTSIDE, 0, 0, 0],
    ...[1.5, 9, 9, 9],
    ...[NaN, 9, 9, 9],
    ...[-0.5, 9, 9, 9],
  );
  const found = histogramOf(rgba, 1, 4)!;
  assert.deepEqual(found, {
    ...{ least: -0.5, greatest: 1.5, mean: 1.25 / 3, below: 1 / 3, above: 1 / 3 },
    ...{ notNumbers: 1, covered: 4, from: -0.5, to: 1.5, bins: [1, 1, 0, 1] },
  });
  const two = histogramOf(Float32Array.of(0, 1, 9, 9), 2, 2)!;
  assert.deepEqual([two.mean, two.bins, two.from, two.to], [0.5, [1, 1], 0, 1]);
  assert.equal(histogramOf(Float32Array.of(OUTSIDE, 0, 0, 0), 1), null);
  const none = histogramOf(Float32Array.of(NaN, 0, 0, 0), 1, 2)!;
  assert.deepEqual([none.notNumbers, none.bins, Number.isNaN(none.least)], [1, [0, 0], true]);
});
