import { CHANNELS, isGrey, type Image } from './image.ts';

/** How much is seen of the edges of a picture that repeats: mean steps of a channel, as shares of its range. */
export interface Seam {
  /** Across the left and right edge, and the upper and lower one. */
  readonly across: readonly [number, number];
  /** Between neighbours inside, the same way. */
  readonly inside: readonly [number, number];
}

/** The seam of one channel, as shares of its range. */
const seamIn = ({ width, height, data }: Image, channel: number): Seam => {
  const row = width * CHANNELS;
  let low = Infinity;
  let high = -Infinity;
  let beside = 0;
  let below = 0;
  // One way through it: a picture is large, and is looked at whole.
  for (let y = 0; y < height; y += 1)
    for (let x = 0, at = y * row + channel; x < width; x += 1, at += CHANNELS) {
      const value = data[at]!;
      if (value < low) low = value;
      if (value > high) high = value;
      if (x < width - 1) beside += Math.abs(data[at + CHANNELS]! - value);
      if (y < height - 1) below += Math.abs(data[at + row]! - value);
    }
  let [sides, ends] = [0, 0];
  for (let y = 0; y < height; y += 1)
    sides += Math.abs(data[y * row + channel]! - data[(y + 1) * row - CHANNELS + channel]!);
  for (let at = channel; at < row; at += CHANNELS)
    ends += Math.abs(data[at]! - data[(height - 1) * row + at]!);
  const range = high - low || 1;
  const share = (sum: number, count: number): number => (count ? sum / count : 0) / range;
  return {
    across: [share(sides, height), share(ends, width)],
    inside: [share(beside, height * (width - 1)), share(below, width * (height - 1))],
  };
};

/** The seam of the channel in which it is seen most. */
export const seamOf = (image: Image): Seam => {
  const all = (isGrey(image) ? [0] : [0, 1, 2]).map((channel) => seamIn(image, channel));
  const shown = ({ across, inside }: Seam): number => Math.max(across[0] - inside[0], across[1] - inside[1]);
  return all.reduce((worst, each) => (shown(each) > shown(worst) ? each : worst));
};

/** How much more is seen across the edges than inside, at most; 0 where nothing is. */
export const seamFigure = (image: Image): number => {
  const { across, inside } = seamOf(image);
  return Math.max(across[0] - inside[0], across[1] - inside[1], 0);
};
