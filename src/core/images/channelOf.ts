import { lightness, type Pair, type Pixels } from './pixelCode.ts';

export const FROM = ['red', 'green', 'blue', 'alpha', 'luminance'] as const;

/** One number of each pixel, by its name. */
export const channelOf = (pixel: Pixels, name: (typeof FROM)[number]): Pair => {
  const { r, g, b, a } = pixel;
  return { red: r, green: g, blue: b, alpha: a, luminance: lightness(pixel) }[name];
};
