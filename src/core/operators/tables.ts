import { TABLE_SIZE } from '../numbers/curve.ts';
import { defineFunction } from '../program/builder.ts';

/**
 * Reads a curve or gradient, kept as a row of samples, at t held to 0–1. The two samples beside t are read at their
 * centres and mixed here, since a driver's own filter keeps only eight bits of the way between.
 */
export const curveTable = defineFunction(
  'readTable',
  { table: 'sampler2D', t: 'float' },
  (b, { table, t }) => {
    const at = b.name('at', b.multiply(b.saturate(t), TABLE_SIZE - 1));
    const low = b.name('low', b.floor(at));
    const sample = (i: ReturnType<typeof b.floor>) =>
      b.texture(table, b.construct('vec2', b.divide(b.add(i, 0.5), TABLE_SIZE), b.float(0.5)));
    const high = b.min(b.add(low, 1), TABLE_SIZE - 1);
    return b.mix(sample(low), sample(high), b.subtract(at, low));
  },
);
