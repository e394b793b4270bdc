import { any, operator } from './declare.ts';

export const dFdx = operator({
  name: 'dFdx',
  family: 'slopes',
  summary: 'How much the value grows from one pixel to the next across the screen.',
  inputs: { x: any(0) },
  flow: 'x',
  formula: '∂x / ∂(screen x)',
  source: 'GLSL ES 3.00, section 8.9',
  synonyms: ['derivative', 'ddx', 'slope', 'gradient', 'change'],
  example: 'dFdx(uv.x) * 100.0',
  lower: (b, { x }) => b.dFdx(x),
});

export const dFdy = operator({
  name: 'dFdy',
  family: 'slopes',
  summary: 'How much the value grows from one pixel to the next up the screen.',
  inputs: { x: any(0) },
  flow: 'x',
  formula: '∂x / ∂(screen y)',
  source: 'GLSL ES 3.00, section 8.9',
  synonyms: ['derivative', 'ddy', 'slope', 'gradient', 'change'],
  example: 'dFdy(uv.y) * 100.0',
  lower: (b, { x }) => b.dFdy(x),
});

export const fwidth = operator({
  name: 'fwidth',
  family: 'slopes',
  summary: 'How much the value changes within a pixel: what an edge is softened by.',
  inputs: { x: any(0) },
  flow: 'x',
  formula: '|dFdx| + |dFdy|',
  source: 'GLSL ES 3.00, section 8.9',
  synonyms: ['derivative', 'antialias', 'edge width', 'pixel size'],
  example: 'smoothstep(0.5 - fwidth(uv.x), 0.5 + fwidth(uv.x), uv.x)',
  lower: (b, { x }) => b.fwidth(x),
});
