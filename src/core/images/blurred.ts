import { beyond } from './image.ts';

/** A plane and how large it is. */
interface Size {
  readonly width: number;
  readonly height: number;
}

/** A Gaussian’s weights out to three standard deviations, which come to 1; of the middle and one side. */
export const gaussian = (deviation: number): Float64Array => {
  const reach = Math.max(Math.ceil(deviation * 3), 0);
  const weights = Float64Array.from({ length: reach + 1 }, (_, i) =>
    deviation > 0 ? Math.exp((-i * i) / (2 * deviation * deviation)) : 1,
  );
  const sum = weights.reduce((all, x, i) => all + (i ? 2 * x : x), 0);
  return weights.map((x) => x / sum);
};

/** Rows of a plane, each number with those beside it, by weights that are the same on both sides. */
const alongRows = (
  from: Float32Array,
  { width, height }: Size,
  weights: Float64Array,
  wraps: boolean,
): Float32Array => {
  const reach = weights.length - 1;
  const made = new Float32Array(from.length);
  // A row with what lies beyond its edges, so that the middle is reckoned without asking where it ends.
  const line = new Float32Array(width + 2 * reach);
  for (let y = 0; y < height; y += 1) {
    const at = y * width;
    for (let i = 0; i < line.length; i += 1) line[i] = from[at + beyond(i - reach, width, wraps)]!;
    for (let x = 0; x < width; x += 1) {
      const middle = x + reach;
      let sum = line[middle]! * weights[0]!;
      for (let k = 1; k <= reach; k += 1) sum += (line[middle - k]! + line[middle + k]!) * weights[k]!;
      made[at + x] = sum;
    }
  }
  return made;
};

/** A plane with its rows for columns. */
const turned = (from: Float32Array, { width, height }: Size): Float32Array => {
  const made = new Float32Array(from.length);
  const TILE = 32;
  for (let top = 0; top < height; top += TILE)
    for (let left = 0; left < width; left += TILE)
      for (let y = top; y < Math.min(top + TILE, height); y += 1)
        for (let x = left; x < Math.min(left + TILE, width); x += 1)
          made[x * height + y] = from[y * width + x]!;
  return made;
};

/** A plane blurred both ways by weights. */
export const blurredBy = (
  plane: Float32Array,
  size: Size,
  weights: Float64Array,
  wraps: readonly [boolean, boolean],
): Float32Array => {
  if (weights.length < 2) return plane;
  const across = alongRows(plane, size, weights, wraps[0]);
  const other = { width: size.height, height: size.width };
  return turned(alongRows(turned(across, size), other, weights, wraps[1]), other);
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

/** Rows of a plane, each number the mean of those up to a radius beside it, by a sum that runs along. */
const meansAlong = (
  from: Float32Array,
  { width, height }: Size,
  radius: number,
  wraps: boolean,
): Float32Array => {
  const made = new Float32Array(from.length);
  const count = 2 * radius + 1;
  for (let y = 0; y < height; y += 1) {
    const at = y * width;
    let sum = 0;
    for (let i = -radius; i <= radius; i += 1) sum += from[at + beyond(i, width, wraps)]!;
    for (let x = 0; x < width; x += 1) {
      made[at + x] = sum / count;
      sum += from[at + beyond(x + radius + 1, width, wraps)]! - from[at + beyond(x - radius, width, wraps)]!;
    }
  }
  return made;
};

/** Nearly a Gaussian, however wide, in the same time: three means over boxes that spread as far as it (W. Wells, 1986). */
export const widelyBlurred = (
  plane: Float32Array,
  size: Size,
  deviation: number,
  wraps: readonly [boolean, boolean],
): Float32Array => {
  const radius = Math.max(Math.round((Math.sqrt(4 * deviation * deviation + 1) - 1) / 2), 0);
  if (!radius) return plane;
  const other = { width: size.height, height: size.width };
  let made = plane;
  for (let i = 0; i < 3; i += 1) made = meansAlong(made, size, radius, wraps[0]);
  made = turned(made, size);
  for (let i = 0; i < 3; i += 1) made = meansAlong(made, other, radius, wraps[1]);
  return turned(made, other);
};
