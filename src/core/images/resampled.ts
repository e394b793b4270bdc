import { beyond, type Image } from './image.ts';
import { overChannels } from './overChannels.ts';
import { keptRows, madeRows, roundTaken, type Rows } from './rows.ts';
import { weighedBothWays, type Taps } from './weighedBothWays.ts';
import type { RowTaps } from './weighedRows.ts';

/** Lanczos’s window of three lobes (C. Lanczos; G. Turk and S. Gabriel, 1990). */
const lanczos = (x: number): number => {
  const t = Math.abs(x);
  if (t < 1e-9) return 1;
  if (t >= 3) return 0;
  const p = Math.PI * t;
  return (3 * Math.sin(p) * Math.sin(p / 3)) / (p * p);
};

/** Of each new place along an axis from one on, what it is made of; the first ones may lie beyond the edges. */
const tapsOf = (from: number, to: number, start = 0, end = to): readonly Taps[] => {
  const ratio = from / to;
  const wide = Math.max(ratio, 1);
  const reach = Math.ceil(3 * wide);
  return Array.from({ length: end - start }, (_, i) => {
    const middle = (start + i + 0.5) * ratio - 0.5;
    const first = Math.floor(middle) - reach + 1;
    const weights = new Float64Array(2 * reach);
    let sum = 0;
    for (let k = 0; k < weights.length; k += 1) {
      weights[k] = lanczos((first + k - middle) / wide);
      sum += weights[k]!;
    }
    return { first, weights: weights.map((x) => x / sum) };
  });
};

/** Of each new place of a row, what it is made of, around its ends. */
const acrossTo = (from: number, to: number, wraps: boolean): readonly RowTaps[] =>
  tapsOf(from, to).map(({ first, weights }) => ({
    places: Int32Array.from(weights, (_, k) => beyond(first + k, from, wraps)),
    weights,
  }));

/** A picture of another size, of rows and columns that are each made of old ones. */
const weighed = (
  image: Image,
  down: readonly Taps[],
  rowOf: (place: number) => number,
  across: readonly RowTaps[],
): Image =>
  overChannels(image, (data, channels) => weighedBothWays(data, image.width, channels, down, rowOf, across), [
    across.length,
    down.length,
  ]);

/** A picture of another size, by Lanczos; colour is weighted by alpha. */
export const resampled = (
  image: Image,
  [width, height]: readonly [number, number],
  wraps: readonly [boolean, boolean],
): Image => {
  if (image.width === width && image.height === height) return image;
  const rowOf = (place: number): number => beyond(place, image.height, wraps[1]);
  return weighed(image, tapsOf(image.height, height), rowOf, acrossTo(image.width, width, wraps[0]));
};

/** The same by bands. */
export const resampledRows = (
  of: Rows,
  [width, height]: readonly [number, number],
  wraps: readonly [boolean, boolean],
): Rows => {
  if (of.width === width && of.height === height) return of;
  const across = acrossTo(of.width, width, wraps[0]);
  const read = keptRows({ ...of, take: (top, bottom) => roundTaken(of, top, bottom) });
  const rows = madeRows(width, height, (top, bottom) => {
    const taps = tapsOf(of.height, height, top, bottom);
    const { first, weights } = taps.at(-1)!;
    const [least, past] = [taps[0]!.first, first + weights.length];
    // Beyond an edge that does not come round lies what is at the edge.
    const [from, until] = wraps[1] ? [least, past] : [Math.max(least, 0), Math.min(past, of.height)];
    const rowOf = (place: number): number => Math.min(Math.max(place, from), until - 1) - from;
    return weighed(read(from, until), taps, rowOf, across);
  });
  return { ...rows, reach: of.reach };
};
