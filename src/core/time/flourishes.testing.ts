import assert from 'node:assert/strict';
import type { Flourish, FlourishLayer } from '../document/flourishes.ts';
import type { StageDocument } from '../document/project.ts';
import { sketchParameter } from '../document/sketch.ts';
import type { Triple } from '../numbers/vectors.ts';
import type { RehearsalInput } from './inputs.ts';
import { createRehearsing } from './rehearse.ts';
import { layerStarter } from '../edits/flourishEdits.ts';

const parameters = [
  sketchParameter('gone', 'float', [0], { scope: 'lifetime', min: -9, max: 9 }),
  sketchParameter('tint', 'vec2', [1, 2], { scope: 'lifetime' }),
  sketchParameter('plain', 'float', [0.5]),
];
export const idOf = (name: string): string => parameters.find((each) => each.name === name)!.id;
const mesh = { kind: 'plane', size: [1, 1], divisions: [1, 1] } as const;
export const layer = (kind: FlourishLayer['kind'], id: string, more: object = {}): FlourishLayer => ({
  ...layerStarter(kind, { id, name: id, material: 'air', mesh }),
  ...more,
});
export const flourish = (
  id: string,
  layers: readonly FlourishLayer[],
  more: Partial<Flourish> = {},
): Flourish => ({
  ...{ id, name: id, at: [0, 0, 0], rotation: [0, 0, 0], play: 'once', seed: 1, starts: [], layers },
  ...more,
});
export const prop = (id: string, position: Triple, more: object = {}) => ({
  ...{ id, name: id, mesh, material: 'air', position, rotation: [0, 0, 0], ...more },
});
export const setOf = (flourishes: readonly Flourish[], more: object = {}): StageDocument =>
  ({
    props: [prop('bell', [0, 2, 0]), prop('rod', [3, 0, 0])],
    lights: [],
    camera: { position: [0, 1, 4], target: [0, 1, 0], fieldOfView: 40 },
    flourishes,
    ...more,
  }) as unknown as StageDocument;
export const parametersOf = (id: string) => (id === 'air' ? parameters : null);
export const rehearse = (set: StageDocument) => {
  const rehearsing = createRehearsing({ set, parametersOf, authored: () => [0] });
  const on = (inputs: readonly RehearsalInput[] = []) => rehearsing.tick(inputs).layers;
  const run = (ticks: number) => {
    let last = on();
    for (let i = 1; i < ticks; i += 1) last = on();
    return last;
  };
  return { rehearsing, on, run };
};
export const play = (id: string): RehearsalInput => ({ kind: 'play', cue: id });
export const near = (a: number | undefined, b: number, within = 1e-9): void =>
  assert.ok(Math.abs(a! - b) <= within, `${a} is not ${b}`);
export const sprites = (more: object = {}) => ({ ...layer('sprites', 's').sprites!, ...more });
