import { greyPng } from './greyPng.ts';

/** A number from 0 to 1 for a place of a lattice; always the same one. */
const grain = (x: number, y: number): number => {
  let h = Math.imul(x, 0x27d4eb2d) ^ Math.imul(y, 0x165667b1);
  h = Math.imul(h ^ (h >>> 15), 0x85ebca6b);
  return ((h ^ (h >>> 13)) >>> 0) / 2 ** 32;
};
const smooth = (t: number): number => t * t * t * (t * (t * 6 - 15) + 10);
const noise = (x: number, y: number): number => {
  const [i, j] = [Math.floor(x), Math.floor(y)];
  const [s, t] = [smooth(x - i), smooth(y - j)];
  const low = grain(i, j) * (1 - s) + grain(i + 1, j) * s;
  const high = grain(i, j + 1) * (1 - s) + grain(i + 1, j + 1) * s;
  return low * (1 - t) + high * t;
};

/** Heights of the playhouse's hills: ridges that rise to the sides and the back, a valley with a path up the middle. */
export const hillsPicture = (): Uint8Array =>
  greyPng(512, 16, (u, v) => {
    let [ridge, size, pace] = [0, 0.5, 5];
    for (let octave = 0; octave < 6; octave += 1) {
      ridge += size * (1 - Math.abs(2 * noise(u * pace + octave * 17, v * pace + octave * 5) - 1));
      [size, pace] = [size * 0.46, pace * 2.03];
    }
    const path = 0.5 + 0.11 * Math.sin(v * 7) + 0.04 * Math.sin(v * 17);
    const aside = Math.abs(u - path);
    const valley = smooth(Math.min(Math.max((aside - 0.035) / 0.3, 0), 1));
    const back = smooth(Math.min(Math.max((0.62 - v) / 0.5, 0), 1));
    return (0.1 + 0.9 * valley) * (0.48 + 0.52 * back) * (0.2 + 0.8 * ridge);
  });
