import { flag, object, oneOf, standing, text, type Field, type Read } from './fields.ts';

/** What a surface can be given, by the stage that writes it, and what each begins as. */
export const OUTPUTS = {
  baseColor: { stage: 'fragment', type: 'vec3', label: 'base colour', start: [0.5, 0.5, 0.5] },
  opacity: { stage: 'fragment', type: 'float', label: 'opacity', start: [1] },
  emission: { stage: 'fragment', type: 'vec3', label: 'emission', start: [0, 0, 0] },
  roughness: { stage: 'fragment', type: 'float', label: 'roughness', start: [0.8] },
  metallic: { stage: 'fragment', type: 'float', label: 'metallic', start: [0] },
  occlusion: { stage: 'fragment', type: 'float', label: 'occlusion', start: [1] },
  normal: { stage: 'fragment', type: 'vec3', label: 'normal', start: [0, 0, 1] },
  vertexOffset: { stage: 'vertex', type: 'vec3', label: 'vertex offset', start: [0, 0, 0] },
} as const;

export type OutputName = keyof typeof OUTPUTS;
export const OUTPUT_NAMES = Object.keys(OUTPUTS) as readonly OutputName[];

/** An expression for each output that is not left as it starts. */
const outputs: Field<Readonly<Partial<Record<OutputName, string>>>> = {
  schema: {
    type: 'object',
    properties: Object.fromEntries(OUTPUT_NAMES.map((name) => [name, text().schema])),
    additionalProperties: false,
  },
  read: (r, value, path) => {
    const made: Partial<Record<OutputName, string>> = {};
    for (const [name, each] of Object.entries(r.object(value, path))) {
      if (Object.hasOwn(OUTPUTS, name)) made[name as OutputName] = r.text(each, `${path}.${name}`);
      else r.problem(`${path}.${name}`, `A surface has no such output; it has ${OUTPUT_NAMES.join(', ')}.`);
    }
    return made;
  },
};

/** How the surface meets the stage, and what its outputs are. */
export const surface = object({
  lit: flag,
  alphaMode: oneOf(['opaque', 'cutout', 'blended', 'added']),
  sides: oneOf(['front', 'back', 'both']),
  depthWrite: flag,
  outputs: standing(outputs, {}),
});
export type Surface = Read<typeof surface>;
export type SurfaceSettings = Omit<Surface, 'outputs'>;
export type AlphaMode = Surface['alphaMode'];
