import { formatNumber } from '../numbers/format.ts';
import type { Bits } from './encodePicture.ts';
import { CHANNELS, type Image } from './image.ts';

/** How far a picture’s colours reach. */
export interface Reach {
  readonly low: number;
  readonly high: number;
  /** How many of them are no number. */
  readonly broken: number;
}

/** Half floats, as which a stage reads floats, go no further: what lies beyond would be without end, and spread where it is filtered. */
export const MOST_HALF = 65504;

export const reachOf = ({ data }: Pick<Image, 'data'>): Reach => {
  let [low, high, broken] = [Infinity, -Infinity, 0];
  for (let i = 0; i < data.length; i += CHANNELS)
    for (let c = i; c < i + 3; c += 1) {
      const x = data[c]!;
      if (x < low) low = x;
      if (x > high) high = x;
      if (Number.isNaN(x)) broken += 1;
    }
  return { low, high, broken };
};

/**
 * What of numbers is lost where they are kept in so many bits, in sentences; null where nothing is. What is less beyond an
 * end than half a step of those bits is not.
 */
export const lossIn = ({ low, high, broken }: Reach, bits: Bits): string | null => {
  const isFloat = bits === 32;
  const [least, most] = isFloat ? [-MOST_HALF, MOST_HALF] : [0, 1];
  const step = isFloat ? 0 : 0.5 / (2 ** bits - 1);
  const said: string[] = [];
  if (low < least - step || high > most + step)
    said.push(
      `It reaches from ${formatNumber(low)} to ${formatNumber(high)}: ${
        isFloat
          ? 'materials read floats as halves, and what lies beyond ±65504 is held there.'
          : `in ${bits} bits what lies outside 0–1 is held at its ends.`
      }`,
    );
  if (broken)
    said.push(
      `${broken} of its numbers are none at all (0 ÷ 0, for instance): ${
        isFloat ? 'they stay so, and spread where they are filtered.' : 'they are kept as 0.'
      }`,
    );
  return said.length ? said.join(' ') : null;
};
