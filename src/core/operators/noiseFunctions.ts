import { defineFunction, type Builder } from '../program/builder.ts';
import type { ProgramFunction, Value } from '../program/value.ts';

/*
 * Lattice noises on an integer hash, so that every device and the reference evaluator draw the same picture.
 * The hashes are pcg3d and pcg4d from Jarzynski and Olano, "Hash Functions for GPU Rendering", JCGT 9(3), 2020.
 */

/** 24 bits of a whole number as a float in [0, 1), which holds them exactly. */
const unit = (b: Builder, value: Value) => b.multiply(b.convert('float', b.shiftRight(value, 8)), 2 ** -24);
const spread = (b: Builder, v: Value) => b.add(b.multiply(v, 1664525), 1013904223);
const fold = (b: Builder, value: Value) => b.bitXor(value, b.shiftRight(value, 16));

/** Three numbers in [0, 1) for a lattice point. */
export const latticeHash = defineFunction(
  'latticeHash',
  { x: 'int', y: 'int', seed: 'uint' },
  (b, { x, y, seed }) => {
    let [u, v, w] = [spread(b, b.convert('uint', x)), spread(b, b.convert('uint', y)), spread(b, seed)];
    const churn = () => {
      u = b.add(u, b.multiply(v, w));
      v = b.add(v, b.multiply(w, u));
      w = b.add(w, b.multiply(u, v));
    };
    churn();
    [u, v, w] = [fold(b, u), fold(b, v), fold(b, w)];
    churn();
    return b.construct('vec3', unit(b, u), unit(b, v), unit(b, w));
  },
);

/** Four numbers in [0, 1) for a point of a lattice in space. */
export const latticeHash3 = defineFunction(
  'latticeHash3',
  { x: 'int', y: 'int', z: 'int', seed: 'uint' },
  (b, { x, y, z, seed }) => {
    const start = (value: Value) => spread(b, b.convert('uint', value));
    let [u, v, w, s] = [start(x), start(y), start(z), spread(b, seed)];
    const churn = () => {
      u = b.add(u, b.multiply(v, s));
      v = b.add(v, b.multiply(w, u));
      w = b.add(w, b.multiply(u, v));
      s = b.add(s, b.multiply(v, w));
    };
    churn();
    [u, v, w, s] = [fold(b, u), fold(b, v), fold(b, w), fold(b, s)];
    churn();
    return b.construct('vec4', unit(b, u), unit(b, v), unit(b, w), unit(b, s));
  },
);

/** The two lattices differ in their points' type, their hash, and how many cells lie around a point. */
export interface Lattice {
  readonly type: 'vec2' | 'vec3';
  /** Appended to the names of functions. */
  readonly mark: '' | '3';
  readonly axes: readonly string[];
  readonly hash: ProgramFunction;
}
export const PLANE: Lattice = { type: 'vec2', mark: '', axes: ['x', 'y'], hash: latticeHash };
export const SPACE: Lattice = { type: 'vec3', mark: '3', axes: ['x', 'y', 'z'], hash: latticeHash3 };

const hashAt = (b: Builder, on: Lattice, cell: Value, seed: Value): Value =>
  b.call(on.hash, ...on.axes.map((axis) => b.convert('int', b.swizzle(cell, axis))), seed);

/**
 * A cell's place within the period. A period of 0 does not repeat: it stands for 2²⁴ cells, as far as a float counts
 * them. Half a cell is added so that a division that is a little off cannot reach the next period.
 */
const wrapCells = (on: Lattice) =>
  defineFunction(
    `wrapCell${on.mark}`,
    { cell: on.type, period: 'float' },
    (b, { cell, period }) =>
      b.subtract(cell, b.multiply(b.floor(b.divide(b.add(cell, 0.5), period)), period)),
    { withinWholes: true },
  );
const WRAP = { '': wrapCells(PLANE), 3: wrapCells(SPACE) } as const;
const wrap = (b: Builder, on: Lattice, cell: Value, repeat: Value) => b.call(WRAP[on.mark], cell, repeat);

