import { emptyMotif } from './motif.ts';
import type { PartBodies, PartKind, StageDocument } from './project.ts';

type StarterPart = {
  readonly [kind in PartKind]: {
    readonly id: string;
    readonly kind: kind;
    readonly name: string;
    readonly body: PartBodies[kind];
  };
}[PartKind];
type Prop = StageDocument['props'][number];

const shader = (): PartBodies['shader'] => ({
  format: 'wicked-veil/shader',
  version: 2,
  parameters: [],
  strands: [
    {
      id: 'strand-1',
      name: 'pattern',
      note: 'a place to begin',
      steps: [{ id: 'step-1', operator: 'gradientNoise', arguments: { p: 'uv * 6.0' } }],
    },
  ],
  surface: {
    lit: true,
    alphaMode: 'opaque',
    sides: 'both',
    depthWrite: true,
    outputs: { baseColor: 'vec3(pattern * 0.5 + 0.5)' },
  },
});

const material = (of: string): PartBodies['material'] => ({
  ...{ format: 'wicked-veil/material', version: 2, shader: of, values: {} },
});

/** A card two metres wide that stands on the floor. */
export const cardOf = (id: string, name: string, material: string): Prop => ({
  ...{ id, name, material },
  mesh: { kind: 'plane', size: [2, 2], divisions: [32, 32] },
  position: [0, 0, 0],
  rotation: [0, 0, 0],
});

const stage = (props: readonly Prop[]): PartBodies['stage'] => ({
  format: 'wicked-veil/stage',
  version: 1,
  props,
  lights: [{ kind: 'direction', position: [-1.6, 2.4, 2.6], color: [1, 1, 1], intensity: 3 }],
  ambientUp: [0.2, 0.2, 0.2],
  ambientDown: [0.08, 0.08, 0.08],
  camera: { position: [0, 1.1, 3.6], target: [0, 1, 0], fieldOfView: 40 },
  bloom: { threshold: 1.1, intensity: 0.5 },
  exposure: 1,
});

/** Soft cells that come round at the edges. */
const texture = (): PartBodies['texture'] => ({
  ...{ format: 'wicked-veil/texture', version: 1, size: [512, 512], repeats: [true, true], holds: 'numbers' },
  steps: [{ id: 'step-1', step: 'noise', numbers: {}, words: {} }],
});

/** A text as a script writes it. */
const quoted = (text: string): string => (/['\\]/.test(text) ? JSON.stringify(text) : `'${text}'`);

const script = (drives: string | null): PartBodies['script'] => ({
  format: 'wicked-veil/script',
  version: 1,
  source: `// Drives the material's parameters while rehearsing.\n${
    drives === null ? '' : `const first = material(${quoted(drives)});\n`
  }\nonTick((dt) => {\n});\n`,
});

/** What an author can begin, kind by kind: what each begins as. */
export const STARTERS = { shader, material, motif: emptyMotif, stage, script, texture } as const;
export type StarterKind = keyof typeof STARTERS;

/** What a new project begins with: one card on the stage, and a first strand to change. */
export const starterParts = (): readonly StarterPart[] => [
  { id: 'shader', kind: 'shader', name: 'First shader', body: shader() },
  { id: 'material', kind: 'material', name: 'First material', body: material('shader') },
  { id: 'stage', kind: 'stage', name: 'Stage', body: stage([cardOf('card', 'Card', 'material')]) },
  { id: 'script', kind: 'script', name: 'Script', body: script('First material') },
];
