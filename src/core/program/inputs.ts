import type { Type } from './types.ts';

/** How often a value can change: never, once a frame, from prop to prop, from instance to instance, or from point to point. */
export type Rate = 'constant' | 'frame' | 'object' | 'instance' | 'point';

/** What a shader can ask of whoever draws it, beyond a mesh, a camera and a clock. */
export type Requirement = 'sceneDepth' | 'sceneColor' | 'sceneLevels' | 'surfaceDistance' | 'instances';

/** Each requirement, as a sentence for whoever must meet it. */
export const REQUIREMENTS: Readonly<Record<Requirement, string>> = {
  sceneDepth: 'The depth of the scene behind the surface, in metres, drawn before it.',
  sceneColor: 'A copy of the scene behind the surface, in linear light, drawn before it.',
  sceneLevels:
    'Ever smaller copies of the scene behind the surface with it: its mipmaps, filtered within a level and between two.',
  surfaceDistance: 'A volume of distances to the nearest surface of other props, in metres.',
  instances: 'An age, an order and a seed for each instance drawn, as one attribute of three numbers.',
};

/** What each is called in a sentence. */
export const REQUIREMENT_NAMES: Readonly<Record<Requirement, string>> = {
  sceneDepth: 'the scene’s depth',
  sceneColor: 'a copy of the scene',
  sceneLevels: 'smaller copies of the scene',
  surfaceDistance: 'distances to other surfaces',
  instances: 'ages and orders of instances',
};

export interface InputDeclaration {
  readonly type: Type;
  readonly rate: Exclude<Rate, 'constant'>;
  readonly summary: string;
  readonly unit?: string;
  readonly requires?: Requirement;
  /** True where only the pixel stage can know it. */
  readonly pixelOnly?: boolean;
  /** True for what operators read on an author’s behalf; it has no name in expressions. */
  readonly hidden?: boolean;
  /** Names people bring from elsewhere, for search. */
  readonly synonyms?: readonly string[];
}

/**
 * What a shader is given: by the mesh, the camera and the clock. Spaces are right-handed, y up, in metres; the view's
 * looks along −z.
 */
