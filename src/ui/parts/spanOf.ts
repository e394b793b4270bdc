/** What lies closer together than this share of its size differs by rounding only. */
const ROUNDING = 1e-9;

/**
 * The range of values that a drawing of them shows: from the least to the greatest, or as much room as the value's own
 * size around one that does not change.
 */
export const spanOf = (values: readonly number[]): { readonly low: number; readonly high: number } => {
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const size = Math.max(Math.abs(low), Math.abs(high));
  if (high - low > ROUNDING * size) return { low, high };
  const room = size || 1;
  return { low: low - room / 2, high: high + room / 2 };
};
