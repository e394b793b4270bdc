import { memoryOf } from './vectorCode.ts';
import { createAlong } from './weighedAlong.ts';
import { LANE, summed, type RowTaps } from './weighedRows.ts';

const FLOAT = 4;

/** What a new row is made of: old ones from a first one on, which may lie beyond the edges, and their weights. */
export interface Taps {
  readonly first: number;
  readonly weights: Float64Array;
}

/**
 * Pixels of one number or of four, each a weighed sum of old ones above and below it, and of what these come to beside it: row
 * after row from the top down, with no more held than the rows near by.
 * @param down of each new row, of as many old ones, none before those of the row above
 * @param rowOf which row stands for one that may lie beyond an edge
 * @param across of each new pixel of a row
 */
export const weighedBothWays = (
  data: Float32Array,
  width: number,
  channels: 1 | 4,
  down: readonly Taps[],
  rowOf: (place: number) => number,
  across: readonly RowTaps[],
): Float32Array => {
  const run = summed();
  const count = down[0]!.weights.length;
  const length = width * channels;
  const bytes = Math.ceil(length / LANE) * LANE * FLOAT;
  const rows = Math.ceil(count / 8) * 64;
  const sums = rows + count * bytes;
  const along = createAlong(width, channels, across, sums + bytes);
  const { buffer } = memoryOf(0);
  const [floats, whole] = [new Float32Array(buffer), new Uint32Array(buffer)];
  const wide = across.length * channels;
  const made = new Float32Array(down.length * wide);
  const rowAt = (place: number): number => rows + (((place % count) + count) % count) * bytes;
  /** Up to which place rows were brought. */
  let brought = down[0]!.first;
  for (let top = 0; top < down.length; top += along.atOnce) {
    const high = Math.min(along.atOnce, down.length - top);
    for (let r = 0; r < high; r += 1) {
      const { first, weights } = down[top + r]!;
      for (brought = Math.max(brought, first); brought < first + count; brought += 1) {
        const at = rowOf(brought) * length;
        floats.set(data.subarray(at, at + length), rowAt(brought) / FLOAT);
      }
      for (let k = 0; k < count; k += 1) {
        whole[k * 2] = rowAt(first + k);
        floats[k * 2 + 1] = weights[k]!;
      }
      run(sums, bytes, 0, count);
      floats.copyWithin(along.rowAt(r) / FLOAT, sums / FLOAT, sums / FLOAT + length);
    }
    along.run();
    for (let r = 0; r < high; r += 1) {
      const at = along.madeAt(r) / FLOAT;
      made.set(floats.subarray(at, at + wide), (top + r) * wide);
    }
  }
  return made;
};
