import { defineFunction, type Builder } from '../program/builder.ts';
import type { Value } from '../program/value.ts';
import { choice, float, int, operator, sampler, vec2, vec3 } from './declare.ts';

const centre = vec2([0.5, 0.5], { min: 0, max: 1 });

export const tile = operator({
  name: 'tile',
  family: 'uv',
  summary: 'Repeats what follows: count times across and up.',
  inputs: { p: vec2('uv'), count: vec2([2, 2], { min: 0, max: 32 }) },
  flow: 'p',
  formula: 'p · count',
  synonyms: ['scale', 'repeat', 'tiling', 'frequency'],
  example: 'valueNoise(tile(uv, vec2(4.0, 8.0)))',
  lower: (b, { p, count }) => b.multiply(p, count),
});

export const offset = operator({
  name: 'offset',
  family: 'uv',
  summary: 'Moves what follows by this much.',
  inputs: { p: vec2('uv'), by: vec2([0, 0], { min: -1, max: 1 }) },
  flow: 'p',
  formula: 'p + by',
  synonyms: ['move', 'translate', 'shift', 'pan'],
  example: 'valueNoise(offset(uv, vec2(0.5, 0.0)) * 6.0)',
  lower: (b, { p, by }) => b.add(p, by),
});

export const scroll = operator({
  name: 'scroll',
  family: 'uv',
  summary: 'Slides what follows with time, in units a second.',
  inputs: { p: vec2('uv'), speed: vec2([0, 0.1], { min: -2, max: 2, unit: '/s' }) },
  flow: 'p',
  formula: 'p + speed · time',
  synonyms: ['pan', 'flow', 'drift', 'move', 'slide'],
  example: 'valueNoise(scroll(uv, vec2(0.0, 0.1)) * 6.0)',
  lower: (b, { p, speed }) => b.add(p, b.multiply(speed, b.input('time'))),
});

/** Turns a vec2 anticlockwise by an angle in radians. */
const turned = (b: Builder, d: Value, angle: Value): Value => {
  const [c, s] = [b.cos(angle), b.sin(angle)];
  const [x, y] = [b.swizzle(d, 'x'), b.swizzle(d, 'y')];
  return b.construct(
    'vec2',
    b.subtract(b.multiply(c, x), b.multiply(s, y)),
    b.add(b.multiply(s, x), b.multiply(c, y)),
  );
};

export const rotate = operator({
  name: 'rotate',
  family: 'uv',
  summary: 'Turns around a centre, anticlockwise, by turns of a full circle.',
  inputs: { p: vec2('uv'), turns: float(0.125, { min: 0, max: 1, cyclic: true }), centre },
  flow: 'p',
  formula: 'R(2π·turns)·(p − centre) + centre',
  synonyms: ['spin', 'turn', 'angle'],
  example: 'rotate(uv, 0.125)',
  lower: (b, i) => b.add(turned(b, b.subtract(i.p, i.centre), b.multiply(i.turns, 2 * Math.PI)), i.centre),
});

export const swirl = operator({
  name: 'swirl',
  family: 'uv',
  summary: 'Twists around a centre, most in the middle and not at all from the radius on.',
  inputs: {
    p: vec2('uv'),
    strength: float(0.5, { min: -4, max: 4, summary: 'Turns at the centre.' }),
    radius: float(0.5, { min: 0, max: 1 }),
    centre,
    turns: float(0, { min: 0, max: 1, cyclic: true, summary: 'Turns of the whole; time makes it spin.' }),
  },
  flow: 'p',
  formula: 'R(2π(strength·sat(1 − |d| / radius)² + turns))·d + centre, d = p − centre',
  synonyms: ['twist', 'vortex', 'whorl', 'spiral'],
  example: 'worley(swirl(uv, 1.0) * 6.0)',
  lower: (b, i) => {
    const d = b.subtract(i.p, i.centre);
    const near = b.saturate(b.subtract(1, b.divide(b.length(d), b.max(i.radius, 1e-4))));
    const all = b.add(b.multiply(i.strength, b.multiply(near, near)), i.turns);
    return b.add(turned(b, d, b.multiply(all, 2 * Math.PI)), i.centre);
  },
});

