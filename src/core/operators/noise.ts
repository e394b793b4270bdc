import type { Builder } from '../program/builder.ts';
import type { Value } from '../program/value.ts';
import { float, int, operator, vec2 } from './declare.ts';
import { fractalFn, gradientNoiseFn, valueNoiseFn, worleyFn } from './noiseFunctions.ts';

const seed = int(0, { min: 0, max: 9999, summary: 'Another seed is another picture.' });
const period = int(0, {
  min: 0,
  max: 64,
  summary: 'Cells after which it repeats, so that it tiles; 0 never repeats.',
});
const p = vec2('uv', { summary: 'Where to look; one cell is one unit.' });
const unsigned = (b: Builder, value: Value) => b.convert('uint', value);

export const valueNoise = operator({
  name: 'valueNoise',
  family: 'noise',
  summary: 'Smooth random blotches from 0 to 1, one random number to a cell.',
  inputs: { p, seed, period },
  flow: 'p',
  formula: 'quintic interpolation of hashed lattice values',
  synonyms: ['random', 'cloud', 'blotch', 'cellnoise'],
  lower: (b, i) => b.call(valueNoiseFn, i.p, unsigned(b, i.seed), i.period),
});

export const gradientNoise = operator({
  name: 'gradientNoise',
  family: 'noise',
  summary: 'Smooth random hills and hollows from −1 to 1, 0 at every cell corner.',
  inputs: { p, seed, period },
  flow: 'p',
  formula: 'quintic interpolation of hashed lattice gradients · offset',
  source: 'K. Perlin, Improving Noise, 2002; hash: Jarzynski and Olano, JCGT 2020',
  synonyms: ['perlin', 'noise2d', 'cloud', 'smoke'],
  lower: (b, i) => b.call(gradientNoiseFn, i.p, unsigned(b, i.seed), i.period),
});

export const worley = operator({
  name: 'worley',
  family: 'noise',
  summary:
    'Distance to the nearest of points scattered one to a cell: 0 at the points, about 1 between them.',
  inputs: {
    p,
    seed,
    period,
    jitter: float(1, { min: 0, max: 1, summary: '0 sets the points on a grid, 1 scatters them.' }),
  },
  flow: 'p',
  formula: 'min |p − pointᵢ| over the nine nearest cells',
  source: 'S. Worley, A Cellular Texture Basis Function, 1996',
  synonyms: ['cellular', 'voronoi', 'cells', 'stones', 'distance'],
  lower: (b, i) => b.call(worleyFn, i.p, unsigned(b, i.seed), i.period, i.jitter),
});

export const fractal = operator({
  name: 'fractal',
  family: 'noise',
  summary: 'A sum of gradient noises, each finer and fainter than the last, from −1 to 1.',
  inputs: {
    p,
    octaves: int(4, { min: 1, max: 10, hard: true, summary: 'How many noises are summed.' }),
    lacunarity: float(2, {
      min: 1,
      max: 4,
      summary: 'How much finer each is; whole numbers keep it tiling.',
    }),
    gain: float(0.5, { min: 0, max: 1, summary: 'How much fainter each is.' }),
    seed,
    period,
  },
  flow: 'p',
  formula: 'Σ gainⁱ·noise(p·lacunarityⁱ) / Σ gainⁱ',
  synonyms: ['fbm', 'turbulence', 'octaves', 'brownian'],
  lower: (b, i) =>
    b.call(
      fractalFn,
      i.p,
      unsigned(b, i.seed),
      i.period,
      b.clamp(i.octaves, b.int(0), b.int(10)),
      i.lacunarity,
      i.gain,
    ),
});
