import { formatNumber } from '../numbers/format.ts';
import { MOST_HALF } from '../numbers/half.ts';
import { reachOf, type Reach } from '../numbers/reach.ts';
import { CHANNELS, type Image } from './image.ts';

/** How far a picture’s colours reach. */
export const coloursReach = ({ data }: Pick<Image, 'data'>): Reach => reachOf(data, CHANNELS, 3);

/**
 * What of numbers is lost where they are kept in so many bits, in sentences; null where nothing is. What is less beyond an
 * end than half a step of those bits is not.
 */
export const lossIn = ({ low, high, broken }: Reach, bits: 8 | 16 | 32): string | null => {
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
      `${broken} of its numbers are infinite or none at all (0 ÷ 0, for instance): ${
        isFloat
          ? 'they are kept as they are, and what is none spreads where it is filtered.'
          : 'they are kept as 0 or 1.'
      }`,
    );
  return said.length ? said.join(' ') : null;
};
