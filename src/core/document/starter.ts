import type { PartBodies, PartKind } from './project.ts';

type StarterPart = {
  readonly [kind in PartKind]: {
    readonly id: string;
    readonly kind: kind;
    readonly name: string;
    readonly body: PartBodies[kind];
  };
}[PartKind];

/** What a new project begins with: one card on the stage, and a first strand to change. */
export const starterParts = (): readonly StarterPart[] => [
  {
    id: 'shader',
    kind: 'shader',
    name: 'First shader',
    body: {
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
    },
  },
  {
    id: 'material',
    kind: 'material',
    name: 'First material',
    body: { format: 'wicked-veil/material', version: 1, shader: 'shader', values: {} },
  },
  {
    id: 'stage',
    kind: 'stage',
    name: 'Stage',
    body: {
      format: 'wicked-veil/stage',
      version: 1,
      props: [
        {
          id: 'card',
          name: 'Card',
          mesh: { kind: 'plane', size: [2, 2], divisions: [32, 32] },
          material: 'material',
          position: [0, 0, 0],
          rotation: [0, 0, 0],
        },
      ],
      lights: [{ kind: 'direction', position: [-1.6, 2.4, 2.6], color: [1, 1, 1], intensity: 3 }],
      ambientUp: [0.2, 0.2, 0.2],
      ambientDown: [0.08, 0.08, 0.08],
      camera: { position: [0, 1.1, 3.6], target: [0, 1, 0], fieldOfView: 40 },
      bloom: { threshold: 1.1, intensity: 0.5 },
      exposure: 1,
    },
  },
  {
    id: 'script',
    kind: 'script',
    name: 'Script',
    body: {
      format: 'wicked-veil/script',
      version: 1,
      source:
        "// Drives the material's parameters while rehearsing.\nconst first = material('First material');\n\nonTick((dt) => {\n});\n",
    },
  },
];
