import { defineFunction, type Builder, type Operand } from '../program/builder.ts';
import type { Value } from '../program/value.ts';
import { any, float, operator, vec2, vec3, vec4 } from './declare.ts';

/** Widths stay above this, so that no falloff divides by zero. */
const WIDTH = 1e-4;

const softness = float(0.25, { min: 0, max: 5, unit: 'm', summary: 'How deep the fade reaches inwards.' });
const soft2 = float(0.05, { min: 0, max: 1, summary: 'How deep the fade reaches inwards.' });
const centre2 = vec2([0.5, 0.5], { min: 0, max: 1 });

/** 1 from `depth` inside on, 0 at the rim and beyond. */
const inwards = (b: Builder, inside: Operand, depth: Operand): Value =>
  b.saturate(b.divide(inside, b.max(depth, WIDTH)));

export const sphereFalloff = operator({
  name: 'sphereFalloff',
  family: 'falloffs',
  summary: 'Fades from 1 inside a sphere to 0 at its radius.',
  inputs: {
    p: vec3('position', { unit: 'm' }),
    centre: vec3([0, 1, 0], { min: -5, max: 5, unit: 'm' }),
    radius: float(1, { min: 0, max: 10, unit: 'm' }),
    softness,
  },
  flow: 'p',
  formula: 'sat((|p − centre| − radius) / −softness)',
  synonyms: ['ball', 'radial', 'reveal', 'distance', 'round'],
  example: 'sphereFalloff(position, vec3(0.0, 1.0, 0.0), 1.0, 0.25)',
  lower: (b, i) => inwards(b, b.subtract(i.radius, b.distance(i.p, i.centre)), i.softness),
});

export const boxFalloff = operator({
  name: 'boxFalloff',
  family: 'falloffs',
  summary: 'Fades from 1 inside a box to 0 at its walls.',
  inputs: {
    p: vec3('position', { unit: 'm' }),
    centre: vec3([0, 1, 0], { min: -5, max: 5, unit: 'm' }),
    size: vec3([1, 1, 1], { min: 0, max: 10, unit: 'm', summary: 'From wall to wall.' }),
    softness,
  },
  flow: 'p',
  formula: 'Π sat((sizeᵢ / 2 − |pᵢ − centreᵢ|) / softness)',
  synonyms: ['cube', 'room', 'volume', 'box mask'],
  example: 'boxFalloff(position, vec3(0.0, 1.0, 0.0), vec3(1.0), 0.2)',
  lower: (b, i) => {
    const inside = b.subtract(b.multiply(i.size, 0.5), b.abs(b.subtract(i.p, i.centre)));
    const each = b.saturate(b.divide(inside, b.construct('vec3', b.max(i.softness, WIDTH))));
    return b.multiply(b.multiply(b.swizzle(each, 'x'), b.swizzle(each, 'y')), b.swizzle(each, 'z'));
  },
});

export const ellipse = operator({
  name: 'ellipse',
  family: 'falloffs',
  summary: 'Fades from 1 in the middle of an ellipse to 0 at its rim.',
  inputs: {
    p: vec2('uv'),
    centre: centre2,
    size: vec2([0.8, 0.8], { min: 0, max: 2, summary: 'Across and up, from rim to rim.' }),
    sharpness: float(2, { min: 1, max: 32, summary: '1 fades all the way from the middle.' }),
  },
  flow: 'p',
  formula: 'sat((1 − |2(p − centre) / size|)·sharpness)',
  synonyms: ['circle', 'oval', 'disc', 'round mask', 'vignette'],
  example: 'ellipse(uv, vec2(0.5), vec2(0.8, 0.4), 3.0)',
  lower: (b, i) => {
    const d = b.divide(
      b.multiply(b.subtract(i.p, i.centre), 2),
      b.max(i.size, b.constant('vec2', [WIDTH, WIDTH])),
    );
    return b.saturate(b.multiply(b.subtract(1, b.length(d)), b.max(i.sharpness, WIDTH)));
  },
});

