import { defineFunction, type Builder } from '../program/builder.ts';
import type { ProgramFunction, Value } from '../program/value.ts';
import { choice, float, int, operator, sampler, vec2, vec3 } from './declare.ts';

const p = vec2('uv', { summary: 'Where to look, in uv.' });
const picture = sampler('texture', { summary: 'A texture parameter.' });
const texel = vec2([1 / 512, 1 / 512], { min: 0, max: 0.05, summary: 'How far apart samples are, in uv.' });

const CHANNELS = ['mean', 'red', 'green', 'blue', 'alpha'];
/** One number of a sampled colour. */
const channel = (b: Builder, color: Value, which: string): Value => {
  const at = ['red', 'green', 'blue', 'alpha'].indexOf(which);
  if (at >= 0) return b.swizzle(color, 'xyzw'[at]!);
  return b.multiply(b.dot(b.swizzle(color, 'xyz'), b.constant('vec3', [1, 1, 1])), 1 / 3);
};

export const sample = operator({
  name: 'sample',
  family: 'images',
  summary: 'The picture’s red, green, blue and alpha at a point.',
  inputs: { picture, p },
  flow: 'p',
  formula: 'picture(p)',
  synonyms: ['texture', 'image', 'bitmap', 'map', 'read', 'lookup'],
  example: 'sample(picture, uv * 2.0)',
  lower: (b, i) => b.texture(i.picture, i.p),
});

/**
 * The weight of a tap x radii from the middle, |x| ≤ repeats. A box blurred again and again is a B-spline of one
 * degree more each time; Gaussians of variance σ² repeated n times are one of variance n·σ².
 */
const WEIGHTS: Readonly<Record<string, (b: Builder, x: Value) => Value>> = {
  box1: (b, x) => b.step(b.abs(x), 1),
  box2: (b, x) => b.max(b.subtract(1, b.multiply(b.abs(x), 0.5)), 0),
  box3: (b, x) => {
    // The quadratic B-spline on |t| ≤ 1.5, t = x / 2.
    const t = b.abs(b.multiply(x, 0.5));
    const rim = b.max(b.subtract(1.5, t), 0);
    return b.select(
      b.less(t, 0.5),
      b.subtract(0.75, b.multiply(t, t)),
      b.multiply(b.multiply(rim, rim), 0.5),
    );
  },
  // σ = radius / 2, so that two radii hold all but a trace.
  gaussian: (b, x) => b.exp(b.multiply(b.multiply(x, x), -2)),
};

const MOST_TAPS = 15;

/** Where the k-th of some taps lies, in radii: each in the middle of its share of the kernel. */
const tapPlace = (b: Builder, k: Value, taps: Value, reach: number): Value => {
  const share = b.divide(b.add(b.convert('float', k), 0.5), b.convert('float', taps));
  return b.multiply(b.subtract(b.multiply(share, 2), 1), reach);
};

const blurs = new Map<string, ProgramFunction>();

const blurFn = (kind: string, repeats: number): ProgramFunction => {
  const name = kind === 'gaussian' ? 'blurGaussian' : `blurBox${repeats > 1 ? repeats : ''}`;
  const known = blurs.get(name);
  if (known) return known;
  const weigh = kind === 'gaussian' ? WEIGHTS['gaussian']! : WEIGHTS[`box${repeats}`]!;
  // How many radii the kernel reaches.
  const reach = kind === 'gaussian' ? 1.5 : repeats;
  const tap = defineFunction(
    `${name}Tap`,
    { i: 'int', sum: 'vec4', total: 'float', picture: 'sampler2D', p: 'vec2', radius: 'vec2', taps: 'int' },
    (b, { i, sum, picture: from, p: at, radius, taps }) => {
      const row = b.quotient(i, taps);
      const column = b.subtract(i, b.multiply(row, taps));
      const place = (k: Value) => tapPlace(b, k, taps, reach);
      const [x, y] = [b.name('x', place(column)), b.name('y', place(row))];
      const weight = b.name('weight', b.multiply(weigh(b, x), weigh(b, y)));
      const color = b.texture(from, b.add(at, b.multiply(b.construct('vec2', x, y), radius)));
      return b.add(sum, b.multiply(color, weight));
    },
  );
  const weightTap = defineFunction(
    `${name}Weight`,
    { i: 'int', sum: 'float', taps: 'int' },
    (b, { i, sum, taps }) => {
      return b.add(sum, weigh(b, tapPlace(b, i, taps, reach)));
    },
  );
  const made = defineFunction(
    name,
    { picture: 'sampler2D', p: 'vec2', radius: 'vec2', taps: 'int' },
    (b, { picture: from, p: at, radius, taps }) => {
      const side = b.name('side', b.clamp(taps, b.int(2), b.int(MOST_TAPS)));
      // The kernel is a product, so its weights sum to the square of one row's.
      const row = b.name('row', b.iterate(weightTap, side, 0, side));
      const sum = b.name(
        'sum',
        b.iterate(tap, b.multiply(side, side), b.constant('vec4', [0, 0, 0, 0]), row, from, at, radius, side),
      );
      return b.divide(sum, b.max(b.multiply(row, row), 1e-4));
    },
  );
  blurs.set(name, made);
  return made;
};

