import { LUMINANCE } from '../numbers/colour.ts';
import type { Builder } from '../program/builder.ts';
import type { Value } from '../program/value.ts';
import { choice, float, operator, sampler, vec3 } from './declare.ts';
import { curveTable } from './tables.ts';

const lightOf = (b: Builder, color: Value) => b.dot(color, b.constant('vec3', LUMINANCE));
const grey = (b: Builder, x: Value) => b.construct('vec3', x);
const color = vec3([0.5, 0.5, 0.5], { min: 0, max: 1, summary: 'Linear red, green and blue.' });

export const luminance = operator({
  name: 'luminance',
  family: 'colour',
  summary: 'How light a colour looks, as one number.',
  inputs: { color },
  flow: 'color',
  formula: '0.2126 r + 0.7152 g + 0.0722 b',
  source: 'ITU-R BT.709',
  synonyms: ['grey', 'greyscale', 'brightness', 'desaturate', 'luma'],
  example: 'luminance(vec3(uv, 0.2))',
  lower: (b, i) => lightOf(b, i.color),
});

export const mean = operator({
  name: 'mean',
  family: 'colour',
  summary: 'The plain average of red, green and blue.',
  inputs: { color },
  flow: 'color',
  formula: '(r + g + b) / 3',
  synonyms: ['average', 'grey', 'greyscale', 'intensity'],
  example: 'mean(vec3(uv, 0.2))',
  lower: (b, i) => b.multiply(b.dot(i.color, b.constant('vec3', [1, 1, 1])), 1 / 3),
});

export const contrast = operator({
  name: 'contrast',
  family: 'colour',
  summary: 'Moves a colour away from a middle, or towards it below 1.',
  inputs: {
    color,
    amount: float(1.5, { min: 0, max: 4 }),
    pivot: float(0.18, { min: 0, max: 1, summary: 'What stays; middle grey is 0.18 in linear light.' }),
  },
  flow: 'color',
  formula: '(color − pivot)·amount + pivot',
  synonyms: ['levels', 'punch', 'gain'],
  example: 'contrast(vec3(uv, 0.2), 1.5)',
  lower: (b, i) => b.add(b.multiply(b.subtract(i.color, i.pivot), i.amount), i.pivot),
});

export const saturation = operator({
  name: 'saturation',
  family: 'colour',
  summary: '0 is grey of the same luminance, 1 the colour as it is, more is stronger.',
  inputs: { color, amount: float(1, { min: 0, max: 3 }) },
  flow: 'color',
  formula: 'mix(luminance, color, amount)',
  synonyms: ['vibrance', 'desaturate', 'greyscale', 'chroma'],
  example: 'saturation(vec3(uv, 0.2), 0.3)',
  lower: (b, i) => b.mix(grey(b, lightOf(b, i.color)), i.color, i.amount),
});

export const hue = operator({
  name: 'hue',
  family: 'colour',
  summary: 'Turns a colour around the grey axis; a full turn is the colour again.',
  inputs: { color, turns: float(0, { min: 0, max: 1, cyclic: true }) },
  flow: 'color',
  formula: 'the colour turned 2π·turns about (1, 1, 1) / √3',
  synonyms: ['tint', 'shift', 'colour wheel', 'hsv'],
  example: 'hue(vec3(uv, 0.2), 0.33)',
  lower: (b, i) => {
    const angle = b.multiply(i.turns, 2 * Math.PI);
    const axis = b.constant(
      'vec3',
      [1, 1, 1].map(() => 1 / Math.sqrt(3)),
    );
    const c = b.cos(angle);
    return b.add(
      b.add(b.multiply(i.color, c), b.multiply(b.cross(axis, i.color), b.sin(angle))),
      b.multiply(axis, b.multiply(b.dot(axis, i.color), b.subtract(1, c))),
    );
  },
});

export const exposure = operator({
  name: 'exposure',
  family: 'colour',
  summary: 'Brightens by stops: each doubles the light, each below 0 halves it.',
  inputs: { color, stops: float(0, { min: -8, max: 8, unit: 'st' }) },
  flow: 'color',
  formula: 'color·2^stops',
  synonyms: ['intensity', 'brightness', 'hdr', 'gain', 'ev'],
  example: 'exposure(vec3(1.0, 0.4, 0.1), 2.0)',
  lower: (b, i) => b.multiply(i.color, b.exp2(i.stops)),
});

const perComponent = (b: Builder, x: Value, each: (c: Value) => Value) =>
  b.construct('vec3', ...['x', 'y', 'z'].map((axis) => each(b.swizzle(x, axis))));

