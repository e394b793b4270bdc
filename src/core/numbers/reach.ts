/** How far numbers reach. */
export interface Reach {
  readonly low: number;
  readonly high: number;
  /** How many of them are infinite or none at all; the rest reaches from the least to the greatest. */
  readonly broken: number;
}

/** How far several together reach. */
export const furthest = (reaches: readonly Reach[]): Reach =>
  reaches.reduce(
    (all, { low, high, broken }) => ({
      low: Math.min(all.low, low),
      high: Math.max(all.high, high),
      broken: all.broken + broken,
    }),
    { low: Infinity, high: -Infinity, broken: 0 },
  );

/** How far the first numbers of pixels of so many reach. */
export const reachOf = (numbers: Float32Array, channels: number, first = channels): Reach => {
  let [low, high, broken] = [Infinity, -Infinity, 0];
  for (let i = 0; i < numbers.length; i += channels)
    for (let c = i; c < i + first; c += 1) {
      const x = numbers[c]!;
      if (!Number.isFinite(x)) broken += 1;
      else {
        if (x < low) low = x;
        if (x > high) high = x;
      }
    }
  return { low, high, broken };
};
