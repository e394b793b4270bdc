import { any, float, operator } from './declare.ts';

export const step = operator({
  name: 'step',
  family: 'shaping',
  summary: '0 below the edge, 1 from the edge on.',
  inputs: { edge: any(0.5, { min: 0, max: 1 }), x: any(0) },
  flow: 'x',
  formula: 'x < edge ? 0 : 1',
  synonyms: ['threshold', 'cut', 'compare'],
  lower: (b, { edge, x }) => b.step(edge, x),
});

export const smoothstep = operator({
  name: 'smoothstep',
  family: 'shaping',
  summary: '0 below the first edge, 1 above the second, a smooth rise between.',
  inputs: { low: any(0, { min: 0, max: 1 }), high: any(1, { min: 0, max: 1 }), x: any(0) },
  flow: 'x',
  formula: 't²(3 − 2t), t = sat((x − low) / (high − low)), edges kept apart',
  synonyms: ['soft step', 'ease', 'threshold'],
  // Equal edges are open in GLSL; kept 1e-4 apart they are a hard step, whichever way they run.
  lower: (b, { low, high, x }) => {
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
  inputs: { x: any(0), y: any(1), amount: float(0.5, { min: 0, max: 1 }) },
  flow: 'x',
  formula: 'x·(1 − amount) + y·amount',
  synonyms: ['lerp', 'blend', 'interpolate', 'fade'],
  lower: (b, { x, y, amount }) => b.mix(x, y, amount),
});

export const clamp = operator({
  name: 'clamp',
  family: 'shaping',
  summary: 'Holds the value between low and high.',
  inputs: { x: any(0), low: any(0), high: any(1) },
  flow: 'x',
  formula: 'min(max(x, low), high)',
  synonyms: ['saturate', 'limit', 'bound'],
  lower: (b, { x, low, high }) => b.clamp(x, low, high),
});

export const remap = operator({
  name: 'remap',
  family: 'shaping',
  summary: 'Moves the range inLow–inHigh onto outLow–outHigh.',
  inputs: { x: any(0), inLow: float(0), inHigh: float(1), outLow: float(0), outHigh: float(1) },
  flow: 'x',
  formula: 'outLow + (x − inLow)·(outHigh − outLow) / (inHigh − inLow)',
  synonyms: ['map', 'range', 'levels', 'fit'],
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
  synonyms: ['one minus', 'flip', 'complement'],
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
  lower: (b, { x, from, width, softness }) => {
    const soft = b.max(softness, 1e-4);
    const rise = b.saturate(b.divide(b.subtract(x, from), soft));
    const fall = b.saturate(b.divide(b.subtract(b.add(from, width), x), soft));
    return b.multiply(rise, fall);
  },
});

export const wave = operator({
  name: 'wave',
  family: 'shaping',
  summary: 'A sine brought into 0–1, one rise and fall for every 1 of x.',
  inputs: { x: any(0), phase: float(0, { min: 0, max: 1 }) },
  flow: 'x',
  formula: 'sin(2π(x + phase))·½ + ½',
  synonyms: ['sine', 'pulse', 'oscillate', 'flicker'],
  lower: (b, { x, phase }) => b.add(b.multiply(b.sin(b.multiply(b.add(x, phase), 2 * Math.PI)), 0.5), 0.5),
});
