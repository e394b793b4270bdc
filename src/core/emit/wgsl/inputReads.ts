import type { InputName } from '../../program/inputs.ts';

/** How one input is read in a stage: its expression, what that needs, and which fields of `given` it reads. */
export interface WgslRead {
  readonly text: string;
  readonly needs?: readonly InputName[];
  readonly given?: readonly GivenField[];
}

/** What whoever draws hands over in one uniform block. */
export const GIVEN_FIELDS = {
  modelMatrix: 'mat4x4f',
  viewMatrix: 'mat4x4f',
  projectionMatrix: 'mat4x4f',
  normalMatrix: 'mat3x3f',
  cameraPosition: 'vec3f',
  time: 'f32',
  boundsLow: 'vec3f',
  timeStep: 'f32',
  boundsHigh: 'vec3f',
  instanceAge: 'f32',
  instanceOrder: 'f32',
  instanceSeed: 'i32',
  resolution: 'vec2f',
  surfaceDistanceFrame: 'mat4x4f',
} as const;
export type GivenField = keyof typeof GIVEN_FIELDS;

const field = (name: GivenField): WgslRead => ({ text: `given.${name}`, given: [name] });
const column = (i: number): WgslRead => ({ text: `given.modelMatrix[${i}].xyz`, given: ['modelMatrix'] });
const row = (axis: string): WgslRead => ({
  text: `vec3f(given.viewMatrix[0].${axis}, given.viewMatrix[1].${axis}, given.viewMatrix[2].${axis})`,
  given: ['viewMatrix'],
});

const BOTH: Partial<Record<InputName, WgslRead>> = {
  viewPosition: {
    text: '(given.viewMatrix * vec4f(position, 1.0)).xyz',
    needs: ['position'],
    given: ['viewMatrix'],
  },
  viewNormal: {
    text: '(given.viewMatrix * vec4f(normal, 0.0)).xyz',
    needs: ['normal'],
    given: ['viewMatrix'],
  },
  viewDirection: {
    text: 'normalize(given.cameraPosition - position)',
    needs: ['position'],
    given: ['cameraPosition'],
  },
  objectRight: column(0),
  objectUp: column(1),
  objectForward: column(2),
  objectOrigin: column(3),
  boundsLow: field('boundsLow'),
  boundsHigh: field('boundsHigh'),
  cameraPosition: field('cameraPosition'),
  cameraRight: row('x'),
  cameraUp: row('y'),
  cameraBack: row('z'),
  time: field('time'),
  timeStep: field('timeStep'),
  instanceAge: field('instanceAge'),
  instanceOrder: field('instanceOrder'),
  instanceSeed: field('instanceSeed'),
  surfaceDistance: {
    text: 'textureSampleLevel(surfaceDistanceMap, surfaceDistanceMap_sampler, (given.surfaceDistanceFrame * vec4f(position, 1.0)).xyz, 0.0).r',
    needs: ['position'],
    given: ['surfaceDistanceFrame'],
  },
};

export const FRAGMENT_READS: Readonly<Partial<Record<InputName, WgslRead>>> = {
  ...BOTH,
  uv: { text: 'carried.uv' },
  uv2: { text: 'carried.uv2' },
  objectPosition: { text: 'carried.objectPosition' },
  position: { text: 'carried.position' },
  objectNormal: { text: 'normalize(carried.objectNormal)' },
  normal: { text: 'normalize(select(-carried.normal, carried.normal, frontFacing))' },
  tangent: { text: 'normalize(select(-carried.tangent, carried.tangent, frontFacing))' },
  bitangent: { text: 'normalize(select(-carried.bitangent, carried.bitangent, frontFacing))' },
  vertexColor: { text: 'carried.vertexColor' },
  screenUv: {
    text: 'vec2f(carried.clip.x, given.resolution.y - carried.clip.y) / given.resolution',
    given: ['resolution'],
  },
};

export const VERTEX_READS: Readonly<Partial<Record<InputName, WgslRead>>> = {
  ...BOTH,
  uv2: { text: 'mesh.uv2' },
  objectPosition: { text: 'at' },
  position: { text: '(given.modelMatrix * vec4f(at, 1.0)).xyz', given: ['modelMatrix'] },
  objectNormal: { text: 'mesh.normal' },
  normal: { text: 'normalize(given.normalMatrix * mesh.normal)', given: ['normalMatrix'] },
  tangent: {
    text: 'normalize((given.modelMatrix * vec4f(mesh.tangent.xyz, 0.0)).xyz)',
    given: ['modelMatrix'],
  },
  bitangent: {
    text: 'normalize((given.modelMatrix * vec4f(cross(mesh.normal, mesh.tangent.xyz) * mesh.tangent.w, 0.0)).xyz)',
    given: ['modelMatrix'],
  },
  vertexColor: { text: 'mesh.color' },
  screenUv: {
    text: 'screenOf(given.projectionMatrix * given.viewMatrix * vec4f(position, 1.0))',
    needs: ['position'],
    given: ['projectionMatrix', 'viewMatrix'],
  },
};

/** What the fragment stage is handed, its type, and how the vertex stage writes it. */
export const VARYINGS: readonly (readonly [InputName, string, string])[] = [
  ['uv', 'vec2f', 'mesh.uv'],
  ['uv2', 'vec2f', 'mesh.uv2'],
  ['objectPosition', 'vec3f', 'mesh.position'],
  ['position', 'vec3f', 'placed.xyz'],
  ['objectNormal', 'vec3f', 'mesh.normal'],
  ['normal', 'vec3f', 'given.normalMatrix * mesh.normal'],
  ['tangent', 'vec3f', '(given.modelMatrix * vec4f(mesh.tangent.xyz, 0.0)).xyz'],
  [
    'bitangent',
    'vec3f',
    '(given.modelMatrix * vec4f(cross(mesh.normal, mesh.tangent.xyz) * mesh.tangent.w, 0.0)).xyz',
  ],
  ['vertexColor', 'vec4f', 'mesh.color'],
];
