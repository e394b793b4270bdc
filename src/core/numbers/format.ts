/** A figure short enough for a field: four digits or so, and no more after the point than say something. */
export const formatNumber = (x: number): string => {
  if (!Number.isFinite(x)) return Number.isNaN(x) ? 'NaN' : x > 0 ? '∞' : '−∞';
  const size = Math.abs(x);
  if (size !== 0 && (size < 0.001 || size >= 1e6)) return x.toExponential(1).replaceAll('-', '−');
  const digits = size >= 1000 ? 0 : size >= 100 ? 1 : size >= 0.1 || size === 0 ? 2 : 3;
  return x.toFixed(digits).replace('-', '−');
};

/** Keeps a dragged number to steps a person would choose. */
export const snap = (x: number, step: number): number =>
  Number((Math.round(x / step) * step).toPrecision(12));
