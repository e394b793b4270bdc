import { gradientAt } from '../../numbers/curve.ts';
import { hashOf } from '../../numbers/chance.ts';
import { declareStep } from '../declareStep.ts';
import { toLinear } from '../../numbers/colour.ts';
import { drawn, greyOf, mapped, sizeOf } from '../image.ts';
import { resampled } from './sizes.ts';

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
    const values = new Float32Array(width * rows);
    for (let y = top; y < top + rows; y += 1)
      for (let x = 0; x < width; x += 1) {
        let [sum, weight, all, period] = [0, 1, 0, cells];
        if (by === 'white') sum = hashOf(x, y, seed) / 2 ** 32;
        else {
          for (let k = 0; k < octaves; k += 1) {
            sum += one(((x + 0.5) / width) * period, ((y + 0.5) / height) * period, period, k) * weight;
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

export const ramp = declareStep({
  name: 'ramp',
  summary: 'A gradient across, upwards, from the middle or round it.',
  isSource: true,
  arguments: {
    along: { kind: 'choice', start: 'u', options: ['u', 'v', 'radius', 'angle'], about: 'v grows upwards.' },
    gradient: { kind: 'gradient', start: [0, 0, 0, 0, 1, 1, 1, 1], about: 'From its beginning to its end.' },
  },
  reach: () => 0,
  make: ({ width, height: rows }, given, { size, scale, top }) => {
    const [, height] = sizeOf(size, scale);
    const [along, stops] = [given.word('along'), given.numbers('gradient')];
    return drawn(width, rows, (x, y, to, at) => {
      const [u, v] = [(x + 0.5) / width, 1 - (top + y + 0.5) / height];
      const [dx, dy] = [u - 0.5, v - 0.5];
      const t =
        along === 'u'
          ? u
          : along === 'v'
            ? v
            : along === 'radius'
              ? 2 * Math.sqrt(dx * dx + dy * dy)
              : (Math.atan2(dy, dx) / (2 * Math.PI) + 1) % 1;
      const [r, g, b] = gradientAt(stops, t);
      to.set([r, g, b, 1], at);
    });
  },
});

export const fill = declareStep({
  name: 'fill',
  summary: 'The same everywhere.',
  isSource: true,
  arguments: {
    value: {
      kind: 'numbers',
      start: [0.5, 0.5, 0.5, 1],
      least: -4,
      most: 4,
      about: 'Red, green, blue and alpha.',
    },
  },
  reach: () => 0,
  make: ({ width, height }, given) => {
    const value = given.numbers('value');
    return drawn(width, height, (_x, _y, to, at) => to.set(value, at));
  },
});

export const picture = declareStep({
  name: 'picture',
  summary: 'A picture that was brought.',
  isSource: true,
  arguments: {
    picture: {
      kind: 'picture',
      about: 'PNG, JPEG or WebP; OpenEXR or Radiance, whose floats are taken as they are.',
    },
    holds: {
      ...{ kind: 'choice', start: 'color', options: ['color', 'numbers'] },
      about: 'Colour, which sRGB’s curve is taken from, or numbers as they are.',
    },
  },
  make: (_, given, { picture: bring, scale }) => {
    const sha = given.word('picture');
    if (!sha) throw new Error('No picture is chosen yet.');
    const brought = bring(sha);
    const linear =
      given.word('holds') === 'color' && !brought.isLight
        ? mapped(brought, (numbers) => {
            for (let i = 0; i < numbers.length; i += 1) numbers[i] = toLinear(numbers[i]!);
          })
        : brought;
    const size = sizeOf([brought.width, brought.height], scale);
    return scale === 1 ? linear : resampled(linear, size, [false, false]);
  },
});

export const texture = declareStep({
  name: 'texture',
  summary: 'Another texture of the project, as it is made.',
  isSource: true,
  arguments: { texture: { kind: 'texture', about: 'Which one.' } },
  make: (_, given, around) => around.texture(given.word('texture')),
});

export const shader = declareStep({
  name: 'shader',
  summary: 'What a shader, or a strand of one, is over the square of uv.',
  isSource: true,
  arguments: {
    of: {
      kind: 'surface',
      about: 'A shader as it starts or as a material has it; all it shows, or a strand.',
    },
    time: { kind: 'number', start: 0, least: 0, most: 3600, about: 'Seconds that have passed.' },
  },
  make: (_, given, { size, scale, surface }) => {
    const word = given.word('of');
    if (!word) throw new Error('No shader is chosen yet.');
    return surface(word, sizeOf(size, scale), given.number('time'));
  },
});
