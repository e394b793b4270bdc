import type { Point } from './mesh.ts';

/** A form around its middle, each a signed distance where it is a capsule or a slab of a drum, about one where it is an ellipsoid. */
type Form = (p: Point) => number;

const length = (x: number, y: number, z: number): number => Math.hypot(x, y, z);

/** About the distance to an ellipsoid: 0 on it, and by its slope there near it. */
const ellipsoid =
  ([cx, cy, cz]: Point, [a, b, c]: Point): Form =>
  ([x, y, z]) => {
    const [px, py, pz] = [x - cx, y - cy, z - cz];
    const near = length(px / a, py / b, pz / c);
    const slope = length(px / (a * a), py / (b * b), pz / (c * c));
    return slope > 0 ? (near * (near - 1)) / slope : -Math.min(a, b, c);
  };
/** Round a line from one end to the other, as thick as told at each. */
const capsule =
  (from: Point, to: Point, [first, last]: readonly [number, number]): Form =>
  ([x, y, z]) => {
    const [dx, dy, dz] = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
    const along = (x - from[0]) * dx + (y - from[1]) * dy + (z - from[2]) * dz;
    const t = Math.min(Math.max(along / (dx * dx + dy * dy + dz * dz), 0), 1);
    return (
      length(x - from[0] - t * dx, y - from[1] - t * dy, z - from[2] - t * dz) - (first + (last - first) * t)
    );
  };
/** Upright, round, and flat at both ends. */
const drum =
  (radius: number, low: number, high: number): Form =>
  ([x, y, z]) => {
    const [out, over] = [Math.hypot(x, z) - radius, Math.max(low - y, y - high)];
    return Math.min(Math.max(out, over), 0) + Math.hypot(Math.max(out, 0), Math.max(over, 0));
  };
/** Both, the seam between them filled over so many metres (a polynomial smooth minimum). */
const melted =
  (width: number, ...forms: readonly Form[]): Form =>
  (p) =>
    forms.reduce((sum, form) => {
      const other = form(p);
      const share = Math.max(width - Math.abs(sum - other), 0) / width;
      return Math.min(sum, other) - (share * share * width) / 4;
    }, Infinity);

/** How wide the figure's foot is, as a share of its height. */
export const FOOT = 0.2;
/** Nothing of it lies further from its axis, as a share of its height. */
export const WIDEST = 0.3;

/** Where its axis runs, back to the hood's crown at the top: every level of it is seen from there. */
export const axisAt = (high: number): number => -0.045 * Math.max((high - 0.8) / 0.2, 0) ** 2;

/** Mirrored in x: what is told stands on both sides. */
const both =
  (form: Form): Form =>
  ([x, y, z]) =>
    form([Math.abs(x), y, z]);

/**
 * A hooded figure a metre high that stands on a round foot and faces +z: robe, folded arms, a head with a nose and ears.
 * @returns below 0 inside, about metres
 */
export const figureField: Form = (() => {
  const body = melted(
    0.05,
    capsule([0, 0.1, 0], [0, 0.58, 0], [0.155, 0.095]),
    ellipsoid([0, 0.63, -0.005], [0.155, 0.075, 0.095]),
    both(capsule([0.15, 0.56, 0.01], [0.03, 0.47, 0.12], [0.045, 0.03])),
  );
  const head = melted(
    0.02,
    ellipsoid([0, 0.83, 0.01], [0.08, 0.115, 0.09]),
    ellipsoid([0, 0.82, 0.098], [0.016, 0.032, 0.03]),
    both(ellipsoid([0.088, 0.825, 0.01], [0.016, 0.036, 0.022])),
  );
  const hood = ellipsoid([0, 0.845, -0.045], [0.098, 0.155, 0.092]);
  const neck = capsule([0, 0.66, 0], [0, 0.78, 0], [0.062, 0.05]);
  const whole = melted(0.025, melted(0.03, body, neck), melted(0.012, head, hood));
  const foot = drum(FOOT, 0, 0.05);
  // The foot stays as round and as flat as it is.
  return (p) => Math.min(whole(p), foot(p));
})();
