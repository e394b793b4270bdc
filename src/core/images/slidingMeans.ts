import { beyond } from './image.ts';
import {
  assembled,
  forward,
  get,
  load,
  loop,
  lowerDoubles,
  memoryOf,
  plus,
  set,
  shuffle,
  store,
  upperDoubles,
  vector,
} from './vectorCode.ts';
import { LANE, putRow } from './weighedRows.ts';

const [FLOAT, DOUBLE] = [4, 8] as const;
/** The lower two floats of one and those of another. */
const BOTH = shuffle(0, 1, 4, 5);
/** Four floats of two pairs of sums, each times its share: a division would take most of the time. */
const means = (low: number, high: number, by: number) => [
  ...[low, high].flatMap((sums) => [
    ...[...get(sums), ...get(by), ...vector('f64x2.mul'), ...vector('f32x4.demote_f64x2_zero')],
  ]),
  ...BOTH,
];
/** What four sums become where one row of floats comes in and another goes. */
const moved = (sums: number, isUpper: boolean, next: number, last: number) => [
  ...get(sums),
  ...[next, last].flatMap((each) => (isUpper ? upperDoubles(each) : lowerDoubles(each))),
  ...[...vector('f64x2.sub'), ...vector('f64x2.add')],
];

/** `(sums, next, last, out, bytes, share)`: writes a row of means, and moves its sums on by a row. */
const down = assembled(
  ['i32', 'i32', 'i32', 'i32', 'i32', 'f64'],
  ['i32', 'i32', 'v128', 'v128', 'v128', 'v128', 'v128'],
  () => {
    const [sums, next, last, out, bytes, share, x, at, low, high, by, come, gone] = [
      0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12,
    ] as const;
    return [
      ...[...get(share), ...vector('f64x2.splat'), ...set(by)],
      ...loop(
        [
          ...[...get(sums), ...get(x), ...plus, ...get(x), ...plus, ...set(at)],
          ...[...get(at), ...load(), ...set(low), ...get(at), ...load(16), ...set(high)],
          ...[...get(out), ...get(x), ...plus, ...means(low, high, by), ...store()],
          ...[...get(next), ...get(x), ...plus, ...load(), ...set(come)],
          ...[...get(last), ...get(x), ...plus, ...load(), ...set(gone)],
          ...[...get(at), ...moved(low, false, come, gone), ...store()],
          ...[...get(at), ...moved(high, true, come, gone), ...store(16)],
          ...forward(x, 16),
        ],
        ...([x, bytes] as const),
      ),
    ];
  },
);

/** `(sums, row, end)`: adds a row of floats, until that end of it, to sums. */
const add = assembled(['i32', 'i32', 'i32'], ['v128'], () => {
  const [sums, row, end, come] = [0, 1, 2, 3] as const;
  const half = (more: number, doubles: number[]): number[] => [
    ...[...get(sums), ...get(sums), ...load(more), ...doubles, ...vector('f64x2.add'), ...store(more)],
  ];
  return loop(
    [
      ...[...get(row), ...load(), ...set(come)],
      ...[...half(0, lowerDoubles(come)), ...half(16, upperDoubles(come))],
      ...[...forward(row, 16), ...forward(sums, 32)],
    ],
    ...([row, end] as const),
  );
});

/** `(from, out, bytes, window, share)`: writes the means of a row of pixels of four floats, each from its place on over a window. */
const along = assembled(
  ['i32', 'i32', 'i32', 'i32', 'f64'],
  ['i32', 'v128', 'v128', 'v128', 'v128', 'v128'],
  () => {
    const [from, out, bytes, window, share, x, low, high, by, come, gone] = [
      0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10,
    ] as const;
    return [
      ...[...get(share), ...vector('f64x2.splat'), ...set(by)],
      ...loop(
        [
          ...[...get(from), ...get(x), ...plus, ...load(), ...set(come)],
          ...[...get(low), ...lowerDoubles(come), ...vector('f64x2.add'), ...set(low)],
          ...[...get(high), ...upperDoubles(come), ...vector('f64x2.add'), ...set(high)],
          ...forward(x, 16),
        ],
        ...([x, window] as const),
      ),
      ...[...get(out), ...get(bytes), ...plus, ...set(bytes)],
      // From here on the place is that of what comes in: a window further than what goes.
      ...loop(
        [
          ...[...get(from), ...get(x), ...plus, ...load(), ...set(come)],
          ...[...get(from), ...load(), ...set(gone)],
          ...[...get(out), ...means(low, high, by), ...store()],
          ...[...moved(low, false, come, gone), ...set(low)],
          ...[...moved(high, true, come, gone), ...set(high)],
          ...[...forward(out, 16), ...forward(from, 16)],
        ],
        ...([out, bytes] as const),
      ),
    ];
  },
);

/** How often a mean is taken of means: three boxes are nearly a Gaussian. */
const TIMES = 3;
/** Floats of each row that are taken at once. */
const STRIP = 1024;

/** Each number, in its place, the mean of those up to a radius above and below it, three times over, by sums that run down. */
export const meansDown = (data: Float32Array, length: number, radius: number, wraps: boolean): void => {
  const height = data.length / length;
  const count = 2 * radius + 1;
  const stride = Math.ceil(Math.min(length, STRIP) / LANE) * LANE;
  const bytes = stride * FLOAT;
  const plane = height * bytes;
  const start = stride * DOUBLE;
  const { buffer } = memoryOf(start + 2 * plane);
  const floats = new Float32Array(buffer);
  const sums = new Float64Array(buffer, 0, stride);
  const rows = Int32Array.from({ length: height + count }, (_, i) => beyond(i - radius, height, wraps));
  for (let left = 0; left < length; left += stride) {
    const wide = Math.min(stride, length - left);
    for (let y = 0; y < height; y += 1)
      floats.set(data.subarray(y * length + left, y * length + left + wide), start / FLOAT + y * stride);
    for (let time = 0; time < TIMES; time += 1) {
      const [from, to] = time % 2 ? [start + plane, start] : [start, start + plane];
      const row = (y: number): number => from + rows[y]! * bytes;
      sums.fill(0);
      for (let k = 0; k < count; k += 1) add()(0, row(k), row(k) + bytes);
      for (let y = 0; y < height; y += 1) down()(0, row(y + count), row(y), to + y * bytes, bytes, 1 / count);
    }
    const last = start + (TIMES % 2 ? plane : 0);
    for (let y = 0; y < height; y += 1) {
      const at = (last + y * bytes) / FLOAT;
      data.set(floats.subarray(at, at + wide), y * length + left);
    }
  }
};

/** Each pixel of four numbers the mean of those up to a radius beside it, three times over. */
export const meansAlong = (
  data: Float32Array,
  width: number,
  radius: number,
  wraps: boolean,
): Float32Array => {
  const length = width * 4;
  const bytes = length * FLOAT;
  const window = (2 * radius + 1) * 16;
  // Beyond what is beside a row, a pixel that comes in last and counts for none.
  const out = bytes + window + 16;
  const floats = new Float32Array(memoryOf(out + bytes).buffer);
  const made = new Float32Array(data.length);
  for (let at = 0; at < data.length; at += length) {
    let row = data.subarray(at, at + length);
    for (let time = 0; time < TIMES; time += 1) {
      putRow(floats, 0, row, 4, radius, wraps);
      along()(0, out, bytes, window, 1 / (2 * radius + 1));
      row = floats.subarray(out / FLOAT, (out + bytes) / FLOAT);
    }
    made.set(row, at);
  }
  return made;
};
