import { UNCOVERED } from './measureTap.ts';
import { toSrgb } from '../numbers/colour.ts';

/** How wide the stripes are that mark a value outside 0–1, in pixels. */
const STRIPE = 3;
const OXBLOOD = [138, 31, 27] as const;

const isStriped = (marks: boolean, along: number): boolean => marks && along % (2 * STRIPE) < STRIPE;

/**
 * Paints a rendered tap as a small picture: numbers as grey or red and green as they are, colours in sRGB, oxblood
 * stripes where a value leaves 0–1 (rising below 0, falling above 1), a chequer where it is not a number.
 * @param rgba size² pixels of four floats, bottom row first
 * @returns size² pixels of four bytes, top row first
 */
export const paintTap = (
  rgba: Float32Array,
  components: number,
  size: number,
): Uint8ClampedArray<ArrayBuffer> => {
  const out = new Uint8ClampedArray(size * size * 4);
  for (let y = 0; y < size; y += 1)
    for (let x = 0; x < size; x += 1) {
      const from = ((size - 1 - y) * size + x) * 4;
      if (rgba[from]! < UNCOVERED) continue;
      const to = (y * size + x) * 4;
      out[to + 3] = 255;
      let below = false;
      let above = false;
      let broken = false;
      for (let c = 0; c < components; c += 1) {
        const value = rgba[from + c]!;
        if (!Number.isFinite(value)) broken = true;
        else if (value < -1e-6) below = true;
        else if (value > 1 + 1e-6) above = true;
      }
      for (let c = 0; c < 3; c += 1) {
        const value = components === 1 ? rgba[from]! : c < components ? rgba[from + c]! : 0;
        out[to + c] = 255 * (components >= 3 ? toSrgb(value) : value);
      }
      if (broken) {
        const dark = ((x >> 2) + (y >> 2)) % 2 === 0;
        out.set(dark ? [0, 0, 0] : OXBLOOD, to);
      } else if (isStriped(below, x + y) || isStriped(above, x - y + 2 * STRIPE * size)) out.set(OXBLOOD, to);
    }
  return out;
};
