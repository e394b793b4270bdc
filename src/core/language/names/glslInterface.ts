import type { InputName } from '../../program/inputs.ts';

/** What the fragment stage is handed from the vertex stage: its declaration, and how it is written. */
export const VARYINGS: readonly (readonly [name: InputName, declaration: string, write: string])[] = [
  ['uv', 'vec2 v_uv', 'v_uv = a_uv;'],
  ['uv2', 'vec2 v_uv2', 'v_uv2 = a_uv2;'],
  ['objectPosition', 'vec3 v_objectPosition', 'v_objectPosition = a_position;'],
  ['position', 'vec3 v_position', 'v_position = placed.xyz;'],
  ['objectNormal', 'vec3 v_objectNormal', 'v_objectNormal = a_normal;'],
  ['normal', 'vec3 v_normal', 'v_normal = mat3(transpose(inverse(modelMatrix))) * a_normal;'],
  ['tangent', 'vec3 v_tangent', 'v_tangent = mat3(modelMatrix) * a_tangent.xyz;'],
  [
    'bitangent',
    'vec3 v_bitangent',
    'v_bitangent = mat3(modelMatrix) * cross(a_normal, a_tangent.xyz) * a_tangent.w;',
  ],
  ['vertexColor', 'vec4 v_color', 'v_color = a_color;'],
];

/** The mesh's attributes, each by a sign that it is used. */
export const ATTRIBUTES: readonly string[] = [
  'vec3 a_position',
  'vec3 a_normal',
  'vec2 a_uv',
  'vec2 a_uv2',
  'vec4 a_tangent',
  'vec4 a_color',
  'vec2 a_stretch',
];
