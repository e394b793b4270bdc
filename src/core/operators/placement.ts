import { any, float, operator, vec2, vec3 } from './declare.ts';

export const tile = operator({
  name: 'tile',
  family: 'uv',
  summary: 'Repeats what follows: count times across and up.',
  inputs: { p: vec2('uv'), count: vec2([2, 2], { min: 0, max: 32 }) },
  flow: 'p',
  formula: 'p · count',
  synonyms: ['scale', 'repeat', 'tiling', 'frequency'],
  lower: (b, { p, count }) => b.multiply(p, count),
});

export const scroll = operator({
  name: 'scroll',
  family: 'uv',
  summary: 'Slides what follows with time, in units a second.',
  inputs: { p: vec2('uv'), speed: vec2([0, 0.1], { min: -2, max: 2, unit: '/s' }) },
  flow: 'p',
  formula: 'p + speed · time',
  synonyms: ['pan', 'flow', 'drift', 'move'],
  lower: (b, { p, speed }) => b.add(p, b.multiply(speed, b.input('time'))),
});

export const rotate = operator({
  name: 'rotate',
  family: 'uv',
  summary: 'Turns around a centre, anticlockwise, by turns of a full circle.',
  inputs: {
    p: vec2('uv'),
    turns: float(0.125, { min: 0, max: 1, cyclic: true }),
    centre: vec2([0.5, 0.5], { min: 0, max: 1 }),
  },
  flow: 'p',
  formula: 'R(2π·turns)·(p − centre) + centre',
  synonyms: ['spin', 'turn', 'angle'],
  lower: (b, { p, turns, centre }) => {
    const angle = b.multiply(turns, 2 * Math.PI);
    const [c, s] = [b.cos(angle), b.sin(angle)];
    const d = b.subtract(p, centre);
    const [x, y] = [b.swizzle(d, 'x'), b.swizzle(d, 'y')];
    return b.add(
      b.construct(
        'vec2',
        b.subtract(b.multiply(c, x), b.multiply(s, y)),
        b.add(b.multiply(s, x), b.multiply(c, y)),
      ),
      centre,
    );
  },
});

export const sphereFalloff = operator({
  name: 'sphereFalloff',
  family: 'falloffs',
  summary: 'Fades from 1 inside a sphere to 0 at its radius.',
  inputs: {
    p: vec3('position', { unit: 'm' }),
    centre: vec3([0, 1, 0], { min: -5, max: 5, unit: 'm' }),
    radius: float(1, { min: 0, max: 10, unit: 'm' }),
    softness: float(0.25, { min: 0, max: 5, unit: 'm', summary: 'How deep the fade reaches inwards.' }),
  },
  flow: 'p',
  formula: 'sat((|p − centre| − radius) / −softness)',
  synonyms: ['ball', 'radial', 'reveal', 'distance'],
  lower: (b, { p, centre, radius, softness }) =>
    b.saturate(b.divide(b.subtract(radius, b.distance(p, centre)), b.max(softness, 1e-4))),
});

export const length = operator({
  name: 'length',
  family: 'vectors',
  summary: 'How long a vector is.',
  inputs: { x: any([0, 0]) },
  flow: 'x',
  formula: '√(x·x)',
  synonyms: ['magnitude', 'size'],
  lower: (b, { x }) => b.length(x),
});

export const distance = operator({
  name: 'distance',
  family: 'vectors',
  summary: 'How far apart two points are.',
  inputs: { x: any([0, 0]), y: any([0, 0]) },
  flow: 'x',
  formula: '|x − y|',
  synonyms: ['far', 'radius'],
  lower: (b, { x, y }) => b.distance(x, y),
});

export const normalize = operator({
  name: 'normalize',
  family: 'vectors',
  summary: 'A vector of the same direction, one long; zero stays zero.',
  inputs: { x: any([0, 1, 0]) },
  flow: 'x',
  formula: 'x / |x|',
  synonyms: ['unit', 'direction'],
  lower: (b, { x }) => b.normalize(x),
});
