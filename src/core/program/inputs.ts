import type { Type } from './types.ts';

/** How often a value can change: never, once a frame, or from point to point. */
export type Rate = 'constant' | 'frame' | 'point';

export interface InputDeclaration {
  readonly type: Type;
  readonly rate: Exclude<Rate, 'constant'>;
  readonly summary: string;
  readonly unit?: string;
  /** Names people bring from elsewhere, for search. */
  readonly synonyms?: readonly string[];
}

/** What a shader is given: by the mesh, the camera and the clock. Spaces are right-handed, y up, in metres. */
export const INPUTS = {
  uv: { type: 'vec2', rate: 'point', summary: 'The first texture coordinate, (0, 0) at the lower left.' },
  objectPosition: {
    type: 'vec3',
    rate: 'point',
    unit: 'm',
    summary: 'The point on the mesh, before it is placed on the stage.',
  },
  position: { type: 'vec3', rate: 'point', unit: 'm', summary: 'The point in the world.' },
  normal: { type: 'vec3', rate: 'point', summary: 'The unit normal in the world.' },
  viewDirection: { type: 'vec3', rate: 'point', summary: 'The unit vector from the point to the camera.' },
  frontFacing: { type: 'bool', rate: 'point', summary: 'True on the side the mesh faces.' },
  cameraPosition: { type: 'vec3', rate: 'frame', unit: 'm', summary: 'Where the camera is in the world.' },
  time: {
    type: 'float',
    rate: 'frame',
    unit: 's',
    summary: 'Seconds since the rehearsal began; 0 while nothing is rehearsed.',
  },
} as const satisfies Record<string, InputDeclaration>;

export type InputName = keyof typeof INPUTS;
export const isInput = (name: string): name is InputName => Object.hasOwn(INPUTS, name);
