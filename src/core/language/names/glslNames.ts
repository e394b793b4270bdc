import { INPUTS } from '../../program/inputs.ts';
import { ATTRIBUTES, VARYINGS } from './glslInterface.ts';

const lastWord = (declaration: string): string => declaration.split(' ').at(-1)!;

/** Functions that generated GLSL defines for what the language leaves open. */
export const DEFINITIONS: readonly string[] = [
  'unit',
  'power',
  'quotient',
  'remainder',
  'whole',
  'wholeU',
  'texelAt',
];

/** What stands at the top of generated GLSL besides what its author named: nothing else there may be called so. */
export const GLSL_TOP_NAMES: readonly string[] = [
  ...DEFINITIONS,
  ...[
    'main',
    'fragColor',
    'tap',
    'picture',
    'live',
    'liveInt',
    'lifetime',
    'resolution',
    'moved',
    'screenOf',
  ],
  ...['modelMatrix', 'viewMatrix', 'projectionMatrix', 'surfaceDistanceMap', 'surfaceDistanceFrame'],
  ...[
    'environmentMap',
    'environmentTurn',
    'environmentRow',
    'environmentGathered',
    'turnedAround',
    'aroundPlace',
  ],
  ...['keyShadow', 'keyShadowMap', 'keyShadowMatrix', 'keyShadowSpread', 'airColor', 'airLens', 'airLeft'],
  ...['lightSurface', 'lightCount', 'lightPosition', 'lightColor', 'ambientUp', 'ambientDown'],
  ...ATTRIBUTES.map(lastWord),
  ...VARYINGS.map(({ declaration }) => lastWord(declaration)),
  ...Object.keys(INPUTS),
];

/** Variables of the stages’ own, inside their functions: an author’s variable beside them needs another name. */
export const GLSL_LOCALS: readonly string[] = [
  'shown',
  'placed',
  'offset',
  'sideways',
  'alongU',
  'alongV',
  'at',
];

/** What the surface’s outputs are called where nothing of the author’s is called so. */
export const SURFACE_LOCALS = [
  ...(['baseColor', 'opacity', 'emission', 'metallic', 'roughness', 'occlusion', 'color'] as const),
] as const;
export type SurfaceLocal = (typeof SURFACE_LOCALS)[number];

/** The surface’s variables: each as it is, or with a word behind it where the name is taken. */
export const surfaceLocals = (taken: ReadonlySet<string>): Readonly<Record<SurfaceLocal, string>> => {
  const free = (name: string): string => {
    let made = name;
    for (let n = 1; taken.has(made); n += 1) made = `${name}Output${n > 1 ? n : ''}`;
    return made;
  };
  return Object.fromEntries(SURFACE_LOCALS.map((name) => [name, free(name)])) as Record<SurfaceLocal, string>;
};
