import { OPCODES } from '../evaluate/wasm/code.ts';
import { beyond } from './image.ts';
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

/** Numbers of a row that are worked on at once. */
export const LANE = 16;
const FLOAT = 4;

/**
 * A function `(out, bytes, taps, count)` that writes, for every number of a row, what comes of those at the addresses of so
 * many taps. A tap is an address and a 32-bit float. Sixteen numbers are made at once, tap after tap: the same order, and the
 * same bits, everywhere.
 */
const overTaps = (first: number, joined: readonly number[]) => {
  const [out, bytes, taps, count, x, tap, end, from, weight] = [0, 1, 2, 3, 4, 5, 6, 7, 8] as const;
  const made = [9, 10, 11, 12];
  return assembled(
    ['i32', 'i32', 'i32', 'i32'],
    ['i32', 'i32', 'i32', 'i32', 'v128', 'v128', 'v128', 'v128', 'v128'],
    () => [
      ...[...get(taps), ...get(count), ...i32(8), OPCODES['i32.mul'], ...plus, ...set(end)],
      ...loop(
        [
          ...made.flatMap((each) => [...four(first), ...set(each)]),
          ...[...get(taps), ...set(tap)],
          ...loop(
            [
              ...[...get(tap), OPCODES['i32.load'], 2, 0, ...get(x), ...plus, ...set(from)],
              ...[...get(tap), OPCODES['f32.load'], 2, 4, ...vector('f32x4.splat'), ...set(weight)],
              ...made.flatMap((each, k) => [
                ...[...get(each), ...get(from), ...load(k * 16)],
                ...(first === 0 ? [...get(weight), ...vector('f32x4.mul')] : []),
                ...[...joined, ...set(each)],
              ]),
              ...forward(tap, 8),
            ],
            ...([tap, end] as const),
          ),
          ...made.flatMap((each, k) => [...get(out), ...get(x), ...plus, ...get(each), ...store(k * 16)]),
          ...forward(x, LANE * FLOAT),
        ],
        ...([x, bytes] as const),
      ),
    ],
  );
};
/** The sum of all, each times its weight. */
export const summed = overTaps(0, vector('f32x4.add'));
/** The greatest and the least of all, whatever their weights; what is no number is none of both. */
export const greatest = overTaps(-Infinity, vector('f32x4.pmax'));
export const least = overTaps(Infinity, vector('f32x4.pmin'));

/** Floats of each row that are taken at once: what is held beside the picture does not grow with how wide it is. */
const STRIP = 1024;

/** Of a new row, the old rows that it is made of, and their weights. */
export interface RowTaps {
  readonly places: ArrayLike<number>;
  readonly weights: ArrayLike<number>;
}

/**
 * New rows of numbers, each a weighed sum of old ones, number by number.
 * @param length numbers of a row
 * @param tapsOf of each new row, at least one tap
 */
export const weighedRows = (data: Float32Array, length: number, tapsOf: readonly RowTaps[]): Float32Array => {
  const run = summed();
  const rows = data.length / length;
  const most = Math.max(...tapsOf.map(({ places }) => places.length));
  const stride = Math.ceil(Math.min(length, STRIP) / LANE) * LANE;
  const tapBytes = Math.ceil((most * 8) / 64) * 64;
  const [from, to] = [tapBytes, tapBytes + rows * stride * FLOAT];
  const { buffer } = memoryOf(to + stride * FLOAT);
  const floats = new Float32Array(buffer);
  const whole = new Uint32Array(buffer);
  const made = new Float32Array(tapsOf.length * length);
  for (let left = 0; left < length; left += stride) {
    const wide = Math.min(stride, length - left);
    for (let y = 0; y < rows; y += 1)
      floats.set(data.subarray(y * length + left, y * length + left + wide), from / FLOAT + y * stride);
    tapsOf.forEach(({ places, weights }, y) => {
      for (let k = 0; k < places.length; k += 1) {
        whole[k * 2] = from + places[k]! * stride * FLOAT;
        floats[k * 2 + 1] = weights[k]!;
      }
      run(to, Math.ceil(wide / LANE) * LANE * FLOAT, 0, places.length);
      made.set(floats.subarray(to / FLOAT, to / FLOAT + wide), y * length + left);
    });
  }
  return made;
};

/**
 * A row, or a part of it, with what lies beside both ends, in memory from a place on.
 * @param row pixels of so many numbers
 */
