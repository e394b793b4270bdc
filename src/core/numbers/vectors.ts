/** Three numbers: a point, or a way. */
export type Triple = readonly [number, number, number];

/** a + b · s */
export const plus = (a: Triple, b: Triple, s = 1): Triple => [
  a[0] + b[0] * s,
  a[1] + b[1] * s,
  a[2] + b[2] * s,
];
export const minus = (a: Triple, b: Triple): Triple => plus(a, b, -1);
export const times = ([x, y, z]: Triple, s: number): Triple => [x * s, y * s, z * s];
export const dot = (a: Triple, b: Triple): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross = (a: Triple, b: Triple): Triple => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
/** The same way, one long; nothing where it is nothing. */
export const unit = (a: Triple): Triple => {
  const size = Math.hypot(...a) || 1;
  return [a[0] / size, a[1] / size, a[2] / size];
};
/** Three of a list of numbers, from a place on. */
export const tripleAt = (from: ArrayLike<number>, at: number): Triple => [
  from[at]!,
  from[at + 1]!,
  from[at + 2]!,
];
/** One thing of each of three. */
export const triple = <T>(of: (k: 0 | 1 | 2) => T): [T, T, T] => [of(0), of(1), of(2)];