/** The period as wrapCell takes it. */
const repeatOf = (b: Builder, period: Value): Value =>
  b.name('repeat', b.select(b.less(0, period), b.convert('float', period), b.float(2 ** 24)));

/** Perlin's quintic, 6t⁵ − 15t⁴ + 10t³: smooth in value, slope and curvature across cells. */
const ease = (b: Builder, t: Value): Value =>
  b.multiply(b.multiply(t, b.multiply(t, t)), b.add(b.multiply(t, b.subtract(b.multiply(t, 6), 15)), 10));

/** Interpolates between a cell's corners; `corner` gives each one's value from its wrapped cell and the way to it. */
const corners = (
  b: Builder,
  on: Lattice,
  p: Value,
  period: Value,
  corner: (cell: Value, offset: Value) => Value,
): Value => {
  const base = b.name('cell', b.floor(p));
  const f = b.name('f', b.subtract(p, base));
  const t = b.name('t', ease(b, f));
  const repeat = repeatOf(b, period);
  const low = b.name('low', wrap(b, on, base, repeat));
  const high = b.name('high', wrap(b, on, b.add(base, 1), repeat));
  const at = (steps: readonly number[]) => {
    const same = steps.every((each) => each === steps[0]);
    const cell = same
      ? steps[0]
        ? high
        : low
      : b.construct(on.type, ...steps.map((each, i) => b.swizzle(each ? high : low, on.axes[i]!)));
    return corner(cell, steps.some(Boolean) ? b.subtract(f, b.constant(on.type, steps)) : f);
  };
  /** Interpolates along one axis after another, the last outermost. */
  const between = (axis: number, rest: readonly number[]): Value =>
    axis < 0
      ? at(rest)
      : b.mix(between(axis - 1, [0, ...rest]), between(axis - 1, [1, ...rest]), b.swizzle(t, on.axes[axis]!));
  return between(on.axes.length - 1, []);
};

const lattice = <L extends Lattice>(on: L) => ({ p: on.type, seed: 'uint', period: 'int' }) as const;

const valueNoise = (on: Lattice) =>
  defineFunction(`valueNoise${on.mark}`, lattice(on), (b, { p, seed, period }) =>
    corners(b, on, p, period, (cell) => b.swizzle(hashAt(b, on, cell, seed), 'x')),
  );
export const valueNoiseFn = valueNoise(PLANE);
export const valueNoise3Fn = valueNoise(SPACE);

/** The gradient hashed for a cell: 2h − 1 for each axis, made one long, which needs no sine. */
const slopeAt = (b: Builder, on: Lattice, cell: Value, seed: Value): Value =>
  b.normalize(b.subtract(b.multiply(b.swizzle(hashAt(b, on, cell, seed), on.axes.join('')), 2), 1));

/**
 * In the middle of a square all four gradients may point at it: the sum is then √½. In space eight hardly ever do:
 * the same scale reaches both ends there, and what one cell in some millions has beyond is held.
 */
const GRADIENT_SCALE = Math.SQRT2;

const gradientNoise = (on: Lattice) =>
  defineFunction(`gradientNoise${on.mark}`, lattice(on), (b, { p, seed, period }) => {
    const sum = corners(b, on, p, period, (cell, offset) => b.dot(slopeAt(b, on, cell, seed), offset));
    const scaled = b.multiply(sum, GRADIENT_SCALE);
    return on.mark ? b.clamp(scaled, -1, 1) : scaled;
  });
export const gradientNoiseFn = gradientNoise(PLANE);
export const gradientNoise3Fn = gradientNoise(SPACE);

/**
 * Simplex noise on a sheared grid whose rows are half a cell apart, so that it tiles (S. Gustavson and I. McEwan,
 * "Tiling Simplex Noise and Flow Noise in Two and Three Dimensions", JCGT 11(1), 2022). Rows come in pairs: an odd
 * period has one row more, a little lower each, so that it tiles too.
 */