export const srgbToLinear = operator({
  name: 'srgbToLinear',
  family: 'colour',
  summary: 'A colour as pictures store it, as linear light.',
  inputs: { color: vec3([0.5, 0.5, 0.5], { min: 0, max: 1, summary: 'sRGB red, green and blue.' }) },
  flow: 'color',
  formula: 'c ≤ 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055)^2.4',
  source: 'IEC 61966-2-1',
  synonyms: ['gamma', 'decode', 'colour space', 'degamma'],
  example: 'srgbToLinear(vec3(uv, 0.2))',
  lower: (b, i) =>
    perComponent(b, i.color, (c) =>
      b.select(
        b.lessEqual(c, 0.04045),
        b.multiply(c, 1 / 12.92),
        b.pow(b.max(b.multiply(b.add(c, 0.055), 1 / 1.055), 0), 2.4),
      ),
    ),
});

export const linearToSrgb = operator({
  name: 'linearToSrgb',
  family: 'colour',
  summary: 'Linear light as pictures store it.',
  inputs: { color },
  flow: 'color',
  formula: 'c ≤ 0.0031308 ? 12.92 c : 1.055 c^(1/2.4) − 0.055',
  source: 'IEC 61966-2-1',
  synonyms: ['gamma', 'encode', 'colour space'],
  example: 'linearToSrgb(vec3(uv, 0.2))',
  lower: (b, i) =>
    perComponent(b, i.color, (c) =>
      b.select(
        b.lessEqual(c, 0.0031308),
        b.multiply(c, 12.92),
        b.subtract(b.multiply(b.pow(b.max(c, 0), 1 / 2.4), 1.055), 0.055),
      ),
    ),
});

export const gradientMap = operator({
  name: 'gradientMap',
  family: 'colour',
  summary: 'Colours a number by a gradient parameter; x is held to 0–1.',
  inputs: { x: float(0), gradient: sampler('gradient', { summary: 'A gradient parameter.' }) },
  flow: 'x',
  formula: 'the gradient at sat(x), straight between 256 samples',
  synonyms: ['color ramp', 'ramp', 'palette', 'lookup', 'heat', 'false colour'],
  example: 'gradientMap(uv.x, glow)',
  lower: (b, i) => b.swizzle(b.call(curveTable, i.gradient, i.x), 'xyz'),
});

/** How one colour lies on another, per component: `x` below, `y` above (W3C, Compositing and Blending Level 1). */
const BLENDS: Readonly<Record<string, (b: Builder, x: Value, y: Value) => Value>> = {
  normal: (_, __, y) => y,
  add: (b, x, y) => b.add(x, y),
  subtract: (b, x, y) => b.subtract(x, y),
  multiply: (b, x, y) => b.multiply(x, y),
  screen: (b, x, y) => screen(b, x, y),
  overlay: (b, x, y) => hardLight(b, y, x),
  hardLight: (b, x, y) => hardLight(b, x, y),
  softLight: (b, x, y) => {
    const quarter = b.multiply(b.add(b.multiply(b.subtract(b.multiply(x, 16), 12), x), 4), x);
    const root = b.mix(b.sqrt(b.max(x, 0)), quarter, b.step(x, 0.25));
    const low = b.subtract(x, b.multiply(b.multiply(b.subtract(1, b.multiply(y, 2)), x), b.subtract(1, x)));
    const high = b.add(x, b.multiply(b.subtract(b.multiply(y, 2), 1), b.subtract(root, x)));
    return b.mix(low, high, b.step(0.5, y));
  },
  darken: (b, x, y) => b.min(x, y),
  lighten: (b, x, y) => b.max(x, y),
  difference: (b, x, y) => b.abs(b.subtract(x, y)),
  // Black stays black and white is reached at the latest where what is laid over is white, and the other way round.
  dodge: (b, x, y) => b.saturate(b.divide(x, b.max(b.subtract(1, y), LEAST))),
  burn: (b, x, y) => b.subtract(1, b.saturate(b.divide(b.subtract(1, x), b.max(y, LEAST)))),
};
/** Below the least step of a float near 1. */
const LEAST = 1e-8;
const screen = (b: Builder, x: Value, y: Value) =>
  b.subtract(1, b.multiply(b.subtract(1, x), b.subtract(1, y)));
const hardLight = (b: Builder, x: Value, y: Value) =>
  b.mix(b.multiply(b.multiply(x, y), 2), screen(b, x, b.subtract(b.multiply(y, 2), 1)), b.step(0.5, y));

export const blend = operator({
  name: 'blend',
  family: 'colour',
  summary: 'Lays one colour over another in one of the usual ways.',
  inputs: {
    color,
    over: vec3([1, 1, 1], { min: 0, max: 1, summary: 'The colour laid over.' }),
    amount: float(1, { min: 0, max: 1 }),
    way: choice(Object.keys(BLENDS)),
  },
  flow: 'color',
  formula: 'mix(color, way(color, over), amount)',
  source: 'W3C, Compositing and Blending Level 1',
  synonyms: ['layer', 'overlay', 'screen', 'multiply', 'mode', 'composite', 'soft light'],
  example: 'blend(vec3(uv, 0.2), vec3(1.0, 0.4, 0.1), 0.5, screen)',
  lower: (b, i, chosen) => b.mix(i.color, BLENDS[chosen['way']!]!(b, i.color, i.over), i.amount),
});
