import type { CueKey } from '../document/cues.ts';
import { mixTables } from '../numbers/mixTables.ts';
import { hermite, monotoneSlope } from '../numbers/monotone.ts';

/** The slope of one number at a key, as it is told or such that nothing overshoots; level at the ends. */
const slopeAt = (keys: readonly CueKey[], i: number, c: number, side: 'into' | 'out'): number => {
  const own = keys[i]!;
  const asTold = own[side]?.[c];
  if (asTold !== undefined) return asTold;
  const [before, behind] = [keys[i - 1], keys[i + 1]];
  if (!before || !behind) return 0;
  const [p, q] = [own.at - before.at, behind.at - own.at];
  if (!(p > 0 && q > 0)) return 0;
  return monotoneSlope(
    [(own.value[c]! - before.value[c]!) / p, (behind.value[c]! - own.value[c]!) / q],
    [p, q],
  );
};

/** The slopes of a key before and behind it, a second, for each of its numbers. */
export const slopesAt = (
  keys: readonly CueKey[],
  i: number,
): { readonly into: readonly number[]; readonly out: readonly number[] } => ({
  into: keys[i]!.value.map((_, c) => slopeAt(keys, i, c, 'into')),
  out: keys[i]!.value.map((_, c) => slopeAt(keys, i, c, 'out')),
});

const smooth = (t: number): number => t * t * (3 - 2 * t);

/**
 * What a track stands at, so many seconds into its cue: level before its first key and after its last. Of keys at the
 * same time the later counts from then on.
 * @param table of curves and gradients, which are mixed as lines
 */
export const trackAt = (
  keys: readonly CueKey[],
  seconds: number,
  table?: 'curve' | 'gradient',
): readonly number[] => {
  let [low, high] = [0, keys.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (keys[middle]!.at <= seconds) low = middle + 1;
    else high = middle;
  }
  const i = low - 1;
  const [from, to] = [keys[i], keys[i + 1]];
  if (!from) return keys[0]!.value;
  if (!to || from.go === 'held') return from.value;
  const gap = to.at - from.at;
  const t = (seconds - from.at) / gap;
  if (table) return mixTables(table, from.value, to.value, from.go === 'straight' ? t : smooth(t));
  return from.value.map((y, c) =>
    from.go === 'straight'
      ? y * (1 - t) + to.value[c]! * t
      : hermite(t, gap, [y, slopeAt(keys, i, c, 'out'), to.value[c]!, slopeAt(keys, i + 1, c, 'into')]),
  );
};
