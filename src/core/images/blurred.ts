import { meansAlong, meansDown } from './slidingMeans.ts';
import { slidBothWays, turned } from './weighedRows.ts';

/** A plane and how large it is. */
interface Size {
  readonly width: number;
  readonly height: number;
}

/** A Gaussian’s weights out to four standard deviations, which come to 1; of the middle and one side. */
export const gaussian = (deviation: number): Float64Array => {
  const reach = Math.max(Math.ceil(deviation * 4), 0);
  const weights = Float64Array.from({ length: reach + 1 }, (_, i) =>
    deviation > 0 ? Math.exp((-i * i) / (2 * deviation * deviation)) : 1,
  );
  const sum = weights.reduce((all, x, i) => all + (i ? 2 * x : x), 0);
  return weights.map((x) => x / sum);
};

/** Pixels of so many numbers, blurred both ways by weights, number by number. */
export const blurredBy = (
  data: Float32Array,
  channels: number,
  { width }: Pick<Size, 'width'>,
  weights: Float64Array,
  wraps: readonly [boolean, boolean],
): Float32Array => {
  if (weights.length < 2) return data;
  const reach = weights.length - 1;
  const sides = Float64Array.from({ length: 2 * reach + 1 }, (_, k) => weights[Math.abs(k - reach)]!);
  return slidBothWays(data, width, channels, sides, wraps);
};

/** A box’s weights, out to a radius; a part of a pixel at its ends counts in part. */
export const boxOf = (radius: number): Float64Array => {
  const reach = Math.ceil(radius);
  const weights = Float64Array.from({ length: reach + 1 }, (_, i) =>
    i < reach || !reach ? 1 : 1 - (reach - radius),
  );
  const sum = weights.reduce((all, x, i) => all + (i ? 2 * x : x), 0);
  return weights.map((x) => x / sum);
};

/** Nearly a Gaussian, however wide, in the same time: three means over boxes that spread as far as it (W. Wells, 1986). */
export const widelyBlurred = (
  data: Float32Array,
  channels: 1 | 4,
  { width, height }: Size,
  deviation: number,
  wraps: readonly [boolean, boolean],
): Float32Array => {
  const radius = Math.max(Math.round((Math.sqrt(4 * deviation * deviation + 1) - 1) / 2), 0);
  if (!radius) return data;
  if (channels === 4) {
    const across = meansAlong(data, width, radius, wraps[0]);
    meansDown(across, width * channels, radius, wraps[1]);
    return across;
  }
  // A plane is turned on its side: its rows are one number after another, which no vector takes at once.
  const onSide = turned(data, width, 1);
  meansDown(onSide, height, radius, wraps[0]);
  const across = turned(onSide, height, 1);
  meansDown(across, width, radius, wraps[1]);
  return across;
};
