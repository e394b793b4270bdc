import { CHANNELS, isGrey, type Image } from './image.ts';
import {
  assembled,
  forward,
  get,
  i32,
  load,
  loop,
  lowerDoubles,
  memoryOf,
  set,
  store,
  upperDoubles,
  vector,
} from './vectorCode.ts';

/** How much is seen of the edges of a picture that repeats: mean steps of a channel, as shares of its range. */
export interface Seam {
  /** Across the left and right edge, and the upper and lower one. */
  readonly across: readonly [number, number];
  /** Between neighbours inside, the same way. */
  readonly inside: readonly [number, number];
}

const FLOAT = 4;
const [FLOATS, DOUBLES] = [16, 32] as const;
/** Of a picture: its least and greatest numbers, and how far it steps in all to the right and down, of four channels each. */
const [BESIDE, BELOW, ROWS] = [2 * FLOATS, 2 * FLOATS + DOUBLES, 2 * FLOATS + 2 * DOUBLES] as const;

/** `(row, below, end)`: adds the steps of a row of pixels of four floats; a pixel more stands after its last. */
const addSteps = assembled(
  ['i32', 'i32', 'i32'],
  ['v128', 'v128', 'v128', 'v128', 'v128', 'v128', 'v128', 'v128'],
  () => {
    const [row, below, end, here, there, low, high] = [0, 1, 2, 3, 4, 5, 6] as const;
    const sums = [7, 8, 9, 10] as const;
    /** Where each is kept between two rows. */
    const all = [low, high, ...sums].map((local, k) => [local, k * 16] as const);
    /** Adds how far two pixels are apart, as floats have it, to two pairs of sums. */
    const steps = (first: number): number[] => [
      ...[...get(there), ...get(here), ...vector('f32x4.sub'), ...vector('f32x4.abs'), ...set(there)],
      ...[...get(sums[first]!), ...lowerDoubles(there), ...vector('f64x2.add'), ...set(sums[first]!)],
      ...[...get(sums[first + 1]!), ...upperDoubles(there), ...vector('f64x2.add'), ...set(sums[first + 1]!)],
    ];
    return [
      ...all.flatMap(([local, place]) => [...i32(0), ...load(place), ...set(local)]),
      ...loop(
        [
          ...[...get(row), ...load(), ...set(here)],
          ...[...get(low), ...get(here), ...vector('f32x4.pmin'), ...set(low)],
          ...[...get(high), ...get(here), ...vector('f32x4.pmax'), ...set(high)],
          ...[...get(row), ...load(16), ...set(there), ...steps(0)],
          ...[...get(below), ...load(), ...set(there), ...steps(2)],
          ...[...forward(below, 16), ...forward(row, 16)],
        ],
        ...([row, end] as const),
      ),
      ...all.flatMap(([local, place]) => [...i32(0), ...get(local), ...store(place)]),
    ];
  },
);

/** Sums up what is seen of a picture's edges, shown from the top down in bands. */
export const createSeamSum = ({ width, height }: Pick<Image, 'width' | 'height'>) => {
  const row = width * CHANNELS;
  const kept = new Uint8Array(ROWS);
  new Float32Array(kept.buffer, 0, 2 * CHANNELS).fill(Infinity, 0, CHANNELS).fill(-Infinity, CHANNELS);
  const sides = new Float64Array(3);
  let first: Float32Array | null = null;
  let last: Float32Array | null = null;
  let isAllGrey = true;
  /** Adds up rows that lie one below another, all but the last of them. */
  const sum = (rows: readonly Float32Array[]): void => {
    const run = addSteps();
    const bytes = row * FLOAT;
    const { buffer } = memoryOf(ROWS + 2 * (bytes + 16));
    const [floats, all] = [new Float32Array(buffer), new Uint8Array(buffer, 0, ROWS)];
    all.set(kept);
    const placeOf = (y: number): number => ROWS + (y % 2) * (bytes + 16);
    // After its last pixel that stands once more: it is no step away.
    const bring = (y: number): void => {
      floats.set(rows[y]!, placeOf(y) / FLOAT);
      floats.set(rows[y]!.subarray(row - CHANNELS), (placeOf(y) + bytes) / FLOAT);
    };
    bring(0);
    for (let y = 0; y < rows.length - 1; y += 1) {
      bring(y + 1);
      run(placeOf(y), placeOf(y + 1), placeOf(y) + bytes);
    }
    kept.set(all);
  };
  const seamIn = (channel: number, first: Float32Array, last: Float32Array): Seam => {
    const [floats, doubles] = [new Float32Array(kept.buffer, 0, 2 * CHANNELS), new Float64Array(kept.buffer)];
    let ends = 0;
    for (let at = channel; at < row; at += CHANNELS) ends += Math.abs(first[at]! - last[at]!);
    const range = floats[CHANNELS + channel]! - floats[channel]! || 1;
    const share = (sum: number, count: number): number => (count ? sum / count : 0) / range;
    return {
      across: [share(sides[channel]!, height), share(ends, width)],
      inside: [
        share(doubles[BESIDE / 8 + channel]!, height * (width - 1)),
        share(doubles[BELOW / 8 + channel]!, width * (height - 1)),
      ],
    };
  };
  return {
    add: (band: Image): void => {
      const rows = Array.from({ length: band.height }, (_, y) => band.data.subarray(y * row, (y + 1) * row));
      for (const each of rows)
        for (let c = 0; c < 3; c += 1) sides[c]! += Math.abs(each[c]! - each[row - CHANNELS + c]!);
      if (isAllGrey && !isGrey(band)) isAllGrey = false;
      sum(last ? [last, ...rows] : rows);
      first ??= rows[0]!.slice();
      last = rows.at(-1)!.slice();
    },
    /** The seam of the channel in which it is seen most, once all of it was shown. */
    seam: (): Seam => {
      if (!first || !last) throw new Error('No row of it was shown.');
      // Below the last there is none: it is no step from itself.
      sum([last, last]);
      const all = (isAllGrey ? [0] : [0, 1, 2]).map((channel) => seamIn(channel, first!, last!));
      const shown = ({ across, inside }: Seam): number =>
        Math.max(across[0] - inside[0], across[1] - inside[1]);
      return all.reduce((worst, each) => (shown(each) > shown(worst) ? each : worst));
    },
  };
};

/** The seam of the channel in which it is seen most. */
export const seamOf = (image: Image): Seam => {
  const sum = createSeamSum(image);
  sum.add(image);
  return sum.seam();
};

/** How much more is seen across the edges than inside, at most; 0 where nothing is. */
export const seamFigure = (image: Image): number => {
  const { across, inside } = seamOf(image);
  return Math.max(across[0] - inside[0], across[1] - inside[1], 0);
};
