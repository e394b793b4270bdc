import { toSrgbByte } from '../numbers/colour.ts';
import type { Holds } from './encodePng.ts';
import { CHANNELS, type Image } from './image.ts';
import type { Reach } from '../numbers/reach.ts';

/** Bars of a histogram. */
const BARS = 64;

/** A picture as it is shown: its bytes, and how its colours are spread. */
export interface Looked extends Reach {
  readonly pixels: Uint8ClampedArray<ArrayBuffer>;
  /** Shares of its pixels by red, green and blue, dark to light. */
  readonly histogram: readonly (readonly number[])[];
}

/** Looks at a picture in one way through it, and at what is grey in one of its colours: it is done for every step of a drag. */
export const lookAt = ({ data }: Pick<Image, 'data'>, holds: Holds): Looked => {
  const pixels = new Uint8ClampedArray(data.length);
  const isLight = holds === 'color';
  const bars = [0, 1, 2].map(() => new Float64Array(BARS));
  let low = Infinity;
  let high = -Infinity;
  let broken = 0;
  for (let i = 0; i < data.length; i += CHANNELS) {
    let last = NaN;
    let byte = 0;
    let bar = 0;
    let isBroken = false;
    for (let c = 0; c < 3; c += 1) {
      const x = data[i + c]!;
      if (x !== last) {
        // What is no number is shown as 0.
        const value = x > 0 ? Math.min(x, 1) : 0;
        byte = isLight ? toSrgbByte(value) : Math.round(value * 255);
        bar = Math.min(Math.floor(value * BARS), BARS - 1);
        last = x;
        isBroken = !Number.isFinite(x);
        if (!isBroken && x < low) low = x;
        if (!isBroken && x > high) high = x;
      }
      if (isBroken) broken += 1;
      pixels[i + c] = byte;
      bars[c]![bar]! += 1;
    }
    const alpha = data[i + 3]!;
    pixels[i + 3] = alpha === 1 ? 255 : Math.round(Math.min(Math.max(alpha, 0), 1) * 255);
  }
  const histogram = bars.map((each) => Array.from(each, (count) => (count * CHANNELS) / data.length));
  return { pixels, histogram, low, high, broken };
};
