import { hashOf } from '../../numbers/chance.ts';
import { declareStep } from '../declareStep.ts';
import { greyOf, sizeOf } from '../image.ts';

/** Chance of a cell of a grid that comes round after so many cells, from 0 to 1. */
const cell = (x: number, y: number, period: number, seed: number, which: number): number =>
  hashOf(((x % period) + period) % period, ((y % period) + period) % period, seed, which) / 2 ** 32;

const fade = (t: number): number => t * t * t * (t * (t * 6 - 15) + 10);

/** Gradient noise on a grid that comes round (K. Perlin, Improving Noise, 2002); about 0 to 1, 0.5 in the mean. */
const gradientNoise = (x: number, y: number, period: number, seed: number): number => {
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [u, v] = [x - x0, y - y0];
  const at = (i: number, k: number): number => {
    const angle = 2 * Math.PI * cell(x0 + i, y0 + k, period, seed, 0);
    return Math.cos(angle) * (u - i) + Math.sin(angle) * (v - k);
  };
  const [s, t] = [fade(u), fade(v)];
  const made = (at(0, 0) * (1 - s) + at(1, 0) * s) * (1 - t) + (at(0, 1) * (1 - s) + at(1, 1) * s) * t;
  return 0.5 + made * Math.SQRT1_2;
};

const valueNoise = (x: number, y: number, period: number, seed: number): number => {
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [s, t] = [fade(x - x0), fade(y - y0)];
  const at = (i: number, k: number): number => cell(x0 + i, y0 + k, period, seed, 0);
  return (at(0, 0) * (1 - s) + at(1, 0) * s) * (1 - t) + (at(0, 1) * (1 - s) + at(1, 1) * s) * t;
};

/** How far the nearest point is, and the next (S. Worley, 1996); a point in each cell. */
const worley = (x: number, y: number, period: number, seed: number): readonly [number, number] => {
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  let [near, next] = [Infinity, Infinity];
  for (let k = -1; k <= 1; k += 1)
    for (let i = -1; i <= 1; i += 1) {
      const dx = x0 + i + cell(x0 + i, y0 + k, period, seed, 1) - x;
      const dy = y0 + k + cell(x0 + i, y0 + k, period, seed, 2) - y;
      const away = Math.sqrt(dx * dx + dy * dy);
      if (away < near) [near, next] = [away, near];
      else if (away < next) next = away;
    }
  return [near, next];
};

export const noise = declareStep({
  name: 'noise',
  summary: 'Chance that comes round at the edges: soft, in cells, or the way to points.',
  isSource: true,
  from: 'K. Perlin 2002; S. Worley 1996',
  arguments: {
    by: {
      ...{ kind: 'choice', start: 'gradient', options: ['gradient', 'value', 'worley', 'borders', 'white'] },
      about:
        'Gradient or value noise; the way to the nearest point, or how much further the next one is; chance in each pixel.',
    },
    cells: {
      kind: 'number',
      start: 8,
      least: 1,
      most: 512,
      whole: true,
      about: 'Across; after so many it comes round.',
    },
    octaves: {
      kind: 'number',
      start: 1,
      least: 1,
      most: 10,
      whole: true,
      about: 'Finer and finer ones, each twice as fine.',
    },
    gain: { kind: 'number', start: 0.5, least: 0, most: 1, about: 'How much of the one before each has.' },
    seed: {
      kind: 'number',
      start: 1,
      least: 0,
      most: 65535,
      whole: true,
      about: 'Another is another chance.',
    },
  },
  reach: () => 0,
  make: ({ width, height: rows }, given, { size, scale, top }) => {
    const [, height] = sizeOf(size, scale);
    const by = given.word('by');
    const [cells, octaves, gain] = [given.number('cells'), given.number('octaves'), given.number('gain')];
    const seed = given.number('seed');
    const one = (x: number, y: number, period: number, turn: number): number => {
      if (by === 'value') return valueNoise(x, y, period, seed + turn);
      if (by === 'gradient') return gradientNoise(x, y, period, seed + turn);
      const [near, next] = worley(x, y, period, seed + turn);
      return by === 'borders' ? next - near : near;
    };
    /** A small texture is the mean of the whole one's pixels: so many a side of each of its own are asked for. */
    const pixels = Math.ceil(1 / scale);
    const meanOver = (
      x: number,
      y: number,
      most: number,
      valueAt: (u: number, v: number) => number,
    ): number => {
      const side = Math.min(pixels, most);
      let sum = 0;
      for (let j = 0; j < side; j += 1)
        for (let i = 0; i < side; i += 1)
          sum += valueAt((x + (i + 0.5) / side) / width, (y + (j + 0.5) / side) / height);
      return sum / side ** 2;
    };
    const white = (u: number, v: number): number =>
      hashOf(Math.floor(u * size[0]), Math.floor(v * size[1]), seed) / 2 ** 32;
    const values = new Float32Array(width * rows);
    for (let y = top; y < top + rows; y += 1)
      for (let x = 0; x < width; x += 1) {
        let [sum, weight, all, period] = [0, 1, 0, cells];
        if (by === 'white') sum = meanOver(x, y, pixels, white);
        else {
          for (let k = 0; k < octaves; k += 1) {
            // Cells of several pixels are as good as even within one.
            const most = Math.ceil((4 * period) / Math.min(width, height));
            const octave = (u: number, v: number): number => one(u * period, v * period, period, k);
            sum += meanOver(x, y, most, octave) * weight;
            all += weight;
            weight *= gain;
            period *= 2;
          }
          sum /= all;
        }
        values[(y - top) * width + x] = sum;
      }
    return greyOf(width, rows, values);
  },
});
