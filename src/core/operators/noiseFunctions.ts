import { defineFunction, type Builder } from '../program/builder.ts';
import type { Value } from '../program/value.ts';

/*
 * Lattice noises on an integer hash, so that every device and the reference evaluator draw the same picture.
 * The hash is pcg3d from Jarzynski and Olano, "Hash Functions for GPU Rendering", JCGT 9(3), 2020.
 */

/** Three numbers in [0, 1) for a lattice point, each with 24 bits, which a float holds exactly. */
export const latticeHash = defineFunction(
  'latticeHash',
  { x: 'int', y: 'int', seed: 'uint' },
  (b, { x, y, seed }) => {
    const spread = (v: Value) => b.add(b.multiply(v, 1664525), 1013904223);
    let [u, v, w] = [spread(b.convert('uint', x)), spread(b.convert('uint', y)), spread(seed)];
    const churn = () => {
      u = b.add(u, b.multiply(v, w));
      v = b.add(v, b.multiply(w, u));
      w = b.add(w, b.multiply(u, v));
    };
    const fold = (value: Value) => b.bitXor(value, b.shiftRight(value, 16));
    churn();
    [u, v, w] = [fold(u), fold(v), fold(w)];
    churn();
    const unit = (value: Value) => b.multiply(b.convert('float', b.shiftRight(value, 8)), 2 ** -24);
    return b.construct('vec3', unit(u), unit(v), unit(w));
  },
);

/**
 * A cell's place within the period. A period of 0 does not repeat: it stands for 2²⁴ cells, as far as a float counts
 * them. Half a cell is added so that a division that is a little off cannot reach the next period.
 */
const wrapCell = defineFunction('wrapCell', { cell: 'vec2', period: 'float' }, (b, { cell, period }) =>
  b.subtract(cell, b.multiply(b.floor(b.divide(b.add(cell, 0.5), period)), period)),
);

/** The period as wrapCell takes it. */
const repeatOf = (b: Builder, period: Value): Value =>
  b.name('repeat', b.select(b.less(0, period), b.convert('float', period), b.float(2 ** 24)));

/** Perlin's quintic, 6t⁵ − 15t⁴ + 10t³: smooth in value, slope and curvature across cells. */
const ease = (b: Builder, t: Value): Value =>
  b.multiply(b.multiply(t, b.multiply(t, t)), b.add(b.multiply(t, b.subtract(b.multiply(t, 6), 15)), 10));

const hashAt = (b: Builder, cell: Value, seed: Value): Value =>
  b.call(latticeHash, b.convert('int', b.swizzle(cell, 'x')), b.convert('int', b.swizzle(cell, 'y')), seed);

/** Interpolates between a cell's corners; `corner` gives each one's value from its wrapped cell and the way to it. */
const corners = (
  b: Builder,
  p: Value,
  period: Value,
  corner: (cell: Value, offset: Value) => Value,
): Value => {
  const base = b.name('cell', b.floor(p));
  const f = b.name('f', b.subtract(p, base));
  const t = b.name('t', ease(b, f));
  const repeat = repeatOf(b, period);
  const low = b.name('low', b.call(wrapCell, base, repeat));
  const high = b.name('high', b.call(wrapCell, b.add(base, 1), repeat));
  const at = (dx: 0 | 1, dy: 0 | 1) =>
    corner(
      dx === dy
        ? dx
          ? high
          : low
        : b.construct('vec2', b.swizzle(dx ? high : low, 'x'), b.swizzle(dy ? high : low, 'y')),
      dx || dy ? b.subtract(f, b.constant('vec2', [dx, dy])) : f,
    );
  const below = b.mix(at(0, 0), at(1, 0), b.swizzle(t, 'x'));
  const above = b.mix(at(0, 1), at(1, 1), b.swizzle(t, 'x'));
  return b.mix(below, above, b.swizzle(t, 'y'));
};

