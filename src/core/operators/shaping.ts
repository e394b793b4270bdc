import type { Builder, Operand } from '../program/builder.ts';
import type { Value } from '../program/value.ts';
import { any, choice, flag, float, operator, sampler } from './declare.ts';
import { curveTable } from './tables.ts';

export const step = operator({
  name: 'step',
  family: 'shaping',
  summary: '0 below the edge, 1 from the edge on.',
  inputs: { edge: any(0.5, { min: 0, max: 1 }), x: any(0) },
  flow: 'x',
  formula: 'x < edge ? 0 : 1',
  synonyms: ['threshold', 'cut', 'compare', 'binary'],
  example: 'step(0.5, uv.x)',
  lower: (b, { edge, x }) => b.step(edge, x),
});

/** True where both edges are known and GLSL's own function leaves nothing open between them. */
const isConstantRise = (low: Value, high: Value): boolean => {
  if (low.op !== 'constant' || high.op !== 'constant') return false;
  const [lows, highs] = [low.payload, high.payload] as [readonly number[], readonly number[]];
  const at = (list: readonly number[], i: number) => list[list.length === 1 ? 0 : i]!;
  const size = Math.max(lows.length, highs.length);
  return Array.from({ length: size }, (_, i) => i).every((i) => at(highs, i) - at(lows, i) >= 1e-4);
};

export const smoothstep = operator({
  name: 'smoothstep',
  family: 'shaping',
  summary: '0 below the first edge, 1 above the second, a smooth rise between.',
  inputs: { low: any(0, { min: 0, max: 1 }), high: any(1, { min: 0, max: 1 }), x: any(0) },
  flow: 'x',
  formula: 't²(3 − 2t), t = sat((x − low) / (high − low)), edges kept apart',
  synonyms: ['soft step', 'ease', 'threshold', 'feather'],
  example: 'smoothstep(0.2, 0.8, uv.x)',
  // Equal edges are open in GLSL; kept 1e-4 apart they are a hard step, whichever way they run.
  lower: (b, { low, high, x }) => {
    if (isConstantRise(low, high)) return b.smoothstep(low, high, x);
    const gap = b.subtract(high, low);
    const wide = b.add(gap, b.multiply(b.step(b.abs(gap), 1e-4), 2e-4));
    const t = b.saturate(b.divide(b.subtract(x, low), wide));
    return b.multiply(b.multiply(t, t), b.subtract(3, b.multiply(t, 2)));
  },
});

export const mix = operator({
  name: 'mix',
  family: 'shaping',
  summary: 'From x to y by amount: 0 is all x, 1 is all y.',
  inputs: { x: any(0), y: any(1), amount: any(0.5, { min: 0, max: 1 }) },
  flow: 'x',
  formula: 'x·(1 − amount) + y·amount',
  synonyms: ['lerp', 'blend', 'interpolate', 'fade', 'crossfade'],
  example: 'mix(vec3(0.1), vec3(1.0, 0.4, 0.1), uv.x)',
  lower: (b, { x, y, amount }) => b.mix(x, y, amount),
});

export const clamp = operator({
  name: 'clamp',
  family: 'shaping',
  summary: 'Holds the value between low and high.',
  inputs: { x: any(0), low: any(0), high: any(1) },
  flow: 'x',
  formula: 'min(max(x, low), high)',
  synonyms: ['limit', 'bound', 'hold'],
  example: 'clamp(uv.x * 2.0, 0.2, 0.9)',
  lower: (b, { x, low, high }) => b.clamp(x, low, high),
});

export const saturate = operator({
  name: 'saturate',
  family: 'shaping',
  summary: 'Holds the value between 0 and 1.',
  inputs: { x: any(0) },
  flow: 'x',
  formula: 'min(max(x, 0), 1)',
  synonyms: ['clamp 0 1', 'sat', 'limit'],
  example: 'saturate(uv.x * 2.0 - 0.5)',
  lower: (b, { x }) => b.saturate(x),
});

