import { CHANNELS, type Image } from './image.ts';

/** How much is seen of the edges of a picture that repeats: mean steps of a channel, as shares of its range. */
export interface Seam {
  /** Across the left and right edge, and the upper and lower one. */
  readonly across: readonly [number, number];
  /** Between neighbours inside, the same way. */
  readonly inside: readonly [number, number];
}

/** Least and greatest number of a channel. */
export const rangeOf = ({ data }: Image, channel: number): readonly [number, number] => {
  let [low, high] = [Infinity, -Infinity];
  for (let i = channel; i < data.length; i += CHANNELS) {
    const x = data[i]!;
    if (x < low) low = x;
    if (x > high) high = x;
  }
  return [low, high];
};

/** The seam of the channel in which it is seen most. */
export const seamOf = (image: Image): Seam => {
  const { width, height, data } = image;
  /** The mean step from a row of pixels to the next, or to the first from the last; rows lie across where `dx` is 1. */
  const stepOf = (channel: number, dx: number, isEdge: boolean): number => {
    const [long, lines] = dx ? [width, height] : [height, width];
    const [pace, between] = dx ? [CHANNELS, width * CHANNELS] : [width * CHANNELS, CHANNELS];
    let sum = 0;
    if (isEdge)
      for (let line = 0; line < lines; line += 1) {
        const from = line * between + channel;
        sum += Math.abs(data[from]! - data[from + (long - 1) * pace]!);
      }
    // Pixel by pixel as they lie, whichever way is looked.
    else
      for (let y = 0; y < height - (dx ? 0 : 1); y += 1)
        for (let x = 0; x < width - (dx ? 1 : 0); x += 1) {
          const at = (y * width + x) * CHANNELS + channel;
          sum += Math.abs(data[at + pace]! - data[at]!);
        }
    const count = isEdge ? lines : lines * (long - 1);
    return count ? sum / count : 0;
  };
  const all = [0, 1, 2].map((channel) => {
    const [low, high] = rangeOf(image, channel);
    const range = high - low || 1;
    const share = (dx: number, isEdge: boolean): number => stepOf(channel, dx, isEdge) / range;
    return {
      across: [share(1, true), share(0, true)] as const,
      inside: [share(1, false), share(0, false)] as const,
    };
  });
  const shown = ({ across, inside }: Seam): number => Math.max(across[0] - inside[0], across[1] - inside[1]);
  return all.reduce((worst, each) => (shown(each) > shown(worst) ? each : worst));
};

/** How much more is seen across the edges than inside, at most; 0 where nothing is. */
export const seamFigure = (image: Image): number => {
  const { across, inside } = seamOf(image);
  return Math.max(across[0] - inside[0], across[1] - inside[1], 0);
};
