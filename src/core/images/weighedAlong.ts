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
  shuffle,
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
/** What four vectors become whose first floats, second ones and so on are to stand together; of locals, in their places. */
const transpose = (a: number, b: number, c: number, d: number, spare: number): number[] => [
  ...[...get(a), ...get(b), ...shuffle(2, 6, 3, 7), ...set(spare)],
  ...[...get(a), ...get(b), ...shuffle(0, 4, 1, 5), ...set(a)],
  ...[...get(c), ...get(d), ...shuffle(0, 4, 1, 5), ...set(b)],
  ...[...get(c), ...get(d), ...shuffle(2, 6, 3, 7), ...set(d)],
  ...[...get(spare), ...get(d), ...shuffle(0, 1, 4, 5), ...set(c)],
  ...[...get(spare), ...get(d), ...shuffle(2, 3, 6, 7), ...set(d)],
  ...[...get(a), ...get(b), ...shuffle(2, 3, 6, 7), ...set(spare)],
  ...[...get(a), ...get(b), ...shuffle(0, 1, 4, 5), ...set(a), ...get(spare), ...set(b)],
];
/**
 * A function `(from, apart, step, to, apart, step, end)` that turns four floats of four rows to four of each of four columns, and
 * goes on by a step until the end: vectors are read, and written, so far apart.
 */
const turnFours = assembled(
  ['i32', 'i32', 'i32', 'i32', 'i32', 'i32', 'i32'],
  ['i32', 'v128', 'v128', 'v128', 'v128', 'v128'],
  () => {
    const [from, apart, step, to, toApart, toStep, end, at] = [0, 1, 2, 3, 4, 5, 6, 7] as const;
    const fours = [8, 9, 10, 11] as const;
    const on = (place: number, by: number): number[] => [...get(place), ...get(by), ...plus, ...set(place)];
    return loop(
      [
        ...[...get(from), ...set(at)],
        ...fours.flatMap((each) => [...get(at), ...load(), ...set(each), ...on(at, apart)]),
        ...transpose(...fours, 12),
        ...[...get(to), ...set(at)],
        ...fours.flatMap((each) => [...get(at), ...get(each), ...store(), ...on(at, toApart)]),
        ...[...on(from, step), ...on(to, toStep)],
      ],
      ...([from, end] as const),
    );
  },
);

/**
 * Sums along rows that lie in the shared memory, from a place on: one row of four numbers a pixel at once, or four of one number.
 * @param tapsOf of each new pixel of a row, as many taps for each
 */
export const createAlong = (width: number, channels: 1 | 4, tapsOf: readonly RowTaps[], base: number) => {
  const [run, turn] = [alongTaps(), turnFours()];
  const wide = tapsOf.length;
  const count = tapsOf[0]!.places.length;
  const from = base + Math.ceil((wide * count * 8) / 64) * 64;
  // Pixels in fours, so that four rows of one number can be turned to one of four.
  const [inFours, wideInFours] = [Math.ceil(width / 4) * 4, Math.ceil(wide / 4) * 4];
  const to = from + inFours * PIXEL;
  const lines = to + wideInFours * PIXEL;
  const [line, wideLine] = [inFours * FLOAT, wideInFours * FLOAT];
  const end = lines + 4 * Math.max(line, wideLine);
  const { buffer } = memoryOf(end);
  const [floats, whole] = [new Float32Array(buffer), new Uint32Array(buffer)];
  tapsOf.forEach(({ places, weights }, x) => {
    for (let k = 0; k < count; k += 1) {
      const at = base / FLOAT + (x * count + k) * 2;
      whole[at] = places[k]! * PIXEL;
      floats[at + 1] = weights[k]!;
    }
  });
  const sum = (): void => run(from, to, to + wide * PIXEL, base, count);
  const isWhole = channels === 4;
  return {
    /** How many rows are summed at once, and where its memory ends. */
    ...{ atOnce: isWhole ? 1 : 4, end },
    /** Where a row is to lie, and where its sums do. */
    rowAt: (row: number): number => (isWhole ? from : lines + row * line),
    madeAt: (row: number): number => (isWhole ? to : lines + row * wideLine),
    run: (): void => {
      if (isWhole) return sum();
      turn(lines, line, PIXEL, from, PIXEL, 4 * PIXEL, lines + line);
      sum();
      turn(to, PIXEL, 4 * PIXEL, lines, wideLine, PIXEL, lines);
    },
  };
};

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
  const along = createAlong(width, channels, tapsOf, 0);
  const floats = new Float32Array(memoryOf(0).buffer);
  const [length, wide] = [width * channels, tapsOf.length * channels];
  const rows = data.length / length;
  const made = new Float32Array(rows * wide);
  for (let top = 0; top < rows; top += along.atOnce) {
    const high = Math.min(along.atOnce, rows - top);
    for (let r = 0; r < high; r += 1)
      floats.set(data.subarray((top + r) * length, (top + r + 1) * length), along.rowAt(r) / FLOAT);
    along.run();
    for (let r = 0; r < high; r += 1) {
      const at = along.madeAt(r) / FLOAT;
      made.set(floats.subarray(at, at + wide), (top + r) * wide);
    }
  }
  return made;
};