export const simplexNoiseFn = defineFunction(
  'simplexNoise',
  lattice(PLANE),
  (b, { p: given, seed, period }) => {
    const rows = b.name('rows', b.multiply(b.quotient(b.add(period, 1), 2), 2));
    const lower = b.divide(b.convert('float', rows), b.convert('float', b.max(period, b.int(1))));
    const p = b.name(
      'place',
      b.construct(
        'vec2',
        b.swizzle(given, 'x'),
        b.multiply(b.swizzle(given, 'y'), b.select(b.less(0, period), lower, b.float(1))),
      ),
    );
    const [x, y] = [b.swizzle(p, 'x'), b.swizzle(p, 'y')];
    const sheared = b.name('sheared', b.construct('vec2', b.add(x, b.multiply(y, 0.5)), y));
    const base = b.name('cell', b.floor(sheared));
    const f = b.name('f', b.subtract(sheared, base));
    const right = b.name('right', b.step(b.swizzle(f, 'y'), b.swizzle(f, 'x')));
    const [across, up] = [
      repeatOf(b, period),
      b.select(b.less(0, rows), b.convert('float', rows), b.float(2 ** 24)),
    ];
    const repeat = b.name('repeats', b.construct('vec2', across, up));
    const corner = (step: Value | null): Value => {
      const cell = step ? b.add(base, step) : base;
      const [i, j] = [b.swizzle(cell, 'x'), b.swizzle(cell, 'y')];
      const at = b.construct('vec2', b.subtract(i, b.multiply(j, 0.5)), j);
      const away = b.subtract(p, at);
      const w = b.max(b.subtract(0.8, b.dot(away, away)), 0);
      const w2 = b.multiply(w, w);
      // Wrapped in the plane, then sheared back to whole cells.
      const home = b.subtract(at, b.multiply(b.floor(b.divide(b.add(at, 0.25), repeat)), repeat));
      const [hx, hy] = [b.swizzle(home, 'x'), b.swizzle(home, 'y')];
      const whole = b.construct('vec2', b.floor(b.add(b.add(hx, b.multiply(hy, 0.5)), 0.25)), hy);
      return b.multiply(b.multiply(w2, w2), b.dot(slopeAt(b, PLANE, whole, seed), away));
    };
    const middle = b.construct('vec2', right, b.subtract(1, right));
    const sum = b.add(b.add(corner(null), corner(middle)), corner(b.constant('vec2', [1, 1])));
    // One over the most that Σ (0.8 − d²)⁴·d comes to, half way between two corners of a row.
    return b.multiply(sum, 10.928);
  },
);

export const simplexNoise3Fn = defineFunction('simplexNoise3', lattice(SPACE), (b, { p, seed, period }) => {
  const part = (v: Value, axis: string) => b.swizzle(v, axis);
  /** (y + z, x + z, x + y): its inverse is half the sum less the axis. */
  const shear = (v: Value) =>
    b.construct(
      'vec3',
      b.add(part(v, 'y'), part(v, 'z')),
      b.add(part(v, 'x'), part(v, 'z')),
      b.add(part(v, 'x'), part(v, 'y')),
    );
  const sheared = b.name('sheared', shear(p));
  const base = b.name('cell', b.floor(sheared));
  const f = b.name('f', b.subtract(sheared, base));
  const rising = b.step(b.swizzle(f, 'xyx'), b.swizzle(f, 'yzz'));
  const falling = b.subtract(1, rising);
  const g = b.construct('vec3', part(falling, 'z'), b.swizzle(rising, 'xy'));
  const l = b.construct('vec3', b.swizzle(falling, 'xy'), part(rising, 'z'));
  const repeat = repeatOf(b, period);
  const corner = (step: Value | null): Value => {
    const cell = step ? b.add(base, step) : base;
    const half = b.multiply(b.add(b.add(part(cell, 'x'), part(cell, 'y')), part(cell, 'z')), 0.5);
    const at = b.subtract(b.construct('vec3', half), cell);
    const away = b.subtract(p, at);
    const w = b.max(b.subtract(0.5, b.dot(away, away)), 0);
    const whole = b.floor(b.add(shear(wrap(b, SPACE, at, repeat)), 0.5));
    return b.multiply(b.multiply(w, b.multiply(w, w)), b.dot(slopeAt(b, SPACE, whole, seed), away));
  };
  const sum = b.add(
    b.add(corner(null), corner(b.name('second', b.min(g, l)))),
    b.add(corner(b.name('third', b.max(g, l))), corner(b.constant('vec3', [1, 1, 1]))),
  );
  // One over the most that Σ (0.5 − d²)³·d comes to, at (¼, ¼, ¼).
  return b.multiply(sum, 37.837);
});

