import { OPCODES } from '../evaluate/wasm/code.ts';
import {
  assembled,
  forward,
  four,
  get,
  i32,
  load,
  loop,
  memoryOf,
  plus,
  set,
  store,
  vector,
} from './vectorCode.ts';
import type { RowTaps } from './weighedRows.ts';

const FLOAT = 4;
/** Bytes of what is summed at once: a pixel of four numbers, or one of each of four rows. */
const PIXEL = 16;

/**
 * A function `(row, out, end, taps, count)` that writes, from `out` to `end`, four numbers after four: each the sum of as many
 * taps of its own, which lie one after another and tell how far from the row's start they read.
 */
const alongTaps = assembled(['i32', 'i32', 'i32', 'i32', 'i32'], ['i32', 'v128'], () => {
  const [row, out, end, taps, count, stop, sum] = [0, 1, 2, 3, 4, 5, 6] as const;
  return loop(
    [
      ...[...four(0), ...set(sum)],
      ...[...get(taps), ...get(count), ...i32(8), OPCODES['i32.mul'], ...plus, ...set(stop)],
      ...loop(
        [
          ...[...get(sum), ...get(taps), OPCODES['i32.load'], 2, 0, ...get(row), ...plus, ...load()],
          ...[...get(taps), OPCODES['f32.load'], 2, 4, ...vector('f32x4.splat'), ...vector('f32x4.mul')],
          ...[...vector('f32x4.add'), ...set(sum), ...forward(taps, 8)],
        ],
        ...([taps, stop] as const),
      ),
      ...[...get(out), ...get(sum), ...store(), ...forward(out, PIXEL)],
    ],
    ...([out, end] as const),
  );
});
/**
 * New pixels of one number or of four, each a weighed sum of old ones of its row.
 * @param tapsOf of each new pixel of a row, as many taps for each
 */
export const weighedAlong = (
  data: Float32Array,
  width: number,
  channels: 1 | 4,
  tapsOf: readonly RowTaps[],
): Float32Array => {
  const run = alongTaps();
  const [rows, wide] = [data.length / width / channels, tapsOf.length];
  const count = tapsOf[0]!.places.length;
  const from = Math.ceil((wide * count * 8) / 64) * 64;
  const to = from + width * PIXEL;
  const end = to + wide * PIXEL;
  const { buffer } = memoryOf(end);
  const [floats, whole] = [new Float32Array(buffer), new Uint32Array(buffer)];
  tapsOf.forEach(({ places, weights }, x) => {
    for (let k = 0; k < count; k += 1) {
      whole[(x * count + k) * 2] = places[k]! * PIXEL;
      floats[(x * count + k) * 2 + 1] = weights[k]!;
    }
  });
  const made = new Float32Array(rows * wide * channels);
  const [read, written] = [from / FLOAT, to / FLOAT];
  if (channels === 4)
    for (let y = 0; y < rows; y += 1) {
      floats.set(data.subarray(y * width * 4, (y + 1) * width * 4), read);
      run(from, to, end, 0, count);
      made.set(floats.subarray(written, written + wide * 4), y * wide * 4);
    }
  else
    for (let top = 0; top < rows; top += 4) {
      const high = Math.min(4, rows - top);
      for (let r = 0; r < high; r += 1)
        for (let x = 0, at = (top + r) * width; x < width; x += 1, at += 1)
          floats[read + x * 4 + r] = data[at]!;
      run(from, to, end, 0, count);
      for (let r = 0; r < high; r += 1)
        for (let x = 0, at = (top + r) * wide; x < wide; x += 1, at += 1)
          made[at] = floats[written + x * 4 + r]!;
    }
  return made;
};
