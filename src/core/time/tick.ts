/** Gameplay runs at a fixed pace, whatever the display does, so that a rehearsal can be repeated exactly. */
export const TICKS_PER_SECOND = 60;
export const TICK_SECONDS = 1 / TICKS_PER_SECOND;

/** Ticks run in one go after a pause; what is due beyond is let go, and time is that much slower for once. */
export const MOST_TICKS_AT_ONCE = 8;

export interface Pace {
  /** Ticks that should have been run by now. */
  readonly due: number;
  /** Milliseconds let go because too much was due. */
  readonly forgiven: number;
}

/**
 * How many ticks to run now.
 * @param elapsed milliseconds since the rehearsal began, less what was forgiven before
 * @param done ticks run so far
 */
export const ticksDue = (elapsed: number, done: number): Pace => {
  const due = Math.max(0, Math.floor((elapsed * TICKS_PER_SECOND) / 1000) - done);
  if (due <= MOST_TICKS_AT_ONCE) return { due, forgiven: 0 };
  return { due: MOST_TICKS_AT_ONCE, forgiven: ((due - MOST_TICKS_AT_ONCE) * 1000) / TICKS_PER_SECOND };
};