export const METRICS = ['straight', 'blocks', 'square'] as const;
export const CELL_RESULTS = ['nearest', 'second', 'edge', 'cell'] as const;
type Metric = (typeof METRICS)[number];
type CellResult = (typeof CELL_RESULTS)[number];

/** How far a way is by each metric; the straight one squared, since the root can wait. */
const measure = (b: Builder, metric: Metric, on: Lattice, away: Value): Value => {
  if (metric === 'straight') return b.dot(away, away);
  const sizes = on.axes.map((axis) => b.swizzle(b.name('size', b.abs(away)), axis));
  return sizes.reduce((x, y) => (metric === 'blocks' ? b.add(x, y) : b.max(x, y)));
};

const capital = (word: string) => word[0]!.toUpperCase() + word.slice(1);

/** One of the cells around a point, taken into what was found so far: a distance, two of them, or one and a cell. */
const cellStep = (on: Lattice, metric: Metric, result: CellResult, name: string): ProgramFunction => {
  const state = result === 'nearest' ? 'float' : 'vec2';
  return defineFunction(
    `${name}Cell`,
    { i: 'int', found: state, f: on.type, base: on.type, seed: 'uint', repeat: 'float', jitter: 'float' },
    (b, { i, found, f, base, seed, repeat, jitter }) => {
      const digits: Value[] = [];
      let left = i;
      on.axes.forEach((_, axis) => {
        if (axis === on.axes.length - 1) return digits.push(left);
        // A third, for numbers below 32: whole division is slow on many devices.
        const rest = b.name(axis ? 'layer' : 'row', b.shiftRight(b.multiply(left, 11), 5));
        digits.push(b.subtract(left, b.multiply(rest, 3)));
        return (left = rest);
      });
      const corner = b.name(
        'corner',
        b.subtract(b.construct(on.type, ...digits.map((digit) => b.convert('float', digit))), 1),
      );
      const hash = hashAt(b, on, wrap(b, on, b.add(base, corner), repeat), seed);
      const scattered = b.swizzle(hash, on.axes.join(''));
      const away = b.name(
        'away',
        b.subtract(
          b.add(
            corner,
            b.mix(
              b.constant(
                on.type,
                on.axes.map(() => 0.5),
              ),
              scattered,
              jitter,
            ),
          ),
          f,
        ),
      );
      const d = b.name('d', measure(b, metric, on, away));
      if (result === 'nearest') return b.min(found, d);
      const [first, second] = [b.swizzle(found, 'x'), b.swizzle(found, 'y')];
      if (result === 'cell') {
        const id = b.swizzle(hash, on.mark ? 'w' : 'z');
        return b.select(b.less(d, first), b.construct('vec2', d, id), found);
      }
      return b.construct('vec2', b.min(first, d), b.max(first, b.min(second, d)));
    },
  );
};

const cellular = (on: Lattice, metric: Metric, result: CellResult): ProgramFunction => {
  const name = `worley${on.mark}${result === 'nearest' ? '' : capital(result)}${metric === 'straight' ? '' : capital(metric)}`;
  const step = cellStep(on, metric, result, name);
  return defineFunction(name, { ...lattice(on), jitter: 'float' }, (b, { p, seed, period, jitter }) => {
    const base = b.name('cell', b.floor(p));
    const f = b.name('f', b.subtract(p, base));
    const start = result === 'nearest' ? b.float(8) : b.constant('vec2', [8, result === 'cell' ? 0 : 8]);
    const cells = 3 ** on.axes.length;
    const found = b.name('found', b.iterate(step, cells, start, f, base, seed, repeatOf(b, period), jitter));
    const far = (value: Value) => (metric === 'straight' ? b.sqrt(value) : value);
    switch (result) {
      case 'nearest':
        return far(found);
      case 'cell':
        return b.swizzle(found, 'y');
      case 'second':
        return far(b.swizzle(found, 'y'));
      case 'edge':
        return b.subtract(far(b.swizzle(found, 'y')), far(b.swizzle(found, 'x')));
    }
  });
};

