import type { InputName } from '../../program/inputs.ts';
import type { InputRead, Reads } from '../source/reads.ts';

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
  resolution: 'vec2f',
  surfaceDistanceFrame: 'mat4x4f',
} as const;
export type GivenField = keyof typeof GIVEN_FIELDS;

const field = (name: GivenField): InputRead => ({ text: `given.${name}`, from: [name] });
const column = (i: number): InputRead => ({ text: `given.modelMatrix[${i}].xyz`, from: ['modelMatrix'] });
const row = (axis: string): InputRead => ({
  text: `vec3f(given.viewMatrix[0].${axis}, given.viewMatrix[1].${axis}, given.viewMatrix[2].${axis})`,
  from: ['viewMatrix'],
});

const BOTH: Reads = {
  viewPosition: {
    text: '(given.viewMatrix * vec4f(position, 1.0)).xyz',
    needs: ['position'],
    from: ['viewMatrix'],
  },
  viewNormal: {
    text: '(given.viewMatrix * vec4f(normal, 0.0)).xyz',
    needs: ['normal'],
    from: ['viewMatrix'],
  },
  viewDirection: {
    text: 'normalize(given.cameraPosition - position)',
    needs: ['position'],
    from: ['cameraPosition'],
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
  surfaceDistance: {
    text: 'textureSampleLevel(surfaceDistanceMap, surfaceDistanceMap_sampler, (given.surfaceDistanceFrame * vec4f(position, 1.0)).xyz, 0.0).r',
    needs: ['position'],
    from: ['surfaceDistanceFrame'],
  },
};

export const FRAGMENT_READS: Reads = {
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
  instanceAge: { text: 'carried.instanceAge' },
  instanceOrder: { text: 'carried.instanceOrder' },
  instanceSeed: { text: 'i32(floor(carried.instanceSeed + 0.5))' },
  screenUv: {
    text: 'vec2f(carried.clip.x, given.resolution.y - carried.clip.y) / given.resolution',
    from: ['resolution'],
  },
};

export const VERTEX_READS: Reads = {
  ...BOTH,
  uv2: { text: 'mesh.uv2' },
  objectPosition: { text: 'at' },
  position: { text: '(given.modelMatrix * vec4f(at, 1.0)).xyz', from: ['modelMatrix'] },
  objectNormal: { text: 'mesh.normal' },
  normal: { text: 'normalize(given.normalMatrix * mesh.normal)', from: ['normalMatrix'] },
  tangent: {
    text: 'normalize((given.modelMatrix * vec4f(mesh.tangent.xyz, 0.0)).xyz)',
    from: ['modelMatrix'],
  },
  bitangent: {
    text: 'normalize((given.modelMatrix * vec4f(cross(mesh.normal, mesh.tangent.xyz) * mesh.tangent.w, 0.0)).xyz)',
    from: ['modelMatrix'],
  },
  vertexColor: { text: 'mesh.color' },
  instanceAge: { text: 'mesh.instance.x' },
  instanceOrder: { text: 'mesh.instance.y' },
  instanceSeed: { text: 'i32(mesh.instance.z)' },
  screenUv: {
    calls: 'screenOf',
    text: 'screenOf(given.projectionMatrix * given.viewMatrix * vec4f(position, 1.0))',
    needs: ['position'],
    from: ['projectionMatrix', 'viewMatrix'],
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
  ['instanceAge', 'f32', 'mesh.instance.x'],
  ['instanceOrder', 'f32', 'mesh.instance.y'],
  ['instanceSeed', 'f32', 'mesh.instance.z'],
];
