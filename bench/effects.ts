import type { ShaderDocument } from '#core/document/shader.ts';
import { sketchParameter, sketchShader } from '#core/document/sketch.ts';

/** One effect twice: as an author makes it here, and in GLSL as a person would write it for one game. */
export interface Effect {
  readonly name: string;
  readonly authored: ShaderDocument;
  /** Functions and `vec3 effect(vec2 uv, vec3 position)`; the parameters and `time` are declared before it. */
  readonly byHand: string;
}

const effect = (
  name: string,
  strands: Parameters<typeof sketchShader>[0],
  parameters: ShaderDocument['parameters'],
  byHand: string,
): Effect => {
  const sketch = sketchShader(strands, { baseColor: 'vec3(0.0)', emission: 'result' }, parameters);
  return { name, authored: { ...sketch, surface: { ...sketch.surface, lit: false } }, byHand };
};

const float = (name: string, start: number) => sketchParameter(name, 'float', [start]);

export const EFFECTS: readonly Effect[] = [
  effect(
    'a crescent that swings and thins',
    {
      around: [['polar', { p: 'uv', centre: 'vec2(0.5)' }]],
      along: [
        ['value', { x: 'around.x' }],
        ['remap', { inLow: 'tail', inHigh: 'tail + 0.5', outLow: 0, outHigh: 1 }],
        ['saturate'],
      ],
      across: [
        ['value', { x: '1.0 - abs(around.y - 0.35) / 0.2' }],
        ['saturate'],
        ['power', { y: 'sharpness' }],
      ],
      result: [['value', { x: 'heat * (along * across * (1.0 - gone))' }]],
    },
    [
      float('tail', 0.2),
      float('sharpness', 2),
      float('gone', 0.25),
      sketchParameter('heat', 'color', [1, 0.6, 0.2, 0]),
    ],
    `vec3 effect(vec2 uv, vec3 position) {
  vec2 d = uv - 0.5;
  float turn = fract(atan(d.y, d.x) / 6.2831853);
  float along = clamp((turn - tail) / 0.5, 0.0, 1.0);
  float across = pow(clamp(1.0 - abs(length(d) - 0.35) / 0.2, 0.0, 1.0), sharpness);
  return heat * (along * across * (1.0 - gone));
}`,
  ),
  effect(
    'a shimmer of two scrolling samples',
    {
      one: [['value', { x: 'texture(tile, uv * 2.0 + vec2(0.0, time * 0.13)).r' }]],
      two: [['value', { x: 'texture(tile, uv * 3.0 - vec2(time * 0.07, 0.0)).r' }]],
      moved: [['value', { x: 'uv + (vec2(one, two) - 0.5) * strength' }]],
      result: [
        ['value', { x: 'texture(picture, moved).rgb' }],
        ['multiply', { y: '0.9' }],
      ],
    },
    [
      sketchParameter('tile', 'texture', []),
      sketchParameter('picture', 'texture', []),
      float('strength', 0.2),
    ],
    `vec3 effect(vec2 uv, vec3 position) {
  float a = texture(tile, uv * 2.0 + vec2(0.0, time * 0.13)).r;
  float b = texture(tile, uv * 3.0 - vec2(time * 0.07, 0.0)).r;
  return texture(picture, uv + (vec2(a, b) - 0.5) * strength).rgb * 0.9;
}`,
  ),
  effect(
    'a distance falloff between two colours',
    {
      far: [['distanceFalloff', { p: 'position', from: 'where', distance: 'reach', falloff: 'bend' }]],
      result: [['value', { x: 'mix(warm, cold, far)' }]],
    },
    [
      sketchParameter('where', 'vec3', [0.5, 0.5, 0]),
      float('reach', 0.8),
      float('bend', 1.5),
      sketchParameter('cold', 'color', [0.1, 0.2, 0.6, 0]),
      sketchParameter('warm', 'color', [1, 0.5, 0.2, 0]),
    ],
    `vec3 effect(vec2 uv, vec3 position) {
  return mix(warm, cold, clamp(pow(length(position - where) / reach, bend), 0.0, 1.0));
}`,
  ),
  effect(
    'rings that run outwards and fade',
    {
      off: [['value', { x: 'length(uv - 0.5)' }]],
      swell: [['value', { x: 'off * count - time' }], ['wave'], ['power', { y: 3 }]],
      result: [['value', { x: 'tint * (swell * exp(-off * fade))' }]],
    },
    [float('count', 12), float('fade', 3), sketchParameter('tint', 'color', [0.3, 0.7, 1, 0])],
    `vec3 effect(vec2 uv, vec3 position) {
  float d = length(uv - 0.5);
  float wave = sin((d * count - time) * 6.2831853) * 0.5 + 0.5;
  return tint * (wave * wave * wave * exp(-d * fade));
}`,
  ),
  effect(
    'wisps of fog in four octaves',
    {
      fog: [
        [
          'value',
          {
            x: 'gradientNoise(uv * 4.0, seed, 0) + gradientNoise(uv * 8.0, seed, 0) * 0.5 + gradientNoise(uv * 16.0, seed, 0) * 0.25 + gradientNoise(uv * 32.0, seed, 0) * 0.125',
          },
        ],
      ],
      result: [
        ['smoothstep', { low: '-thickness', high: 'thickness', x: 'fog' }],
        ['multiply', { y: 'pale' }],
      ],
    },
    [
      sketchParameter('seed', 'int', [3]),
      float('thickness', 0.6),
      sketchParameter('pale', 'color', [0.7, 0.8, 0.9, 0]),
    ],
    `vec2 hash(ivec2 p, uint s) {
  uvec3 v = uvec3(uint(p.x), uint(p.y), s) * 1664525u + 1013904223u;
  v.x += v.y * v.z; v.y += v.z * v.x; v.z += v.x * v.y;
  v ^= v >> 16u;
  v.x += v.y * v.z; v.y += v.z * v.x;
  return vec2(v.xy >> 8u) * 5.9604645e-8;
}
float hills(vec2 p) {
  vec2 c = floor(p), f = p - c, t = f * f * f * (f * (f * 6.0 - 15.0) + 10.0);
  ivec2 i = ivec2(c);
  uint s = uint(seed);
  float a = dot(normalize(hash(i, s) * 2.0 - 1.0), f);
  float b = dot(normalize(hash(i + ivec2(1, 0), s) * 2.0 - 1.0), f - vec2(1.0, 0.0));
  float d = dot(normalize(hash(i + ivec2(0, 1), s) * 2.0 - 1.0), f - vec2(0.0, 1.0));
  float e = dot(normalize(hash(i + ivec2(1), s) * 2.0 - 1.0), f - 1.0);
  return mix(mix(a, b, t.x), mix(d, e, t.x), t.y) * 1.4142135;
}
vec3 effect(vec2 uv, vec3 position) {
  float fog = hills(uv * 4.0) + hills(uv * 8.0) * 0.5 + hills(uv * 16.0) * 0.25 + hills(uv * 32.0) * 0.125;
  return pale * smoothstep(-thickness, thickness, fog);
}`,
  ),
];

const TYPES: Readonly<Record<string, string>> = { color: 'vec3', texture: 'sampler2D' };

/** The whole fragment shader around an effect by hand. */
export const handSource = ({ authored, byHand }: Effect): string => `#version 300 es
precision highp float;
precision highp int;
in vec2 v_uv;
in vec3 v_position;
out vec4 fragColor;
uniform float time;
${authored.parameters.map(({ kind, name }) => `uniform ${TYPES[kind] ?? kind} ${name};`).join('\n')}
${byHand}
void main() { fragColor = vec4(effect(v_uv, v_position), 1.0); }`;
