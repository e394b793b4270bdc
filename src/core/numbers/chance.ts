/**
 * A whole number of 32 bits from several: each mixed in by a multiplication and shifts (the finalizer of MurmurHash3),
 * so that neighbours share nothing.
 */
export const hashOf = (...numbers: readonly number[]): number => {
  let h = 0x9e3779b9;
  for (const x of numbers) {
    h = (h ^ x) | 0;
    h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
    h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
    h ^= h >>> 16;
  }
  return h >>> 0;
};

/** From 0 up to 1, the same for the same numbers. */
export const chanceOf = (...numbers: readonly number[]): number => hashOf(...numbers) / 2 ** 32;
