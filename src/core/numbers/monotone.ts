/**
 * The slope at a point of a cubic that never swings beyond its points, from the climbs on both sides of it
 * (F. N. Fritsch and J. Butland, "A Method for Constructing Local Monotone Piecewise Cubic Interpolants", 1984).
 * @param gaps how far the points before and behind are
 */
export const monotoneSlope = (
  [before, behind]: readonly [number, number],
  [p, q]: readonly [number, number],
): number => {
  if (before * behind <= 0) return 0;
  const weight = (p + 2 * q) / (3 * (p + q));
  return (before * behind) / (weight * behind + (1 - weight) * before);
};

/**
 * A cubic Hermite piece.
 * @param t how far along it, from 0 to 1
 * @param gap how long it is, in what the slopes are told by
 */
export const hermite = (
  t: number,
  gap: number,
  [y0, out, y1, into]: readonly [number, number, number, number],
): number => {
  const u = 1 - t;
  // Of the difference of its ends: between equal ones it is level to the last bit.
  return y0 + (y1 - y0) * t * t * (3 - 2 * t) + gap * t * u * (out * u - into * t);
};