export const rectangle = operator({
  name: 'rectangle',
  family: 'falloffs',
  summary: 'Fades from 1 inside a turned rectangle to 0 at its sides.',
  inputs: {
    p: vec2('uv'),
    centre: centre2,
    size: vec2([0.5, 0.25], { min: 0, max: 2, summary: 'From side to side.' }),
    turns: float(0, { min: 0, max: 1, cyclic: true }),
    softness: soft2,
  },
  flow: 'p',
  formula: 'Π sat((sizeᵢ / 2 − |dᵢ|) / softness), d = R(−2π·turns)·(p − centre)',
  synonyms: ['box', 'square', 'bar', 'glint', 'strip'],
  example: 'rectangle(uv, vec2(0.5), vec2(0.1, 2.0), 0.125, 0.05)',
  lower: (b, i) => {
    const d = b.subtract(i.p, i.centre);
    const angle = b.multiply(i.turns, 2 * Math.PI);
    const [c, s] = [b.cos(angle), b.sin(angle)];
    const [x, y] = [b.swizzle(d, 'x'), b.swizzle(d, 'y')];
    const turned = b.construct(
      'vec2',
      b.add(b.multiply(c, x), b.multiply(s, y)),
      b.subtract(b.multiply(c, y), b.multiply(s, x)),
    );
    const inside = b.subtract(b.multiply(i.size, 0.5), b.abs(turned));
    const each = b.saturate(b.divide(inside, b.construct('vec2', b.max(i.softness, WIDTH))));
    return b.multiply(b.swizzle(each, 'x'), b.swizzle(each, 'y'));
  },
});

export const ring = operator({
  name: 'ring',
  family: 'falloffs',
  summary: 'Fades from 1 on a circle to 0 half a width to either side.',
  inputs: {
    p: any([0, 0], { summary: 'A point in the plane or in space.' }),
    centre: any([0.5, 0.5]),
    radius: float(0.3, { min: 0, max: 5 }),
    width: float(0.1, { min: 0, max: 1, summary: 'From outside to inside.' }),
  },
  flow: 'p',
  formula: 'sat(1 − 2·||p − centre| − radius| / width)',
  synonyms: ['circle', 'donut', 'shockwave', 'halo', 'annulus'],
  example: 'ring(uv, vec2(0.5), 0.3, 0.1)',
  lower: (b, i) => {
    const off = b.abs(b.subtract(b.length(b.subtract(i.p, i.centre)), i.radius));
    return b.saturate(b.subtract(1, b.divide(b.multiply(off, 2), b.max(i.width, WIDTH))));
  },
});

export const distanceFalloff = operator({
  name: 'distanceFalloff',
  family: 'falloffs',
  summary:
    'Grows from 0 at a point to 1 at a distance and beyond; from the camera, unless another point is given.',
  inputs: {
    p: vec3('position', { unit: 'm' }),
    from: vec3('cameraPosition', { unit: 'm' }),
    distance: float(5, { min: 0, max: 50, unit: 'm' }),
    falloff: float(1, { min: 0.1, max: 8, summary: 'Above 1 it stays low for longer.' }),
  },
  flow: 'p',
  formula: 'sat((|p − from| / distance)^falloff)',
  synonyms: ['camera distance', 'fog', 'fade', 'near far', 'far away', 'lod'],
  example: 'distanceFalloff(position, cameraPosition, 5.0, 2.0)',
  lower: (b, i) => b.saturate(b.pow(b.divide(b.distance(i.p, i.from), b.max(i.distance, WIDTH)), i.falloff)),
});

export const heightFalloff = operator({
  name: 'heightFalloff',
  family: 'falloffs',
  summary: 'Grows from 0 at a height to 1 a span above it.',
  inputs: {
    p: vec3('position', { unit: 'm' }),
    start: float(0, { min: -5, max: 5, unit: 'm' }),
    span: float(1, { min: 0, max: 5, unit: 'm' }),
  },
  flow: 'p',
  formula: 'sat((p.y − start) / span)',
  synonyms: ['altitude', 'ground fog', 'snow line', 'vertical gradient', 'level'],
  example: 'heightFalloff(position, 0.0, 2.0)',
  lower: (b, i) => inwards(b, b.subtract(b.swizzle(i.p, 'y'), i.start), i.span),
});