export const INPUTS = {
  uv: {
    type: 'vec2',
    rate: 'point',
    summary: 'The first texture coordinate, (0, 0) at the lower left.',
    synonyms: ['texcoord', 'coordinate', 'uv1'],
  },
  uv2: {
    type: 'vec2',
    rate: 'point',
    summary: 'The second texture coordinate; the first where a mesh has one set.',
    synonyms: ['lightmap', 'texcoord', 'second uv'],
  },
  objectPosition: {
    type: 'vec3',
    rate: 'point',
    unit: 'm',
    summary: 'The point on the mesh, before it is placed on the stage.',
    synonyms: ['local position'],
  },
  position: {
    type: 'vec3',
    rate: 'point',
    unit: 'm',
    summary: 'The point in the world.',
    synonyms: ['world position'],
  },
  viewPosition: {
    type: 'vec3',
    rate: 'point',
    unit: 'm',
    summary: 'The point as the camera sees it: x right, y up, −z ahead.',
    synonyms: ['camera space', 'eye'],
  },
  objectNormal: { type: 'vec3', rate: 'point', summary: 'The unit normal of the mesh, before it is placed.' },
  normal: {
    type: 'vec3',
    rate: 'point',
    summary: 'The unit normal in the world, towards the camera on both sides.',
    synonyms: ['world normal', 'facing'],
  },
  viewNormal: { type: 'vec3', rate: 'point', summary: 'The unit normal as the camera sees it.' },
  tangent: {
    type: 'vec3',
    rate: 'point',
    summary:
      'The unit direction in the world in which u grows along the surface; turned with the normal on back faces.',
  },
  bitangent: {
    type: 'vec3',
    rate: 'point',
    summary:
      'The unit direction in the world in which v grows along the surface; turned with the normal on back faces.',
    synonyms: ['binormal', 'handedness'],
  },
  viewDirection: {
    type: 'vec3',
    rate: 'point',
    summary: 'The unit vector from the point to the camera.',
    synonyms: ['eye direction', 'incident'],
  },
  vertexColor: {
    type: 'vec4',
    rate: 'point',
    summary: 'The mesh’s own colour and alpha, linear; white where it has none.',
    synonyms: ['vertex colour', 'painted'],
  },
  frontFacing: {
    type: 'bool',
    rate: 'point',
    pixelOnly: true,
    summary: 'True on the side the mesh faces.',
    synonyms: ['two-sided', 'backface'],
  },
  screenUv: {
    type: 'vec2',
    rate: 'point',
    summary: 'The point’s place on the screen, (0, 0) at the lower left.',
    synonyms: ['screen position', 'viewport'],
  },
  objectOrigin: { type: 'vec3', rate: 'object', unit: 'm', summary: 'Where the prop stands in the world.' },
  objectRight: {
    type: 'vec3',
    rate: 'object',
    summary: 'The prop’s x axis in the world, as long as its scale.',
  },
  objectUp: {
    type: 'vec3',
    rate: 'object',
    summary: 'The prop’s y axis in the world, as long as its scale.',
  },
  objectForward: {
    type: 'vec3',
    rate: 'object',
    summary: 'The prop’s z axis in the world, as long as its scale.',
  },
  boundsLow: {
    type: 'vec3',
    rate: 'object',
    unit: 'm',
    summary: 'The low corner of the mesh, before it is placed.',
  },
  boundsHigh: {
    type: 'vec3',
    rate: 'object',
    unit: 'm',
    summary: 'The high corner of the mesh, before it is placed.',
  },
  cameraPosition: { type: 'vec3', rate: 'frame', unit: 'm', summary: 'Where the camera is in the world.' },
  cameraRight: { type: 'vec3', rate: 'frame', summary: 'The camera’s unit x axis in the world.' },
  cameraUp: { type: 'vec3', rate: 'frame', summary: 'The camera’s upward axis in the world, of length 1.' },
  cameraBack: {
    type: 'vec3',
    rate: 'frame',
    summary: 'The camera’s unit z axis in the world: where it looks from.',
  },
  time: {
    type: 'float',
    rate: 'frame',
    unit: 's',
    summary: 'Seconds since the rehearsal began; 0 while nothing is rehearsed.',
    synonyms: ['clock', 'seconds'],
  },
  timeStep: {
    type: 'float',
    rate: 'frame',
    unit: 's',
    summary: 'How long one tick lasts: a sixtieth of a second.',
    synonyms: ['delta time', 'dt'],
  },
  instanceAge: {
    type: 'float',
    rate: 'instance',
    unit: 's',
    requires: 'instances',
    summary: 'Seconds since this instance began.',
    synonyms: ['age', 'life', 'particle'],
  },
  instanceOrder: {
    type: 'float',
    rate: 'instance',
    requires: 'instances',
    summary: 'This instance’s place among its kind: 0 for the first, 1 for the last.',
    synonyms: ['order', 'index', 'particle'],
  },
  instanceSeed: {
    type: 'int',
    rate: 'instance',
    requires: 'instances',
    summary: 'A whole number of this instance’s own, for random.',
    synonyms: ['seed', 'id', 'particle'],
  },
  surfaceDistance: {
    type: 'float',
    rate: 'point',
    unit: 'm',
    requires: 'surfaceDistance',
    summary: 'How far the nearest surface of another prop is.',
    synonyms: ['proximity', 'distance field', 'contact'],
  },
  sceneDepthMap: {
    type: 'sampler2D',
    rate: 'point',
    requires: 'sceneDepth',
    hidden: true,
    summary: 'Depth of the scene in metres.',
  },
  sceneColorMap: {
    type: 'sampler2D',
    rate: 'point',
    requires: 'sceneColor',
    hidden: true,
    summary: 'The scene in linear light.',
  },
} as const satisfies Record<string, InputDeclaration>;

export type InputName = keyof typeof INPUTS;

export const declarationOf = (name: InputName): InputDeclaration => INPUTS[name];

/** True for what an expression may read by name. */
export const isInput = (name: string): name is InputName =>
  Object.hasOwn(INPUTS, name) && !declarationOf(name as InputName).hidden;

export const INPUT_NAMES: readonly InputName[] = (Object.keys(INPUTS) as InputName[]).filter(isInput);
