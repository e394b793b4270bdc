/** Linear light to the sRGB curve (IEC 61966-2-1), both 0–1. */
export const toSrgb = (x: number): number =>
  x <= 0.0031308 ? Math.max(x, 0) * 12.92 : 1.055 * Math.min(x, 1) ** (1 / 2.4) - 0.055;

/** The sRGB curve to linear light, both 0–1. */
export const toLinear = (x: number): number => (x <= 0.04045 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4);

const byte = (x: number): string =>
  Math.round(Math.min(Math.max(toSrgb(x), 0), 1) * 255)
    .toString(16)
    .padStart(2, '0');

/** Linear red, green and blue as a CSS colour; what lies outside 0–1 is held at the ends. */
export const toHex = ([r, g, b]: readonly number[]): string =>
  `#${byte(r ?? 0)}${byte(g ?? 0)}${byte(b ?? 0)}`;

/** A CSS colour of six hex digits as linear red, green and blue. */
export const fromHex = (hex: string): [number, number, number] =>
  [1, 3, 5].map((i) => toLinear(Number.parseInt(hex.slice(i, i + 2), 16) / 255)) as [number, number, number];
