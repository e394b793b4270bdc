import { dot, minus, plus, times, type Triple } from '../numbers/vectors.ts';

/** Somebody who walks: where the feet are, and how fast they fall, in metres a second. */
export interface Walker {
  readonly feet: Triple;
  readonly falls: number;
}

/** The nearest solid surface along a ray: how far, and its normal on the ray’s side; null where there is none. */
export type Cast = (
  from: Triple,
  way: Triple,
) => { readonly distance: number; readonly normal: Triple } | null;

/** Metres: from the middle to the sides, up to the eyes, and what is stepped up and down without a fall. */
export const WALKER = { radius: 0.25, eyes: 1.62, step: 0.42 } as const;
/** Heights at which a wall stops it: above what is stepped over. */
const HEIGHTS = [0.5, 1.05, 1.6] as const;
const GRAVITY = 9.81;
/** How fast a step is taken, in metres a second: eyes do not jump. */
const CLIMB = 3.2;
const UP: Triple = [0, 1, 0];
const DOWN: Triple = [0, -1, 0];

const length = (a: Triple): number => Math.hypot(...a);

/** How much of a way can be gone before something stands in it, and its normal along the floor. */
const freeAlong = (feet: Triple, move: Triple, cast: Cast): { share: number; normal: Triple | null } => {
  const far = length(move);
  if (far < 1e-9) return { share: 1, normal: null };
  const way = times(move, 1 / far);
  let free = far;
  let normal: Triple | null = null;
  for (const height of HEIGHTS) {
    const hit = cast(plus(feet, UP, height), way);
    // What one can stand on is walked up, not run into.
    if (!hit || hit.normal[1] > 0.7) continue;
    // Slantwise the side is there before the middle.
    const gap = hit.distance - WALKER.radius / Math.max(-dot(way, hit.normal), 0.2);
    if (gap >= free) continue;
    free = Math.max(gap, 0);
    const along = Math.hypot(hit.normal[0], hit.normal[2]);
    normal = along > 1e-6 ? [hit.normal[0] / along, 0, hit.normal[2] / along] : null;
  }
  return { share: free / far, normal };
};

/**
 * A tick of walking: as far as it is free, along what stands in the way, up and down steps, and down where there is
 * no floor. Where nothing at all is below, it is not gone: nobody falls out of the world.
 * @param wish metres a second along the floor
 */
export const walkOn = (walker: Walker, wish: Triple, seconds: number, cast: Cast): Walker => {
  let { feet } = walker;
  let move = times([wish[0], 0, wish[2]], seconds);
  for (let turn = 0; turn < 2 && length(move) > 1e-9; turn += 1) {
    const { share, normal } = freeAlong(feet, move, cast);
    feet = plus(feet, move, share);
    if (share >= 1 || !normal) break;
    const left = times(move, 1 - share);
    move = minus(left, times(normal, Math.min(dot(left, normal), 0)));
  }
  const below = (at: Triple) => cast(plus(at, UP, WALKER.step), DOWN);
  let under = below(feet);
  if (!under) {
    feet = walker.feet;
    under = below(feet);
    if (!under) return { feet, falls: 0 };
  }
  const floor = feet[1] + WALKER.step - under.distance;
  const gap = feet[1] - floor;
  const on = (y: number, falls: number): Walker => ({ feet: [feet[0], y, feet[2]], falls });
  if (gap <= 0) return on(Math.min(feet[1] + CLIMB * seconds, floor), 0);
  if (gap <= WALKER.step && walker.falls === 0) return on(Math.max(feet[1] - CLIMB * seconds, floor), 0);
  const falls = walker.falls + GRAVITY * seconds;
  const y = feet[1] - falls * seconds;
  return y <= floor ? on(floor, 0) : on(y, falls);
};