const cellulars = new Map<string, ProgramFunction>();

/**
 * Cellular noise from points scattered one to a cell (S. Worley, "A Cellular Texture Basis Function", 1996): the
 * distance to the nearest or the second nearest, what lies between the two, or a random number for the nearest's cell.
 */
export const worleyFn = (on: Lattice, metric: Metric, result: CellResult): ProgramFunction => {
  const key = on.mark + metric + result;
  let fn = cellulars.get(key);
  if (!fn) cellulars.set(key, (fn = cellular(on, metric, result)));
  return fn;
};

/** The noises a fractal sums, each from −1 to 1 but value noise, from 0 to 1. */
export const OCTAVES = {
  '': { gradient: gradientNoiseFn, value: valueNoiseFn, simplex: simplexNoiseFn },
  3: { gradient: gradientNoise3Fn, value: valueNoise3Fn, simplex: simplexNoise3Fn },
} as const;
export const FRACTAL_OF = ['gradient', 'value', 'simplex'] as const;
export const FRACTAL_KINDS = ['smooth', 'billow', 'ridged'] as const;
type FractalOf = (typeof FRACTAL_OF)[number];
type FractalKind = (typeof FRACTAL_KINDS)[number];

const fractals = new Map<string, ProgramFunction>();

/** A sum of octaves; its state is (sum, amplitude, frequency, total amplitude). */
export const fractalFn = (on: Lattice, of: FractalOf, kind: FractalKind): ProgramFunction => {
  const name = `fractal${on.mark}${of === 'gradient' ? '' : capital(of)}${kind === 'smooth' ? '' : capital(kind)}`;
  const known = fractals.get(name);
  if (known) return known;
  const noiseFn = OCTAVES[on.mark][of];
  const octave = defineFunction(
    `${name}Octave`,
    {
      ...({ i: 'int', state: 'vec4', p: on.type, seed: 'uint', period: 'int' } as const),
      ...({ lacunarity: 'float', gain: 'float' } as const),
    },
    (b, { i, state, p, seed, period, lacunarity, gain }) => {
      const amplitude = b.name('amplitude', b.swizzle(state, 'y'));
      const frequency = b.name('frequency', b.swizzle(state, 'z'));
      const scaled = b.convert('int', b.round(b.multiply(b.convert('float', period), frequency)));
      const repeats = b.select(b.less(0, period), scaled, b.int(0));
      const plain = b.call(noiseFn, b.multiply(p, frequency), b.add(seed, b.convert('uint', i)), repeats);
      const folded = () => b.abs(of === 'value' ? b.subtract(b.multiply(plain, 2), 1) : plain);
      const noise = kind === 'smooth' ? plain : kind === 'billow' ? folded() : b.subtract(1, folded());
      return b.construct(
        'vec4',
        b.add(b.swizzle(state, 'x'), b.multiply(amplitude, noise)),
        b.multiply(amplitude, gain),
        b.multiply(frequency, lacunarity),
        b.add(b.swizzle(state, 'w'), amplitude),
      );
    },
  );
  const made = defineFunction(
    name,
    { ...lattice(on), octaves: 'int', lacunarity: 'float', gain: 'float' },
    (b, { p, seed, period, octaves, lacunarity, gain }) => {
      const start = b.constant('vec4', [0, 1, 1, 0]);
      const state = b.name('state', b.iterate(octave, octaves, start, p, seed, period, lacunarity, gain));
      return b.divide(b.swizzle(state, 'x'), b.max(b.swizzle(state, 'w'), 1e-4));
    },
  );
  fractals.set(name, made);
  return made;
};