export const polar = operator({
  name: 'polar',
  family: 'uv',
  summary: 'Around and outwards: x is the angle in turns from 0 to 1, y the distance from the centre.',
  inputs: { p: vec2('uv'), centre },
  flow: 'p',
  formula: '(angle(d) / 2π mod 1, |d|), d = p − centre',
  synonyms: ['radial', 'circle', 'angle', 'fan', 'polar coordinates'],
  example: 'wave(polar(uv).x * 8.0)',
  lower: (b, i) => {
    const d = b.subtract(i.p, i.centre);
    const [x, y] = [b.swizzle(d, 'x'), b.swizzle(d, 'y')];
    // The centre has an angle too, and straight up and down keep theirs.
    const safe = b.select(b.equal(x, 0), b.float(2 ** -126), x);
    return b.construct('vec2', b.fract(b.multiply(b.atan2(y, safe), 1 / (2 * Math.PI))), b.length(d));
  },
});

export const flipbook = operator({
  name: 'flipbook',
  family: 'uv',
  summary: 'Shows one picture of a sheet after another, from the upper left, row by row.',
  inputs: {
    p: vec2('uv'),
    columns: int(4, { min: 1, max: 16 }),
    rows: int(4, { min: 1, max: 16 }),
    frame: float(0, { min: 0, max: 16, summary: 'Which picture; past the last it begins again.' }),
  },
  flow: 'p',
  formula: '(fract(p) + (column, rows − 1 − row)) / (columns, rows)',
  synonyms: ['sprite sheet', 'animation', 'atlas', 'frames'],
  example: 'flipbook(uv, 4, 4, time * 12.0)',
  lower: (b, { p, columns, rows, frame }) => {
    const across = b.convert('float', b.max(columns, b.int(1)));
    const down = b.convert('float', b.max(rows, b.int(1)));
    // A tenth of a frame's thousandth is added so that a division a little off stays in its frame.
    const at = b.add(b.mod(b.floor(frame), b.multiply(across, down)), 1e-3);
    const row = b.floor(b.divide(at, across));
    const column = b.floor(b.subtract(at, b.multiply(row, across)));
    const corner = b.construct('vec2', column, b.subtract(b.subtract(down, 1), row));
    return b.divide(b.add(b.fract(p), corner), b.construct('vec2', across, down));
  },
});

const AXES: Readonly<Record<string, string>> = { x: 'zy', y: 'xz', z: 'xy' };

export const planar = operator({
  name: 'planar',
  family: 'uv',
  summary: 'Lays a flat pattern on along an axis of space, one repeat to size metres.',
  inputs: {
    p: vec3('position', { unit: 'm' }),
    axis: choice(['z', 'x', 'y'], { summary: 'The axis it is laid on along.' }),
    size: float(1, { min: 0.05, max: 10, unit: 'm' }),
  },
  flow: 'p',
  formula: 'p.xy / size for z; p.zy for x; p.xz for y',
  synonyms: ['projection', 'world uv', 'top down', 'box mapping'],
  example: 'worley(planar(position, y, 0.5))',
  lower: (b, { p, size }, chosen) => b.divide(b.swizzle(p, AXES[chosen['axis']!]!), b.max(size, 1e-4)),
});

/** Three samples, one along each axis, weighted by how far the normal faces it. */
const triplanarFn = defineFunction(
  'triplanarSample',
  { picture: 'sampler2D', p: 'vec3', n: 'vec3', sharpness: 'float' },
  (b, { picture, p, n, sharpness }) => {
    const faced = b.pow(b.abs(n), b.construct('vec3', b.max(sharpness, 1)));
    const total = b.max(b.dot(faced, b.constant('vec3', [1, 1, 1])), 1e-4);
    const weight = b.name('weight', b.divide(faced, total));
    return ['x', 'y', 'z']
      .map((axis) => b.multiply(b.texture(picture, b.swizzle(p, AXES[axis]!)), b.swizzle(weight, axis)))
      .reduce((sum, each) => b.add(sum, each));
  },
);

export const triplanar = operator({
  name: 'triplanar',
  family: 'uv',
  summary:
    'A picture laid on along all three axes of space and blended where the surface turns: no uv needed.',
  inputs: {
    picture: sampler('texture'),
    p: vec3('position', { unit: 'm', summary: 'Divided by a size, one repeat is that long.' }),
    n: vec3('normal'),
    sharpness: float(4, { min: 1, max: 16, summary: 'How narrow the blends are.' }),
  },
  flow: 'p',
  formula: 'Σ wₐ·picture(p along a), w = |n|^sharpness / Σ',
  synonyms: ['box projection', 'world mapping', 'cubic'],
  example: 'triplanar(picture, position)',
  lower: (b, i) => b.call(triplanarFn, i.picture, i.p, i.n, i.sharpness),
});
