import { toSrgbByte } from '../numbers/colour.ts';
import type { Holds } from './encodePng.ts';
import { CHANNELS, type Image } from './image.ts';
import type { Reach } from '../numbers/reach.ts';

/** Bars of a histogram. */
const BARS = 64;

/** A picture as it is shown: its bytes, and how its colours are spread. */
export interface Looked extends Reach {
  readonly pixels: Uint8ClampedArray<ArrayBuffer>;
  /** Shares of its pixels by red, green and blue, dark to light; and by alpha, where not all of it is opaque. */
  readonly histogram: readonly (readonly number[])[];
}

/** Numbers that are gone through at once: a function that is called often is compiled well, and left without loss. */
const AT_ONCE = 4096;
/** What is found on the way: the least, the greatest, and how many are no numbers. */
const [LOW, HIGH, BROKEN] = [0, 1, 2] as const;
/** Bars of red, of green, of blue, of what is grey, and of what is seen through. */
const [GREY, ALPHA] = [3, 4] as const;

const byteOf = (value: number, isLight: boolean): number =>
  isLight ? toSrgbByte(value) : (value * 255 + 0.5) | 0;
const barOf = (value: number): number => Math.min((value * BARS) | 0, BARS - 1);
/** What is no number is shown as 0. */
const shown = (x: number): number => (x > 0 ? (x < 1 ? x : 1) : 0);

/** @param pixels red, green, blue and alpha of each in its four bytes, the lowest first */
const lookOver = (
  data: Float32Array,
  isLight: boolean,
  pixels: Uint32Array,
  bars: Int32Array,
  found: Float64Array,
): void => {
  let [low, high, broken] = [found[LOW]!, found[HIGH]!, found[BROKEN]!];
  for (let at = 0, i = 0; i < data.length; at += 1, i += CHANNELS) {
    const red = data[i]!;
    const alpha = data[i + 3]!;
    let pixel = 255 << 24;
    if (alpha !== 1) {
      const value = shown(alpha);
      bars[ALPHA * BARS + barOf(value)]! += 1;
      pixel = ((value * 255 + 0.5) | 0) << 24;
    }
    if (red === data[i + 1] && red === data[i + 2] && red - red === 0) {
      // What is grey is looked at in one of its colours.
      const value = shown(red);
      bars[GREY * BARS + barOf(value)]! += 1;
      pixel |= byteOf(value, isLight) * 0x010101;
      if (red < low) low = red;
      if (red > high) high = red;
    } else
      for (let c = 0; c < 3; c += 1) {
        const x = data[i + c]!;
        const value = shown(x);
        bars[c * BARS + barOf(value)]! += 1;
        pixel |= byteOf(value, isLight) << (8 * c);
        if (x - x !== 0) broken += 1;
        else {
          if (x < low) low = x;
          if (x > high) high = x;
        }
      }
    pixels[at] = pixel;
  }
  found[LOW] = low;
  found[HIGH] = high;
  found[BROKEN] = broken;
};

/** Looks at a picture in one way through it: it is done for every step of a drag. */
export const lookAt = ({ data }: Pick<Image, 'data'>, holds: Holds): Looked => {
  const pixels = new Uint32Array(data.length / CHANNELS);
  const bars = new Int32Array(5 * BARS);
  const found = Float64Array.of(Infinity, -Infinity, 0);
  for (let start = 0; start < data.length; start += AT_ONCE) {
    const end = Math.min(start + AT_ONCE, data.length);
    lookOver(
      ...([data.subarray(start, end), holds === 'color'] as const),
      ...([pixels.subarray(start / CHANNELS, end / CHANNELS), bars, found] as const),
    );
  }
  const shares = (...kinds: readonly number[]): number[] =>
    Array.from(
      { length: BARS },
      (_, bar) => kinds.reduce((sum, kind) => sum + bars[kind * BARS + bar]!, 0) / pixels.length,
    );
  const histogram = [0, 1, 2].map((c) => shares(c, GREY));
  const alpha = shares(ALPHA);
  const opaque = 1 - alpha.reduce((sum, share) => sum + share, 0);
  if (alpha.some(Boolean)) histogram.push(alpha.with(-1, alpha.at(-1)! + opaque));
  return {
    ...{ pixels: new Uint8ClampedArray(pixels.buffer), histogram },
    ...{ low: found[LOW]!, high: found[HIGH]!, broken: found[BROKEN]! },
  };
};
