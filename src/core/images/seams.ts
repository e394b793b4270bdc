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
    /** What doubles of two floats differ by, whichever half of them. */
    const apart = (sum: number, half: (local: number) => number[]): number[] => [
      ...[...get(sum), ...half(there), ...half(here), ...vector('f64x2.sub')],
      ...[...vector('f64x2.abs'), ...vector('f64x2.add'), ...set(sum)],
    ];
    const steps = (first: number): number[] => [
      ...apart(sums[first]!, lowerDoubles),
      ...apart(sums[first + 1]!, upperDoubles),
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

/** The seams of each of the first channels, as shares of their ranges. */
const seamsIn = ({ width, height, data }: Image, channels: number): readonly Seam[] => {
  const run = addSteps();
  const row = width * CHANNELS;
  const bytes = row * 4;
  const { buffer } = memoryOf(ROWS + 2 * (bytes + 16));
  const [floats, doubles] = [new Float32Array(buffer), new Float64Array(buffer)];
  floats.fill(Infinity, 0, CHANNELS).fill(-Infinity, CHANNELS, 2 * CHANNELS);
  doubles.fill(0, BESIDE / 8, ROWS / 8);
  const placeOf = (y: number): number => ROWS + (y % 2) * (bytes + 16);
  // After its last pixel that stands once more: it is no step away.
  const bring = (y: number): void => {
    floats.set(data.subarray(y * row, (y + 1) * row), placeOf(y) / 4);
    floats.set(data.subarray((y + 1) * row - CHANNELS, (y + 1) * row), (placeOf(y) + bytes) / 4);
  };
  bring(0);
  for (let y = 0; y < height; y += 1) {
    const isLast = y === height - 1;
    if (!isLast) bring(y + 1);
    run(placeOf(y), isLast ? placeOf(y) : placeOf(y + 1), placeOf(y) + bytes);
  }
  return Array.from({ length: channels }, (_, channel): Seam => {
    let [sides, ends] = [0, 0];
    for (let y = 0; y < height; y += 1)
      sides += Math.abs(data[y * row + channel]! - data[(y + 1) * row - CHANNELS + channel]!);
    for (let at = channel; at < row; at += CHANNELS)
      ends += Math.abs(data[at]! - data[(height - 1) * row + at]!);
    const range = floats[CHANNELS + channel]! - floats[channel]! || 1;
    const share = (sum: number, count: number): number => (count ? sum / count : 0) / range;
    return {
      across: [share(sides, height), share(ends, width)],
      inside: [
        share(doubles[BESIDE / 8 + channel]!, height * (width - 1)),
        share(doubles[BELOW / 8 + channel]!, width * (height - 1)),
      ],
    };
  });
};

/** The seam of the channel in which it is seen most. */
export const seamOf = (image: Image): Seam => {
  const all = seamsIn(image, isGrey(image) ? 1 : 3);
  const shown = ({ across, inside }: Seam): number => Math.max(across[0] - inside[0], across[1] - inside[1]);
  return all.reduce((worst, each) => (shown(each) > shown(worst) ? each : worst));
};

/** How much more is seen across the edges than inside, at most; 0 where nothing is. */
export const seamFigure = (image: Image): number => {
  const { across, inside } = seamOf(image);
  return Math.max(across[0] - inside[0], across[1] - inside[1], 0);
};
