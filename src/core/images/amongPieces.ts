import { whereAtLeast, type Pair } from './pixelCode.ts';

/** Numbers of a key, or a stop; of so many the pieces between are all worked out, and the one chosen that counts. */
export const [EACH, FEW] = [4, 8] as const;

/**
 * A curve of few pieces at x: before the first key, and from the last on, it is as it is there.
 * @param piece from a key to the next, whatever x is
 */
export const amongPieces = (
  x: Pair,
  keys: readonly (readonly Pair[])[],
  [first, last]: readonly [Pair, Pair],
  piece: (from: readonly Pair[], to: readonly Pair[]) => Pair,
): Pair => {
  let made = first;
  for (let i = 0; i + 1 < keys.length; i += 1) {
    const own = piece(keys[i]!, keys[i + 1]!);
    made = i ? whereAtLeast(x, keys[i]![0]!, own, made) : own;
  }
  made = whereAtLeast(x, keys.at(-1)![0]!, last, made);
  return whereAtLeast(keys[0]![0]!, x, first, made);
};

export const inEaches = (told: readonly Pair[]): readonly (readonly Pair[])[] =>
  Array.from({ length: told.length / EACH }, (_, i) => told.slice(i * EACH, (i + 1) * EACH));
