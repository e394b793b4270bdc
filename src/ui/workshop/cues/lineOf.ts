import type { Track } from '#core/document/cues.ts';

/**
 * The line of one number of a track over its cue, as an SVG path.
 * @param samples what the track comes to at even times, from its cue's beginning to its end
 * @param c which of its numbers
 * @param x where a second lies, in pixels; `y` where a value does
 */
export const lineOf = (
  samples: readonly (readonly number[])[],
  keys: Track['keys'],
  length: number,
  c: number,
  x: (at: number) => number,
  y: (value: number) => number,
): string =>
  [
    ...samples.map((value, i) => [(length * i) / (samples.length - 1), value[c]!] as const),
    // A step is upright where it is, not between two samples.
    ...keys.flatMap((key, i) => {
      const before = keys[i - 1];
      const last = before?.go === 'held' ? [[key.at, before.value[c]!] as const] : [];
      return [...last, [key.at, key.value[c]!] as const];
    }),
  ]
    .map((point, i) => ({ point, i }))
    .sort((a, b) => a.point[0] - b.point[0] || a.i - b.i)
    .map(({ point: [at, value] }, i) => `${i ? 'L' : 'M'}${x(at).toFixed(1)} ${y(value).toFixed(1)}`)
    .join('');
