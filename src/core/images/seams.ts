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
    low = Math.min(low, data[i]!);
    high = Math.max(high, data[i]!);
  }
  return [low, high];
};

/** The seam of the channel in which it is seen most. */
export const seamOf = (image: Image): Seam => {
  const { width, height, data } = image;
  const stepOf = (channel: number, dx: number, dy: number, isEdge: boolean): number => {
    let [sum, count] = [0, 0];
    for (let y = 0; y < height; y += 1)
      for (let x = 0; x < width; x += 1) {
        const [nx, ny] = [(x + dx) % width, (y + dy) % height];
        if ((dx > 0 ? nx <= x : ny <= y) !== isEdge) continue;
        sum += Math.abs(
          data[(ny * width + nx) * CHANNELS + channel]! - data[(y * width + x) * CHANNELS + channel]!,
        );
        count += 1;
      }
    return count ? sum / count : 0;
  };
  const all = [0, 1, 2].map((channel) => {
    const [low, high] = rangeOf(image, channel);
    const range = high - low || 1;
    const share = (dx: number, dy: number, isEdge: boolean): number =>
      stepOf(channel, dx, dy, isEdge) / range;
    return {
      across: [share(1, 0, true), share(0, 1, true)] as const,
      inside: [share(1, 0, false), share(0, 1, false)] as const,
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
