const floats = new Float32Array(1);
const bits = new Uint32Array(floats.buffer);

/** A number as the 16 bits of IEEE 754's binary16, to the nearest, halves to the even. */
export const toHalf = (x: number): number => {
  floats[0] = x;
  const all = bits[0]!;
  const sign = (all >>> 16) & 0x8000;
  const size = all & 0x7fffffff;
  if (size > 0x7f800000) return sign | 0x7e00;
  // 65520 and above round to infinity.
  if (size >= 0x477ff000) return sign | 0x7c00;
  const nearest = (value: number, dropped: number): number => {
    const half = 2 ** (dropped - 1);
    const whole = Math.floor(value / 2 ** dropped);
    const rest = value - whole * 2 ** dropped;
    return whole + (rest > half || (rest === half && whole % 2 === 1) ? 1 : 0);
  };
  if (size >= 0x38800000) return sign | nearest(size - 0x38000000, 13);
  // Below 2⁻¹⁴ the steps are even: 2⁻²⁴ apart.
  const steps = Math.abs(x) * 2 ** 24;
  const whole = Math.floor(steps);
  const rest = steps - whole;
  return sign | (whole + (rest > 0.5 || (rest === 0.5 && whole % 2 === 1) ? 1 : 0));
};

/** Half floats go no further. */
export const MOST_HALF = 65504;

/** As `toHalf`, but what lies further is held at the end: it would be without end, and spread where it is filtered. */
export const toHeldHalf = (x: number): number => toHalf(Math.min(Math.max(x, -MOST_HALF), MOST_HALF));

/** The number that 16 bits of binary16 are. */
export const fromHalf = (half: number): number => {
  const sign = half & 0x8000 ? -1 : 1;
  const exponent = (half >>> 10) & 31;
  const fraction = half & 1023;
  if (exponent === 31) return fraction ? NaN : sign * Infinity;
  return sign * (exponent ? (1 + fraction / 1024) * 2 ** (exponent - 15) : fraction * 2 ** -24);
};