export const remap = operator({
  name: 'remap',
  family: 'shaping',
  summary:
    'Moves the range inLow–inHigh onto outLow–outHigh. A range of no width gives no number, and that is said.',
  inputs: { x: any(0), inLow: float(0), inHigh: float(1), outLow: float(0), outHigh: float(1) },
  flow: 'x',
  formula: 'outLow + (x − inLow)·(outHigh − outLow) / (inHigh − inLow)',
  synonyms: ['map', 'range', 'levels', 'fit', 'rescale'],
  example: 'remap(gradientNoise(uv * 6.0), -1.0, 1.0, 0.0, 1.0)',
  doubt: ({ inLow, inHigh }) =>
    inLow && inHigh && inLow[0] === inHigh[0]
      ? `inLow and inHigh are both ${inLow[0]}: a range of no width cannot be moved, and what comes out is not a number.`
      : null,
  lower: (b, { x, inLow, inHigh, outLow, outHigh }) =>
    b.add(
      b.multiply(b.subtract(x, inLow), b.divide(b.subtract(outHigh, outLow), b.subtract(inHigh, inLow))),
      outLow,
    ),
});

export const invert = operator({
  name: 'invert',
  family: 'shaping',
  summary: 'Swaps 0 and 1.',
  inputs: { x: any(0) },
  flow: 'x',
  formula: '1 − x',
  synonyms: ['one minus', 'flip', 'complement', 'reverse'],
  example: 'invert(uv.x)',
  lower: (b, { x }) => b.subtract(1, x),
});

export const band = operator({
  name: 'band',
  family: 'shaping',
  summary: '1 where the value lies between from and from + width, 0 outside.',
  inputs: {
    x: float(0),
    from: float(0, { min: -1, max: 1 }),
    width: float(0.1, { min: 0, max: 1 }),
    softness: float(0, { min: 0, max: 0.5, summary: 'How far each side fades, inwards.' }),
  },
  flow: 'x',
  formula: 'sat((x − from) / softness) · sat((from + width − x) / softness)',
  synonyms: ['edge', 'rim', 'outline', 'stripe', 'pulse'],
  example: 'band(uv.x, 0.4, 0.2, 0.05)',
  lower: (b, { x, from, width, softness }) => {
    const soft = b.max(softness, 1e-4);
    const rise = b.saturate(b.divide(b.subtract(x, from), soft));
    const fall = b.saturate(b.divide(b.subtract(b.add(from, width), x), soft));
    return b.multiply(rise, fall);
  },
});

export const quantise = operator({
  name: 'quantise',
  family: 'shaping',
  summary: 'Cuts 0–1 into even steps, the first at 0 and the last at 1.',
  inputs: {
    x: any(0),
    steps: float(4, { min: 2, max: 32, summary: 'How many levels there are; 2 or more.' }),
  },
  flow: 'x',
  formula: 'min(⌊x·n⌋, n − 1) / (n − 1)',
  synonyms: ['posterize', 'levels', 'steps', 'bands', 'quantize', 'toon'],
  example: 'quantise(uv.x, 5.0)',
  lower: (b, { x, steps }) => {
    const most = b.subtract(b.max(steps, 2), 1);
    return b.divide(b.min(b.floor(b.multiply(x, b.add(most, 1))), most), most);
  },
});

/** Each rises from 0 at 0 through a whole turn to 1, and runs from 0 to 1. */
const WAVES: Readonly<Record<string, (b: Builder, t: Value) => Value>> = {
  sine: (b, t) => b.add(b.multiply(b.sin(b.multiply(t, 2 * Math.PI)), 0.5), 0.5),
  triangle: (b, t) => b.subtract(1, b.abs(b.subtract(b.multiply(b.fract(b.add(t, 0.25)), 2), 1))),
  square: (b, t) => b.subtract(1, b.step(0.5, b.fract(t))),
  saw: (b, t) => b.fract(t),
};

