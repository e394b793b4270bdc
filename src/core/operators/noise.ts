import type { Builder } from '../program/builder.ts';
import type { ProgramFunction, Value } from '../program/value.ts';
import { choice, float, int, operator, vec2, vec3, type Operator } from './declare.ts';
import {
  CELL_RESULTS,
  FRACTAL_KINDS,
  FRACTAL_OF,
  fractalFn,
  gradientNoise3Fn,
  gradientNoiseFn,
  latticeHash,
  METRICS,
  PLANE,
  simplexNoise3Fn,
  simplexNoiseFn,
  SPACE,
  valueNoise3Fn,
  valueNoiseFn,
  worleyFn,
  type Lattice,
} from './noiseFunctions.ts';

const seed = int(0, { min: 0, max: 9999, summary: 'Another seed is another picture.' });
const period = int(0, {
  min: 0,
  max: 64,
  summary: 'Cells after which it repeats, so that it tiles; 0 never repeats.',
});
const where = (on: Lattice) =>
  on.mark
    ? vec3('position', { unit: 'm', summary: 'Where to look; one cell is one metre.' })
    : vec2('uv', { summary: 'Where to look; one cell is one unit.' });
const unsigned = (b: Builder, value: Value) => b.convert('uint', value);
const place = (on: Lattice) => (on.mark ? ', in space' : '');
const HASH = 'hash: Jarzynski and Olano, JCGT 2020';

const lattice = (
  on: Lattice,
  told: Pick<Operator, 'name' | 'summary' | 'formula'> & Partial<Pick<Operator, 'source' | 'synonyms'>>,
  fn: ProgramFunction,
): Operator =>
  operator({
    ...told,
    name: told.name + on.mark,
    summary: `${told.summary.replace(/\.$/, '')}${place(on)}.`,
    family: 'noise',
    inputs: { p: where(on), seed, period },
    flow: 'p',
    example: on.mark ? `${told.name}3(position * 4.0)` : `${told.name}(uv * 6.0)`,
    lower: (b, i) => b.call(fn, i.p, unsigned(b, i.seed), i.period),
  });

const VALUE = {
  name: 'valueNoise',
  summary: 'Smooth random blotches from 0 to 1, one random number to a cell',
  formula: 'quintic interpolation of hashed lattice values',
  source: HASH,
  synonyms: ['random', 'cloud', 'blotch', 'smooth noise'],
};
const GRADIENT = {
  name: 'gradientNoise',
  summary: 'Smooth random hills and hollows from −1 to 1, 0 at every cell corner',
  formula: 'quintic interpolation of hashed lattice gradients · offset',
  source: `K. Perlin, Improving Noise, 2002; ${HASH}`,
  synonyms: ['perlin', 'cloud', 'smoke', 'hills'],
};
const SIMPLEX = {
  name: 'simplexNoise',
  summary: 'Smooth random hills and hollows from −1 to 1 on triangles, with fewer traces of a grid',
  formula: 'Σ (r² − d²)⁴·(gradient · offset) over a simplex’s corners',
  source: `S. Gustavson and I. McEwan, Tiling Simplex Noise, JCGT 2022; ${HASH}`,
  synonyms: ['perlin', 'organic', 'smoke', 'triangle noise'],
};
export const valueNoise = lattice(PLANE, VALUE, valueNoiseFn);
export const valueNoise3 = lattice(SPACE, VALUE, valueNoise3Fn);
export const gradientNoise = lattice(PLANE, GRADIENT, gradientNoiseFn);
export const gradientNoise3 = lattice(SPACE, GRADIENT, gradientNoise3Fn);
export const simplexNoise = lattice(PLANE, SIMPLEX, simplexNoiseFn);
export const simplexNoise3 = lattice(SPACE, SIMPLEX, simplexNoise3Fn);

const cellular = (on: Lattice): Operator =>
  operator({
    name: `worley${on.mark}`,
    family: 'noise',
    summary: `Points scattered one to a cell${place(on)}: how far the nearest is, 0 at the points and about 1 between them, or the second nearest, the edge between cells, or a random number for each cell.`,
    inputs: {
      p: where(on),
      seed,
      period,
      jitter: float(1, { min: 0, max: 1, summary: '0 sets the points on a grid, 1 scatters them.' }),
      result: choice(CELL_RESULTS, { summary: 'nearest, second, edge (second less nearest) or cell.' }),
      metric: choice(METRICS, {
        summary: 'Distance: straight, by blocks (|x| + |y|), or square (the larger).',
      }),
    },
    flow: 'p',
    formula: `min |p − pointᵢ| over the ${on.mark ? 27 : 9} nearest cells`,
    source: `S. Worley, A Cellular Texture Basis Function, 1996; ${HASH}`,
    synonyms: ['cellular', 'voronoi', 'cells', 'stones', 'distance', 'cracks', 'manhattan', 'chebyshev'],
    example: on.mark ? 'worley3(position * 4.0, 3)' : 'worley(uv * 7.0, 3, 7, 1.0, edge)',
    lower: (b, i, chosen) =>
      b.call(
        worleyFn(on, chosen['metric'] as 'straight', chosen['result'] as 'nearest'),
        i.p,
        unsigned(b, i.seed),
        i.period,
        i.jitter,
      ),
  });
export const worley = cellular(PLANE);
export const worley3 = cellular(SPACE);

const sum = (on: Lattice): Operator =>
  operator({
    name: `fractal${on.mark}`,
    family: 'noise',
    summary: `A sum of noises${place(on)}, each finer and fainter than the last: from −1 to 1, or from 0 to 1 where it billows or has ridges.`,
    inputs: {
      p: where(on),
      octaves: int(4, { min: 1, max: 10, hard: true, summary: 'How many noises are summed.' }),
      lacunarity: float(2, {
        min: 1,
        max: 4,
        summary: 'How much finer each is; whole numbers keep it tiling.',
      }),
      gain: float(0.5, { min: 0, max: 1, summary: 'How much fainter each is.' }),
      seed,
      period,
      of: choice(FRACTAL_OF),
      kind: choice(FRACTAL_KINDS, { summary: 'smooth, billow (|n|), or ridged (1 − |n|).' }),
    },
    flow: 'p',
    formula: 'Σ gainⁱ·noise(p·lacunarityⁱ) / Σ gainⁱ',
    source: HASH,
    synonyms: ['fbm', 'turbulence', 'octaves', 'brownian', 'ridges', 'billow', 'clouds'],
    example: on.mark ? 'fractal3(position * 3.0, 3)' : 'fractal(uv * 4.0, 4)',
    lower: (b, i, chosen) =>
      b.call(
        fractalFn(on, chosen['of'] as 'gradient', chosen['kind'] as 'smooth'),
        i.p,
        unsigned(b, i.seed),
        i.period,
        b.clamp(i.octaves, b.int(0), b.int(10)),
        i.lacunarity,
        i.gain,
      ),
  });
export const fractal = sum(PLANE);
export const fractal3 = sum(SPACE);

export const random = operator({
  name: 'random',
  family: 'noise',
  summary: 'One random number from 0 to 1 for each seed and place in its row.',
  inputs: {
    seed: int(0, { min: 0, max: 9999 }),
    index: int(0, { min: 0, max: 99, summary: 'Another number of the same seed.' }),
  },
  flow: 'seed',
  formula: 'the hash of (seed, index), 24 bits of it',
  source: HASH,
  synonyms: ['chance', 'dice', 'hash', 'seed'],
  example: 'random(7, int(uv.x * 8.0))',
  lower: (b, i) => b.swizzle(b.call(latticeHash, i.seed, i.index, b.uint(0)), 'x'),
});
