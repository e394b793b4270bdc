import { beyond } from './image.ts';
import { turned, weighedRows, type RowTaps } from './weighedRows.ts';

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

/** Of each place along a line, those beside it and their weights, the same on both sides. */
const tapsBeside = (size: number, weights: Float64Array, wraps: boolean): readonly RowTaps[] => {
  const reach = weights.length - 1;
  const sides = Float64Array.from({ length: 2 * reach + 1 }, (_, k) => weights[Math.abs(k - reach)]!);
  return Array.from({ length: size }, (_, i) => {
    const places = new Int32Array(sides.length);
    for (let k = 0; k < places.length; k += 1) places[k] = beyond(i + k - reach, size, wraps);
    return { places, weights: sides };
  });
};

/** A plane blurred both ways by weights. */
export const blurredBy = (
  plane: Float32Array,
  { width, height }: Size,
  weights: Float64Array,
  wraps: readonly [boolean, boolean],
): Float32Array => {
  if (weights.length < 2) return plane;
  const down = weighedRows(plane, width, tapsBeside(height, weights, wraps[1]));
  const across = weighedRows(turned(down, width, 1), height, tapsBeside(width, weights, wraps[0]));
  return turned(across, height, 1);
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
  const columns = Int32Array.from({ length: width + 2 * radius + 1 }, (_, i) =>
    beyond(i - radius, width, wraps),
  );
  const line = new Float32Array(columns.length);
  for (let y = 0; y < height; y += 1) {
    const at = y * width;
    for (let i = 0; i < line.length; i += 1) line[i] = from[at + columns[i]!]!;
    let sum = 0;
    for (let i = 0; i < count; i += 1) sum += line[i]!;
    for (let x = 0; x < width; x += 1) {
      made[at + x] = sum / count;
      sum += line[x + count]! - line[x]!;
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
  made = turned(made, size.width, 1);
  for (let i = 0; i < 3; i += 1) made = meansAlong(made, other, radius, wraps[1]);
  return turned(made, size.height, 1);
};