export const putRow = (
  floats: Float32Array,
  at: number,
  row: Float32Array,
  channels: number,
  beside: number,
  wraps: boolean,
  part: readonly [left: number, right: number] = [0, row.length / channels],
): void => {
  const width = row.length / channels;
  const [first, last] = [part[0] - beside, part[1] + beside];
  for (let x = first; x < last;) {
    const place = beyond(x, width, wraps);
    const to = at + (x - first) * channels;
    // Beyond an edge that goes on stands its last pixel, else a piece of the row.
    const isRepeated = !wraps && place !== x;
    const run = Math.min(isRepeated && x < 0 ? -x : isRepeated ? Infinity : width - place, last - x);
    if (!isRepeated) floats.set(row.subarray(place * channels, (place + run) * channels), to);
    else for (let k = 0; k < run * channels; k += 1) floats[to + k] = row[place * channels + (k % channels)]!;
    x += run;
  }
};

/**
 * Pixels of so many numbers, each the weighed sum of those above and below it, and of what that comes to beside it, number by
 * number: row after row, with no more held than the rows near by.
 * @param weights of those from one end to the other, as many on both sides
 * @param wraps whether what lies beyond an edge is at the other one, across and down
 */
export const slidBothWays = (
  data: Float32Array,
  width: number,
  channels: number,
  weights: Float64Array,
  wraps: readonly [boolean, boolean],
): Float32Array => {
  const run = summed();
  const beside = weights.length >> 1;
  const count = weights.length;
  const length = width * channels;
  const height = data.length / length;
  const bytes = Math.ceil(length / LANE) * LANE * FLOAT;
  const tapBytes = Math.ceil(count / 8) * 64;
  const rowAt = (y: number): number => 2 * tapBytes + (((y % count) + count) % count) * bytes;
  // After the rows their sum, that with what lies beside it, and the sums along it.
  const down = 2 * tapBytes + count * bytes;
  const padded = down + bytes;
  const along = padded + bytes + 2 * beside * channels * FLOAT;
  const { buffer } = memoryOf(along + bytes);
  const floats = new Float32Array(buffer);
  const whole = new Uint32Array(buffer);
  const tap = (place: number, from: number, weight: number): void => {
    whole[place / FLOAT] = from;
    floats[place / FLOAT + 1] = weight;
  };
  const bring = (y: number): void => {
    const from = beyond(y, height, wraps[1]) * length;
    floats.set(data.subarray(from, from + length), rowAt(y) / FLOAT);
  };
  weights.forEach((weight, k) => tap(tapBytes + k * 8, padded + k * channels * FLOAT, weight));
  for (let y = -beside; y < beside; y += 1) bring(y);
  const made = new Float32Array(data.length);
  const summedDown = floats.subarray(down / FLOAT, down / FLOAT + length);
  const summedAlong = floats.subarray(along / FLOAT, along / FLOAT + length);
  for (let y = 0; y < height; y += 1) {
    bring(y + beside);
    for (let k = 0; k < count; k += 1) tap(k * 8, rowAt(y + k - beside), weights[k]!);
    run(down, bytes, 0, count);
    putRow(floats, padded / FLOAT, summedDown, channels, beside, wraps[0]);
    run(along, bytes, tapBytes, count);
    made.set(summedAlong, y * length);
  }
  return made;
};

/** Columns for rows, of pixels of one number or of four: in tiles, so that what is near stays near. */
export const turned = (data: Float32Array, width: number, channels: 1 | 4): Float32Array => {
  const height = data.length / width / channels;
  const made = new Float32Array(data.length);
  const TILE = 16;
  for (let top = 0; top < height; top += TILE)
    for (let left = 0; left < width; left += TILE) {
      const [bottom, right] = [Math.min(top + TILE, height), Math.min(left + TILE, width)];
      for (let y = top; y < bottom; y += 1)
        if (channels === 1) for (let x = left; x < right; x += 1) made[x * height + y] = data[y * width + x]!;
        else
          for (let x = left, from = (y * width + left) * 4, to = (left * height + y) * 4; x < right; x += 1) {
            made[to] = data[from]!;
            made[to + 1] = data[from + 1]!;
            made[to + 2] = data[from + 2]!;
            made[to + 3] = data[from + 3]!;
            from += 4;
            to += height * 4;
          }
    }
  return made;
};
