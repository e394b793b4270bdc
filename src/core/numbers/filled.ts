/** What numbers of one kind are kept in. */
type Kept = Float32Array | Uint16Array | Uint8Array;

/**
 * Fills an array, place by place, and gives it back. What arrays bring themselves, `from`, asks an iterator for each number,
 * and takes twenty times as long: where there is one for each pixel, that holds a page.
 */
export const filled = <T extends Kept>(made: T, at: (i: number) => number): T => {
  for (let i = 0; i < made.length; i += 1) made[i] = at(i);
  return made;
};

/** Each whole number as a share of the greatest, from 0 to 1. */
export const shares = (whole: ArrayLike<number>, greatest: number): Float32Array => {
  const made = new Float32Array(whole.length);
  for (let i = 0; i < made.length; i += 1) made[i] = whole[i]! / greatest;
  return made;
};