export const facing = operator({
  name: 'facing',
  family: 'falloffs',
  summary: '0 where the surface faces the camera, 1 at its rim.',
  inputs: {
    n: vec3('normal'),
    view: vec3('viewDirection'),
    exponent: float(3, { min: 0.2, max: 8, summary: 'Higher keeps closer to the rim.' }),
    least: float(0, { min: 0, max: 1, summary: 'What is left where it faces the camera.' }),
  },
  flow: 'n',
  formula: 'least + (1 − least)·(1 − sat(n·view))^exponent',
  source: 'C. Schlick, An Inexpensive BRDF Model, 1994',
  synonyms: ['fresnel', 'rim', 'angle', 'edge light', 'silhouette', 'glow'],
  example: 'facing(normal, viewDirection, 3.0)',
  lower: (b, i) => {
    const away = b.pow(b.subtract(1, b.saturate(b.dot(i.n, i.view))), i.exponent);
    return b.add(i.least, b.multiply(b.subtract(1, i.least), away));
  },
});

/**
 * One ring's height. A ring of age below 0 is not there; one fades as it ages, and nothing moves before its front
 * arrives.
 */
const ringHeight = defineFunction(
  'ringHeight',
  { ring: 'vec4', p: 'vec3', count: 'float', speed: 'float', life: 'float' },
  (b, { ring: point, p, count, speed, life }) => {
    const age = b.name('age', b.swizzle(point, 'w'));
    const away = b.name('away', b.distance(p, b.swizzle(point, 'xyz')));
    // cos(2π((1 − count·distance) + speed·time)), brought into 0–1
    const turns = b.add(b.subtract(1, b.multiply(count, away)), b.multiply(speed, age));
    const height = b.add(b.multiply(b.cos(b.multiply(turns, 2 * Math.PI)), 0.5), 0.5);
    const fade = b.saturate(b.subtract(1, b.divide(age, b.max(life, WIDTH))));
    const arrived = b.step(b.multiply(count, away), b.multiply(speed, age));
    return b.multiply(b.multiply(height, b.multiply(fade, arrived)), b.step(0, age));
  },
);

const NAMES = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth'] as const;
const point = vec4([0, 0, 0, -1], {
  min: -5,
  max: 5,
  summary: 'Where it began, and its age in seconds; below 0 it is not there.',
});

export const rings = operator({
  name: 'rings',
  family: 'falloffs',
  summary:
    'Rings that run outwards from up to eight points, each of its own age, and die away; nothing moves before a ring’s front arrives. Their heights are summed.',
  inputs: {
    p: vec3('position', { unit: 'm' }),
    count: float(4, { min: 0.1, max: 40, unit: '/m', summary: 'Rings to a metre.' }),
    speed: float(2, { min: 0, max: 10, unit: '/s', summary: 'Rings sent out a second.' }),
    strength: float(1, { min: 0, max: 4 }),
    life: float(1.5, { min: 0, max: 10, unit: 's', summary: 'How long each lasts.' }),
    first: point,
    second: point,
    third: point,
    fourth: point,
    fifth: point,
    sixth: point,
    seventh: point,
    eighth: point,
  },
  flow: 'p',
  formula:
    'Σ (cos(2π((1 − count·distance) + speed·age))·½ + ½)·sat(1 − age / life)·strength / count, where age ≥ 0 and count·distance ≤ speed·age',
  synonyms: ['ripple', 'shockwave', 'impact', 'water drop', 'pulse'],
  example: 'rings(position, 4.0, 2.0, 1.0, 1.5, vec4(0.0, 1.0, 0.0, 0.5))',
  lower: (b, i) => {
    const heights = NAMES.map((name) => b.call(ringHeight, i[name], i.p, i.count, i.speed, i.life));
    const sum = heights.reduce((x, y) => b.add(x, y));
    return b.divide(b.multiply(sum, i.strength), b.max(i.count, WIDTH));
  },
});
