import type { InputName } from '../../program/inputs.ts';

/** What the fragment stage is handed from the vertex stage. */
export interface Varying {
  readonly input: InputName;
  readonly declaration: string;
  /** The vertex stage's line that writes it. */
  readonly write: string;
  /** Attributes of the mesh that the line reads. */
  readonly mesh: readonly string[];
}

const varying = (
  input: InputName,
  declaration: string,
  text: string,
  ...mesh: readonly string[]
): Varying => ({
  ...{ input, declaration, mesh },
  write: `${declaration.split(' ')[1]!} = ${text};`,
});

export const VARYINGS: readonly Varying[] = [
  varying('uv', 'vec2 v_uv', 'a_uv', 'a_uv'),
  varying('uv2', 'vec2 v_uv2', 'a_uv2', 'a_uv2'),
  varying('objectPosition', 'vec3 v_objectPosition', 'a_position', 'a_position'),
  varying('position', 'vec3 v_position', 'placed.xyz'),
  varying('objectNormal', 'vec3 v_objectNormal', 'a_normal', 'a_normal'),
  varying('normal', 'vec3 v_normal', 'mat3(transpose(inverse(modelMatrix))) * a_normal', 'a_normal'),
  varying('tangent', 'vec3 v_tangent', 'mat3(modelMatrix) * a_tangent.xyz', 'a_tangent'),
  varying(
    ...(['bitangent', 'vec3 v_bitangent'] as const),
    'mat3(modelMatrix) * cross(a_normal, a_tangent.xyz) * a_tangent.w',
    ...['a_normal', 'a_tangent'],
  ),
  varying('vertexColor', 'vec4 v_color', 'a_color', 'a_color'),
  varying('instanceAge', 'float v_instanceAge', 'a_instance.x', 'a_instance'),
  varying('instanceOrder', 'float v_instanceOrder', 'a_instance.y', 'a_instance'),
  varying('instanceSeed', 'float v_instanceSeed', 'a_instance.z', 'a_instance'),
];

/** The mesh's attributes, as they are declared; the last is each instance's age, order and seed. */
export const ATTRIBUTES: readonly string[] = [
  'vec3 a_position',
  'vec3 a_normal',
  'vec2 a_uv',
  'vec2 a_uv2',
  'vec4 a_tangent',
  'vec4 a_color',
  'vec2 a_stretch',
  'vec3 a_instance',
];
