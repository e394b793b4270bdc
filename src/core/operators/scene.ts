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
  lower: (b, i) => {
    const found = b.swizzle(b.texture(b.input('sceneDepthMap'), i.p), 'x');
    const own = b.negate(b.swizzle(b.input('viewPosition'), 'z'));
    const at = b.select(b.less(found, own), b.input('screenUv'), i.p);
    return b.swizzle(b.texture(b.input('sceneColorMap'), at), 'xyz');
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
