import type { Ribbon, RibbonEnd } from '../document/flourishes.ts';
import { minus, plus, times, tripleAt, type Triple } from '../numbers/vectors.ts';

/** A line through space, and how old each of its points is, in seconds; the first point is the oldest, or the first end. */
export interface Strip {
  readonly points: readonly Triple[];
  readonly ages: readonly number[];
}
export const NO_STRIP: Strip = { points: [], ages: [] };

/** Shorter than this it has no way to go. */
const NOTHING = 1e-5;
/** The slower sine of a sway: the golden section, so that it comes back to no beginning. */
const SLOWER = 0.6180339887;

/** How far an end has swayed, in the space of what it is on. */
export const swayOf = ({ sway, every = 1 }: RibbonEnd, seconds: number): Triple => {
  if (!sway) return [0, 0, 0];
  const turn = (2 * Math.PI * seconds) / every;
  return [sway[0] * Math.sin(turn), sway[1] * Math.cos(turn), sway[2] * Math.sin(turn * SLOWER)];
};

/** A point of a cubic between two ends with a tangent at each (Hermite). */
const hermite = (ends: ArrayLike<number>, t: number): Triple => {
  const [t2, t3] = [t * t, t * t * t];
  const [a, out, b, into] = [2 * t3 - 3 * t2 + 1, t3 - 2 * t2 + t, 3 * t2 - 2 * t3, t3 - t2];
  const one = (c: number): number =>
    a * ends[c]! + out * ends[3 + c]! + b * ends[6 + c]! + into * ends[9 + c]!;
  return [one(0), one(1), one(2)];
};

/** `Math.hypot` guards against numbers that no stage is as large as, and takes its time. */
const length = (a: Triple, b: Triple): number => {
  const [x, y, z] = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  return Math.sqrt(x * x + y * y + z * z);
};

/** The same line by points at even lengths of it. */
const evenly = ({ points, ages }: Strip, segments: number): Strip => {
  const lengths = [0];
  for (let i = 1; i < points.length; i += 1)
    lengths.push(lengths[i - 1]! + length(points[i - 1]!, points[i]!));
  const all = lengths.at(-1) ?? 0;
  if (!(all > NOTHING)) return NO_STRIP;
  const made = { points: [] as Triple[], ages: [] as number[] };
  let i = 1;
  for (let k = 0; k <= segments; k += 1) {
    const at = (all * k) / segments;
    while (i < points.length - 1 && lengths[i]! < at) i += 1;
    const span = lengths[i]! - lengths[i - 1]!;
    const t = span > 0 ? Math.min(Math.max((at - lengths[i - 1]!) / span, 0), 1) : 0;
    made.points.push(plus(times(points[i - 1]!, 1 - t), points[i]!, t));
    made.ages.push(ages[i - 1]! * (1 - t) + ages[i]! * t);
  }
  return made;
};

/** Pieces of a curve for each segment that is wanted, and the fewest: enough to measure its length by. */
const [FINE, FEWEST] = [2, 48];

/** The line between two ends: twelve numbers, each end's place and tangent. */
const between = (ends: ArrayLike<number>, segments: number, age: number): Strip => {
  const fine = Math.max(segments * FINE, FEWEST);
  const points = Array.from({ length: fine + 1 }, (_, i) => hermite(ends, i / fine));
  return evenly({ points, ages: points.map(() => age) }, segments);
};

/**
 * A curve through points that bends no more than they ask (centripetal Catmull–Rom, by Barry and Goldman's pyramid):
 * each stretch takes as long as the root of its length, so that none loops or turns back.
 */
const smoothed = ({ points, ages }: Strip, pieces: number): Strip => {
  const made = { points: [points[0]!], ages: [ages[0]!] };
  const beyond = (a: Triple, b: Triple): Triple => plus(a, minus(a, b));
  for (let i = 0; i + 1 < points.length; i += 1) {
    const [b, c] = [points[i]!, points[i + 1]!];
    const [a, d] = [points[i - 1] ?? beyond(b, c), points[i + 2] ?? beyond(c, b)];
    const step = (from: Triple, to: Triple): number => Math.sqrt(Math.max(length(from, to), NOTHING));
    const [t1, t2] = [step(a, b), step(a, b) + step(b, c)];
    const t3 = t2 + step(c, d);
    const mixed = (p: Triple, q: Triple, [from, to, t]: readonly [number, number, number]): Triple =>
      plus(times(p, (to - t) / (to - from)), q, (t - from) / (to - from));
    for (let k = 1; k <= pieces; k += 1) {
      const t = t1 + ((t2 - t1) * k) / pieces;
      const [ab, bc, cd] = [mixed(a, b, [0, t1, t]), mixed(b, c, [t1, t2, t]), mixed(c, d, [t2, t3, t])];
      made.points.push(mixed(mixed(ab, bc, [0, t2, t]), mixed(bc, cd, [t1, t3, t]), [t1, t2, t]));
      made.ages.push(ages[i]! * (1 - k / pieces) + ages[i + 1]! * (k / pieces));
    }
  }
  return made;
};

/** Numbers kept of each point that is left behind: where, and when it was, in seconds of its layer. */
export const TRACE = 4;

/** What a moving point has left behind: smoothed and even, or tick by tick as it was. */
const trail = ({ raw, segments }: Ribbon, traced: ArrayLike<number>, age: number): Strip => {
  const count = traced.length / TRACE;
  if (count < 2) return NO_STRIP;
  const made = {
    points: Array.from({ length: count }, (_, i) => tripleAt(traced, i * TRACE)),
    ages: Array.from({ length: count }, (_, i) => age - traced[i * TRACE + 3]!),
  };
  const pieces = Math.max(2, Math.ceil(Math.max(segments * FINE, FEWEST) / (count - 1)));
  return raw ? made : evenly(smoothed(made, pieces), segments);
};

/** What a point has left behind as it went, tick by tick; of a ribbon between two ends nothing. */
export const rawTrail = ({ to }: Ribbon, shape: ArrayLike<number>): readonly Triple[] =>
  to ? [] : Array.from({ length: shape.length / TRACE }, (_, i) => tripleAt(shape, i * TRACE));

/** The line of a ribbon at an age of its layer, in the world; nothing where its ends meet, it is broken, or nothing moved. */
export const stripOf = (ribbon: Ribbon, shape: ArrayLike<number>, age: number): Strip => {
  if (!shape.length) return NO_STRIP;
  return ribbon.to ? between(shape, ribbon.segments, age) : trail(ribbon, shape, age);
};

/** How bright a ribbon between two ends is for how far they lie apart: it dims over the last quarter of its reach. */
export const brightnessOf = ({ reach }: Ribbon, shape: ArrayLike<number>): number => {
  if (reach === undefined || shape.length < 9) return 1;
  if (!(reach > 0)) return 0;
  const gap = length(tripleAt(shape, 0), tripleAt(shape, 6));
  return Math.min(Math.max((1 - gap / reach) * 4, 0), 1);
};

/** A point every so often along a line, as the sprites on it sit; the first and the last on its ends. */
export const alongStrip = (strip: Strip, count: number): readonly Triple[] =>
  count > 1 ? evenly(strip, count - 1).points : evenly(strip, 2).points.slice(1, 2);
