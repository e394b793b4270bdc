import type { Builder } from '../program/builder.ts';
import type { Value } from '../program/value.ts';
import { float, operator, vec2, vec3 } from './declare.ts';

export const cameraDistance = operator({
  name: 'cameraDistance',
  family: 'inputs',
  summary: 'How far the point is from the camera.',
  inputs: { p: vec3('position', { unit: 'm' }) },
  flow: null,
  formula: '|p − cameraPosition|',
  synonyms: ['depth', 'far', 'near', 'distance to camera', 'eye distance'],
  example: 'cameraDistance() / 10.0',
  lower: (b, i) => b.distance(i.p, b.input('cameraPosition')),
});

export const sceneDepth = operator({
  name: 'sceneDepth',
  family: 'inputs',
  summary: 'How far ahead of the camera the scene behind the surface is, in metres.',
  inputs: { p: vec2('screenUv') },
  flow: null,
  formula: 'the scene’s depth at p',
  synonyms: ['depth texture', 'z buffer', 'behind'],
  example: 'sceneDepth() / 20.0',
  lower: (b, i) => b.swizzle(b.texture(b.input('sceneDepthMap'), i.p), 'x'),
});

export const depthGap = operator({
  name: 'depthGap',
  family: 'inputs',
  summary: 'How far the scene lies behind the surface, in metres, along the camera’s view.',
  inputs: { p: vec2('screenUv') },
  flow: null,
  formula: 'sceneDepth − own depth',
  synonyms: ['soft particles', 'intersection', 'soft edge', 'foam', 'shoreline'],
  example: 'saturate(depthGap() / 0.5)',
  lower: (b, i) => {
    const behind = b.swizzle(b.texture(b.input('sceneDepthMap'), i.p), 'x');
    return b.add(behind, b.swizzle(b.input('viewPosition'), 'z'));
  },
});

/** A place of the picture, or the surface's own where what is found there is nearer than the surface. */
const notInFront = (b: Builder, p: Value): Value => {
  const found = b.swizzle(b.texture(b.input('sceneDepthMap'), p), 'x');
  const own = b.negate(b.swizzle(b.input('viewPosition'), 'z'));
  return b.select(b.less(found, own), b.input('screenUv'), p);
};

export const sceneColor = operator({
  name: 'sceneColor',
  family: 'inputs',
  summary:
    'The scene behind the surface, in linear light; moved uv bends it. Where what is found there is nearer than the surface, the straight one stands, so that nothing in front bleeds in.',
  inputs: { p: vec2('screenUv') },
  flow: null,
  formula: 'the scene at sceneDepth(p) < own depth ? screenUv : p',
  synonyms: ['grab', 'refraction', 'behind', 'background', 'heat haze', 'glass'],
  example: 'sceneColor(screenUv + 0.01)',
  lower: (b, i) => b.swizzle(b.texture(b.input('sceneColorMap'), notInFront(b, i.p)), 'xyz'),
});

export const sceneLevel = operator({
  name: 'sceneLevel',
  family: 'inputs',
  summary:
    'The scene behind the surface from one of its smaller copies, in linear light: 0 is the picture itself, each next level half as wide. What is nearer than the surface is in it too.',
  inputs: { p: vec2('screenUv', { min: 0, max: 1 }), level: float(2, { min: 0, max: 6 }) },
  flow: null,
  formula: 'the scene at p, over 2^level pixels',
  synonyms: ['mip', 'lod', 'blurred background', 'level of detail'],
  example: 'sceneLevel(screenUv, 3.0)',
  lower: (b, i) => b.swizzle(b.textureLod(b.input('sceneColorMap'), i.p, i.level), 'xyz'),
});

/** The level of a picture's copies at which rough glass is wholly rough: texels of 64 pixels. */
const ROUGHEST = 6;

export const sceneBlurred = operator({
  name: 'sceneBlurred',
  family: 'inputs',
  summary:
    'The scene behind the surface as rough glass shows it, in linear light. What is nearer than the surface is left out as by sceneColor, but for what a blur takes in from beside it.',
  inputs: { p: vec2('screenUv', { min: 0, max: 1 }), blur: float(0.5, { min: 0, max: 1 }) },
  flow: null,
  formula: 'the scene around p, over 2^(6 · blur) pixels',
  synonyms: ['frosted', 'rough glass', 'blurred background', 'depth of field', 'mip'],
  example: 'sceneBlurred(screenUv, 0.6)',
  lower: (b, i) => {
    const at = notInFront(b, i.p);
    const level = b.multiply(b.saturate(i.blur), ROUGHEST);
    // Four reads around it, for a coarse level shows its texels; about as far apart as these are wide, in a picture of
    // some 600 lines.
    const reach = b.multiply(0.5 / 600, b.exp2(level));
    const corners = (
      [
        [1, 0.4],
        [-0.4, 1],
        [-1, -0.4],
        [0.4, -1],
      ] as const
    ).map(([right, up]) => {
      const place = b.add(at, b.construct('vec2', b.multiply(reach, right), b.multiply(reach, up)));
      return b.swizzle(b.textureLod(b.input('sceneColorMap'), place, level), 'xyz');
    });
    return b.multiply(
      corners.reduce((sum, each) => b.add(sum, each)),
      0.25,
    );
  },
});

export const surfaceNearness = operator({
  name: 'surfaceNearness',
  family: 'inputs',
  summary: '1 at the surfaces of other props, 0 from a range on.',
  inputs: { range: float(0.5, { min: 0, max: 5, unit: 'm' }) },
  flow: null,
  formula: '1 − sat(surfaceDistance / range)',
  synonyms: ['proximity', 'contact', 'distance field', 'damp', 'ambient occlusion'],
  example: 'surfaceNearness(0.5)',
  lower: (b, i) => b.subtract(1, b.saturate(b.divide(b.input('surfaceDistance'), b.max(i.range, 1e-4)))),
});