const lattice = { p: 'vec2', seed: 'uint', period: 'int' } as const;

export const valueNoiseFn = defineFunction('valueNoise', lattice, (b, { p, seed, period }) =>
  corners(b, p, period, (cell) => b.swizzle(hashAt(b, cell, seed), 'x')),
);

/** Gradients are (2h − 1) for two hashed numbers, which keeps the sum within −1 and 1 without a sine. */
export const gradientNoiseFn = defineFunction('gradientNoise', lattice, (b, { p, seed, period }) =>
  corners(b, p, period, (cell, offset) =>
    b.dot(b.subtract(b.multiply(b.swizzle(hashAt(b, cell, seed), 'xy'), 2), 1), offset),
  ),
);

/** One of the nine cells around a point: the least squared distance to a scattered point so far. */
const worleyCell = defineFunction(
  'worleyCell',
  { i: 'int', nearest: 'float', f: 'vec2', base: 'vec2', seed: 'uint', repeat: 'float', jitter: 'float' },
  (b, { i, nearest, f, base, seed, repeat, jitter }) => {
    const row = b.name('row', b.quotient(i, 3));
    const column = b.name('column', b.subtract(i, b.multiply(row, 3)));
    const corner = b.name(
      'corner',
      b.subtract(b.construct('vec2', b.convert('float', column), b.convert('float', row)), 1),
    );
    const scattered = b.swizzle(hashAt(b, b.call(wrapCell, b.add(base, corner), repeat), seed), 'xy');
    const away = b.name(
      'away',
      b.subtract(b.add(b.add(corner, 0.5), b.multiply(b.subtract(scattered, 0.5), jitter)), f),
    );
    return b.min(nearest, b.dot(away, away));
  },
);

/** Distance to the nearest of points scattered one to a cell (S. Worley, "A Cellular Texture Basis Function", 1996). */
export const worleyFn = defineFunction(
  'worley',
  { ...lattice, jitter: 'float' },
  (b, { p, seed, period, jitter }) => {
    const base = b.name('cell', b.floor(p));
    const f = b.name('f', b.subtract(p, base));
    const nearest = b.name(
      'nearest',
      b.iterate(worleyCell, 9, 8, f, base, seed, repeatOf(b, period), jitter),
    );
    return b.sqrt(nearest);
  },
);

/** One octave; the state is (sum, amplitude, frequency, total amplitude). */
const fractalOctave = defineFunction(
  'fractalOctave',
  { i: 'int', state: 'vec4', p: 'vec2', seed: 'uint', period: 'int', lacunarity: 'float', gain: 'float' },
  (b, { i, state, p, seed, period, lacunarity, gain }) => {
    const amplitude = b.name('amplitude', b.swizzle(state, 'y'));
    const frequency = b.name('frequency', b.swizzle(state, 'z'));
    const repeats = b.convert('int', b.round(b.multiply(b.convert('float', period), frequency)));
    const noise = b.call(
      gradientNoiseFn,
      b.multiply(p, frequency),
      b.add(seed, b.convert('uint', i)),
      repeats,
    );
    return b.construct(
      'vec4',
      b.add(b.swizzle(state, 'x'), b.multiply(amplitude, noise)),
      b.multiply(amplitude, gain),
      b.multiply(frequency, lacunarity),
      b.add(b.swizzle(state, 'w'), amplitude),
    );
  },
);

export const fractalFn = defineFunction(
  'fractal',
  { ...lattice, octaves: 'int', lacunarity: 'float', gain: 'float' },
  (b, { p, seed, period, octaves, lacunarity, gain }) => {
    const start = b.constant('vec4', [0, 1, 1, 0]);
    const state = b.name(
      'state',
      b.iterate(fractalOctave, octaves, start, p, seed, period, lacunarity, gain),
    );
    return b.divide(b.swizzle(state, 'x'), b.max(b.swizzle(state, 'w'), 1e-4));
  },
);
