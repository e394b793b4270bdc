import { defineFunction, type Builder } from '../program/builder.ts';
import type { Value } from '../program/value.ts';
import { float, operator, sampler, vec2, vec3 } from './declare.ts';
import { blur } from './images.ts';

const n = vec3('normal');
const light = vec3([0.4, 0.8, 0.45], { min: -1, max: 1, summary: 'Towards the light; any length.' });

export const lambert = operator({
  name: 'lambert',
  family: 'light',
  summary: 'How squarely a surface faces a light: 0 from the edge of shadow on.',
  inputs: { n, light },
  flow: 'n',
  formula: 'max(N·L, 0)',
  synonyms: ['diffuse', 'n dot l', 'shading', 'half lambert'],
  example: 'lambert(normal, vec3(0.4, 0.8, 0.45))',
  lower: (b, i) => b.max(b.dot(i.n, b.normalize(i.light)), 0),
});

export const wrapLight = operator({
  name: 'wrapLight',
  family: 'light',
  summary: 'Light that reaches around into the shadow, as it does in wax and skin.',
  inputs: { n, light, wrap: float(0.5, { min: 0, max: 1 }) },
  flow: 'n',
  formula: 'sat((N·L + wrap) / (1 + wrap))',
  synonyms: ['half lambert', 'subsurface', 'soft shading', 'skin'],
  example: 'wrapLight(normal, vec3(0.4, 0.8, 0.45), 0.5)',
  lower: (b, i) => {
    const facing = b.dot(i.n, b.normalize(i.light));
    return b.saturate(b.divide(b.add(facing, i.wrap), b.add(b.max(i.wrap, 0), 1)));
  },
});

/** One term of a diffusion profile: a Gaussian of the distance, normalised over the plane. */
const profileTerm = defineFunction(
  'profileTerm',
  { r: 'float', variance: 'float', color: 'vec3' },
  (b, { r, variance, color }) => {
    const v = b.name('v', b.max(b.multiply(variance, 2), 1e-4));
    const height = b.divide(b.exp(b.divide(b.negate(b.multiply(r, r)), v)), b.multiply(v, Math.PI));
    return b.multiply(color, height);
  },
);

/** Variances in mm² and colours measured for skin (E. d'Eon and D. Luebke, GPU Gems 3, chapter 14, 2007). */
const PROFILE = [
  [0.0064, [0.233, 0.455, 0.649]],
  [0.0484, [0.1, 0.336, 0.344]],
  [0.187, [0.118, 0.198, 0]],
  [0.567, [0.113, 0.007, 0.007]],
  [1.99, [0.358, 0.004, 0]],
  [7.41, [0.078, 0, 0]],
] as const;
const ORDINALS = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth'] as const;

export const diffusionProfile = operator({
  name: 'diffusionProfile',
  family: 'light',
  summary:
    'How much of each colour comes out at a distance from where light went in: a sum of six Gaussians.',
  inputs: {
    r: float(0.5, { min: 0, max: 10, unit: 'mm', summary: 'The distance from where the light went in.' }),
    ...(Object.fromEntries(
      PROFILE.flatMap(([variance, color], i) => [
        [`${ORDINALS[i]!}Variance`, float(variance, { min: 0.001, max: 10, unit: 'mm²' })],
        [`${ORDINALS[i]!}Color`, vec3(color as unknown as [number, number, number], { min: 0, max: 1 })],
      ]),
    ) as Record<string, ReturnType<typeof float>>),
  },
  flow: 'r',
  formula: 'Σ colorᵢ·e^(−r² / 2vᵢ) / 2πvᵢ',
  source:
    'E. d’Eon and D. Luebke, Advanced Techniques for Realistic Real-Time Skin Rendering, GPU Gems 3, 2007',
  synonyms: ['subsurface', 'scattering', 'skin', 'wax', 'sss'],
  example: 'diffusionProfile(length(uv - 0.5) * 4.0)',
  lower: (b, i) =>
    ORDINALS.map((name) => {
      const given = i as Readonly<Record<string, Value>>;
      return b.call(profileTerm, i.r, given[`${name}Variance`]!, given[`${name}Color`]!);
    }).reduce((sum, each) => b.add(sum, each)),
});

export const thicknessDifference = operator({
  name: 'thicknessDifference',
  family: 'light',
  summary: 'Where a thickness map is thinner than around it: there light comes through.',
  inputs: {
    thickness: sampler('texture', { summary: 'A thickness map; red is read, white is thick.' }),
    p: vec2('uv'),
    radius: vec2([0.03, 0.03], { min: 0, max: 0.2 }),
  },
  flow: 'p',
  formula: 'blurred thickness − thickness',
  synonyms: ['translucency', 'subsurface', 'thin', 'ears', 'wax'],
  example: 'thicknessDifference(picture, uv)',
  lower: (b, i) => {
    const red = (v: Value) => b.swizzle(v, 'x');
    const spread = blurred(b, i.thickness, i.p, i.radius);
    return b.subtract(red(spread), red(b.texture(i.thickness, i.p)));
  },
});

const blurred = (b: Builder, picture: Value, p: Value, radius: Value): Value =>
  blur.lower(b, { picture, p, radius, taps: b.int(5) }, { kind: 'gaussian', repeats: 'once' });