export const blur = operator({
  name: 'blur',
  family: 'images',
  summary: 'The picture with its detail spread: by a box, or by the normal distribution.',
  inputs: {
    picture,
    p,
    radius: vec2([0.01, 0.01], {
      min: 0,
      max: 0.2,
      summary: 'Across and up, in uv; a Gaussian’s σ is half of it.',
    }),
    taps: int(5, {
      min: 2,
      max: MOST_TAPS,
      hard: true,
      summary: 'Samples across and up: its square is what it costs.',
    }),
    kind: choice(['gaussian', 'box']),
    repeats: choice(['once', 'twice', 'thrice'], {
      summary: 'Blurring the blurred: a box comes nearer to a Gaussian, a Gaussian widens by the root.',
    }),
  },
  flow: 'p',
  formula: 'Σ w·picture(p + offset) / Σ w; w = e^(−x² / 2σ²), σ = radius / 2',
  synonyms: ['soften', 'defocus', 'smooth', 'average', 'low pass'],
  example: 'blur(picture, uv, vec2(0.02), 5)',
  lower: (b, i, chosen) => {
    const repeats = ['once', 'twice', 'thrice'].indexOf(chosen['repeats']!) + 1;
    const wide = chosen['kind'] === 'gaussian' ? b.multiply(i.radius, Math.sqrt(repeats)) : i.radius;
    return b.call(blurFn(chosen['kind']!, repeats), i.picture, i.p, wide, i.taps);
  },
});

/** Heights to the right, left, above and below a point. */
const neighbours = (b: Builder, from: Value, at: Value, step: Value, which: string): Value[] =>
  [
    [1, 0],
    [-1, 0],
    [0, 1],
    [0, -1],
  ].map((way) => channel(b, b.texture(from, b.add(at, b.multiply(step, b.constant('vec2', way)))), which));

export const normalFromHeight = operator({
  name: 'normalFromHeight',
  family: 'images',
  summary: 'The packed tangent-space normal of a picture read as height.',
  inputs: {
    picture,
    p,
    texel,
    strength: float(1, {
      min: -8,
      max: 8,
      summary: 'Height of white over black, in widths of a texel ten wide.',
    }),
    channel: choice(CHANNELS),
  },
  flow: 'p',
  formula: 'normalize(−dh/du·s, −dh/dv·s, 1)·½ + ½, by central differences',
  synonyms: ['bump', 'height to normal', 'relief', 'emboss'],
  example: 'normalFromHeight(picture, uv)',
  lower: (b, i, chosen) => {
    const [right, left, up, down] = neighbours(b, i.picture, i.p, i.texel, chosen['channel']!) as [
      Value,
      Value,
      Value,
      Value,
    ];
    const slope = b.multiply(
      b.construct('vec2', b.subtract(left, right), b.subtract(down, up)),
      b.multiply(i.strength, 5),
    );
    return b.add(b.multiply(b.normalize(b.construct('vec3', slope, b.float(1))), 0.5), 0.5);
  },
});