export const wave = operator({
  name: 'wave',
  family: 'shaping',
  summary: 'A wave that repeats with every 1 of x, from 0 to 1, or from −1 to 1 where it is signed.',
  inputs: {
    x: any(0),
    phase: float(0, { min: 0, max: 1, cyclic: true }),
    shape: choice(Object.keys(WAVES)),
    signed: flag(false, { summary: 'From −1 to 1 instead of 0 to 1.' }),
  },
  flow: 'x',
  formula: 'sine: sin(2π(x + phase))·½ + ½; signed: ·2 − 1',
  synonyms: ['sine', 'pulse', 'oscillate', 'flicker', 'square wave', 'sawtooth', 'triangle'],
  example: 'wave(uv.x * 3.0, 0.0, triangle)',
  lower: (b, { x, phase, signed }, chosen) => {
    const up = WAVES[chosen['shape']!]!(b, b.add(x, phase));
    const spread = (value: Operand) => (up.type === 'float' ? value : b.construct(up.type, value));
    return b.subtract(
      b.multiply(up, b.select(signed, b.float(2), b.float(1))),
      spread(b.select(signed, b.float(1), b.float(0))),
    );
  },
});

/** Each brings 0–1 to 0–1; t is held there, n is 1 or more. */
const EASES: Readonly<Record<string, (b: Builder, t: Value, n: Value) => Value>> = {
  in: (b, t, n) => b.pow(t, n),
  out: (b, t, n) => b.subtract(1, b.pow(b.subtract(1, t), n)),
  inOut: (b, t, n) => {
    const near = b.min(t, b.subtract(1, t));
    const half = b.multiply(b.pow(b.multiply(near, 2), n), 0.5);
    return b.mix(half, b.subtract(1, half), b.step(0.5, t));
  },
  smoother: (b, t) =>
    b.multiply(b.multiply(t, b.multiply(t, t)), b.add(b.multiply(t, b.subtract(b.multiply(t, 6), 15)), 10)),
  overshoot: (b, t, n) => {
    const back = b.subtract(t, 1);
    const turn = b.add(b.multiply(b.add(n, 1), back), n);
    return b.add(1, b.multiply(b.multiply(back, back), turn));
  },
};

export const ease = operator({
  name: 'ease',
  family: 'shaping',
  summary: 'Bends a rise from 0 to 1: slow at the start, at the end, at both, or beyond the end and back.',
  inputs: {
    x: any(0),
    shape: choice(Object.keys(EASES)),
    strength: float(2, { min: 1, max: 8, summary: 'How strongly it bends; 1 is straight.' }),
  },
  flow: 'x',
  formula:
    'in: tⁿ; out: 1 − (1 − t)ⁿ; smoother: 6t⁵ − 15t⁴ + 10t³; overshoot: 1 + (n + 1)(t − 1)³ + n(t − 1)²',
  synonyms: ['easing', 'tween', 'bend', 'bias', 'gain', 'smootherstep', 'back'],
  example: 'ease(uv.x, inOut, 3.0)',
  lower: (b, { x, strength }, chosen) => {
    const t = b.saturate(x);
    const n = t.type === 'float' ? b.max(strength, 1) : b.construct(t.type, b.max(strength, 1));
    return EASES[chosen['shape']!]!(b, t, n);
  },
});

export const curve = operator({
  name: 'curve',
  family: 'shaping',
  summary: 'Reads a curve parameter at x, which is held to 0–1.',
  inputs: { x: float(0), shape: sampler('curve', { summary: 'A curve parameter.' }) },
  flow: 'x',
  formula: 'the curve at sat(x), straight between 256 samples',
  synonyms: ['lookup', 'ramp', 'profile', 'falloff curve', 'spline'],
  example: 'curve(uv.x, shape)',
  lower: (b, { x, shape }) => b.swizzle(b.call(curveTable, shape, x), 'x'),
});
