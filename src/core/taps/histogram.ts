import { UNCOVERED } from './measureTap.ts';

/** How the numbers of a drawn step are spread: over all of its components, where it is drawn at all. */
export interface Histogram {
  readonly least: number;
  readonly greatest: number;
  readonly mean: number;
  /** The share below 0, and above 1. */
  readonly below: number;
  readonly above: number;
  /** Numbers that are none, or without end. */
  readonly notNumbers: number;
  /** Pixels it covers. */
  readonly covered: number;
  /** Where the first bin begins and the last one ends, and how many numbers each holds. */
  readonly from: number;
  readonly to: number;
  readonly bins: readonly number[];
}

/** Single precision, as a picture holds it: what is this near an end lies on it. */
const ON_THE_END = 1e-6;

/**
 * Counts the numbers of a drawn step. Null where it covers nothing.
 * @param rgba four floats a pixel; red below `UNCOVERED` where it is not drawn
 * @param components how many of the four belong to the value
 */
export const histogramOf = (rgba: Float32Array, components: number, bins = 48): Histogram | null => {
  let [least, greatest, sum, count] = [Infinity, -Infinity, 0, 0];
  let [below, above, notNumbers, covered] = [0, 0, 0, 0];
  const each = (use: (x: number) => void): void => {
    for (let i = 0; i < rgba.length; i += 4)
      if (!(rgba[i]! < UNCOVERED)) for (let c = 0; c < components; c += 1) use(rgba[i + c]!);
  };
  for (let i = 0; i < rgba.length; i += 4) if (!(rgba[i]! < UNCOVERED)) covered += 1;
  if (!covered) return null;
  each((x) => {
    if (!Number.isFinite(x)) {
      notNumbers += 1;
      return;
    }
    least = Math.min(least, x);
    greatest = Math.max(greatest, x);
    sum += x;
    count += 1;
    if (x < -ON_THE_END) below += 1;
    if (x > 1 + ON_THE_END) above += 1;
  });
  if (!count) [least, greatest] = [NaN, NaN];
  // 0 to 1 is always seen, so that what lies outside is.
  const from = count ? Math.min(least, 0) : 0;
  const to = count ? Math.max(greatest, 1) : 1;
  const made = new Array<number>(bins).fill(0);
  each((x) => {
    if (!Number.isFinite(x)) return;
    const at = Math.floor(((x - from) / (to - from)) * bins);
    made[Math.min(Math.max(at, 0), bins - 1)]! += 1;
  });
  return {
    ...{ least, greatest, mean: sum / count, covered, notNumbers, from, to, bins: made },
    ...{ below: count ? below / count : 0, above: count ? above / count : 0 },
  };
};