export const heightThreshold = operator({
  name: 'heightThreshold',
  family: 'images',
  summary: 'How far each place lies below the mean of its four neighbours, for three sensitivities at once.',
  inputs: {
    picture,
    p,
    filterSize: vec2([0.01, 0.01], { min: 0, max: 0.1, summary: 'How far off the neighbours are, in uv.' }),
    sensitivity: vec3([0.02, 0.05, 0.1], {
      min: 0,
      max: 0.5,
      summary: 'What does not count yet, for red, green and blue.',
    }),
    intensity: float(8, { min: 0, max: 40 }),
    channel: choice(CHANNELS),
  },
  flow: 'p',
  formula: 'max(max(mean₄ − height, 0) − sensitivity, 0)·intensity',
  synonyms: ['cavity', 'seep', 'crevice', 'dirt', 'moss', 'curvature'],
  example: 'heightThreshold(picture, uv)',
  lower: (b, i, chosen) => {
    const around = neighbours(b, i.picture, i.p, i.filterSize, chosen['channel']!);
    const total = around.reduce((x, y) => b.add(x, y));
    const height = channel(b, b.texture(i.picture, i.p), chosen['channel']!);
    const below = b.max(b.subtract(b.multiply(total, 0.25), height), 0);
    const over = b.subtract(b.construct('vec3', below), i.sensitivity);
    return b.multiply(b.max(over, 0), i.intensity);
  },
});

export const slopeRelief = operator({
  name: 'slopeRelief',
  family: 'images',
  summary: 'Lights a picture from its corner by how it changes from pixel to pixel on the screen.',
  inputs: {
    color: vec3([0.5, 0.5, 0.5], { min: 0, max: 1 }),
    bump: float(4, { min: -32, max: 32 }),
    channel: choice(CHANNELS.slice(0, 4)),
    by: choice(['corner', 'width'], { summary: 'corner: dFdx − dFdy; width: |dFdx| + |dFdy|.' }),
    apply: choice(['add', 'subtract', 'multiply', 'alone']),
  },
  flow: 'color',
  formula: 'color + bump·(dFdx g − dFdy g)',
  synonyms: ['emboss', 'relief', 'fake bump', 'edge detect', 'derivative'],
  example: 'slopeRelief(vec3(valueNoise(uv * 8.0)), 4.0)',
  lower: (b, i, chosen) => {
    const g = channel(b, i.color, chosen['channel']!);
    const change = chosen['by'] === 'width' ? b.fwidth(g) : b.subtract(b.dFdx(g), b.dFdy(g));
    const relief = b.construct('vec3', b.multiply(change, i.bump));
    switch (chosen['apply']) {
      case 'subtract':
        return b.subtract(i.color, relief);
      case 'multiply':
        return b.multiply(i.color, relief);
      case 'alone':
        return relief;
      default:
        return b.add(i.color, relief);
    }
  },
});

export const shimmer = operator({
  name: 'shimmer',
  family: 'images',
  summary: 'Moves uv by two samples of one tile, each of its own size and speed: one across, the other up.',
  inputs: {
    picture,
    p,
    strength: vec2([0.05, 0.05], { min: -0.5, max: 0.5 }),
    firstCount: vec2([2, 2], { min: 0, max: 16, summary: 'Repeats of the sample that moves across.' }),
    firstSpeed: vec2([0.07, 0.03], { min: -1, max: 1, unit: '/s' }),
    secondCount: vec2([3, 3], { min: 0, max: 16, summary: 'Repeats of the sample that moves up.' }),
    secondSpeed: vec2([-0.05, 0.09], { min: -1, max: 1, unit: '/s' }),
    centred: choice(['centred', 'as sampled'], { summary: 'Centred: ½ does not move.' }),
  },
  flow: 'p',
  formula: 'p + (sample₁.r, sample₂.r)·strength; centred: − ½ each',
  synonyms: ['distortion', 'heat haze', 'refraction', 'warp', 'flow', 'two axis offset', 'displace'],
  example: 'shimmer(picture, uv)',
  lower: (b, i, chosen) => {
    const time = b.input('time');
    const moved = (count: Value, speed: Value) =>
      b.swizzle(b.texture(i.picture, b.add(b.multiply(i.p, count), b.multiply(speed, time))), 'x');
    const both = b.construct('vec2', moved(i.firstCount, i.firstSpeed), moved(i.secondCount, i.secondSpeed));
    const shift = chosen['centred'] === 'centred' ? b.subtract(both, 0.5) : both;
    return b.add(i.p, b.multiply(shift, i.strength));
  },
});
