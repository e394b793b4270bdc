/** Linear light to the sRGB curve (IEC 61966-2-1), both 0–1. */
export const toSrgb = (x: number): number =>
  x <= 0.0031308 ? Math.max(x, 0) * 12.92 : 1.055 * Math.min(x, 1) ** (1 / 2.4) - 0.055;

/** Buckets of light that bytes are looked up in: narrower than the least step of the curve, so that one holds two bytes at most. */
const BUCKETS = 4096;
/** The byte of each bucket's lower end, and the light from which on the next byte is nearer. */
const bytes = Uint8Array.from({ length: BUCKETS + 1 }, (_, i) => Math.round(toSrgb(i / BUCKETS) * 255));
const nextAt = Float64Array.from({ length: 256 }, (_, byte) => {
  let [low, high] = [byte / 255 / 13, 1.001];
  // By halves, to the very number at which rounding goes over.
  for (let i = 0; i < 60; i += 1) {
    const middle = (low + high) / 2;
    if (Math.round(toSrgb(middle) * 255) > byte) high = middle;
    else low = middle;
  }
  return byte === 255 ? Infinity : high;
});
/** Linear light, held to 0–1, as a byte on the sRGB curve: `round(255 · toSrgb(x))`, without a power. */
export const toSrgbByte = (x: number): number => {
  if (!(x > 0)) return 0;
  if (x >= 1) return 255;
  const byte = bytes[Math.floor(x * BUCKETS)]!;
  return x >= nextAt[byte]! ? byte + 1 : byte;
};

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

/** Rec. 709’s share of each linear primary in what the eye takes for light. */
export const LUMINANCE = [0.2126, 0.7152, 0.0722] as const;
