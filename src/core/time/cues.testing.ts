import assert from 'node:assert/strict';
import type { Cue, CueKey, StageDocument } from '../document/project.ts';
import { sketchParameter } from '../document/sketch.ts';
import type { RehearsalInput } from './inputs.ts';
import { createRehearsing, type RehearsalSetup } from './rehearse.ts';

export const parameters = [
  sketchParameter('burn', 'float', [0]),
  sketchParameter('steps', 'int', [2]),
  sketchParameter('heat', 'color', [1, 0.5, 0, 2]),
  sketchParameter('rise', 'curve', [0, 0, 1, 1, 1, 1, 1, 1]),
  sketchParameter('weave', 'texture', []),
];
export const idOf = (name: string): string => parameters.find((each) => each.name === name)!.id;

export const key = (at: number, value: number | readonly number[], more: Partial<CueKey> = {}): CueKey => ({
  ...{ at, value: typeof value === 'number' ? [value] : value, go: 'straight', ...more },
});
export const cue = (id: string, more: Partial<Cue> = {}): Cue => ({
  ...{ id, name: id, length: 1, play: 'once', again: 'restart', blend: 0, after: 'hold' },
  ...{ weight: 1, priority: 0, starts: [], tracks: [] },
  ...more,
});
export const burns = (...keys: readonly CueKey[]): Cue['tracks'] => [
  { id: 'burn', target: { kind: 'parameter', of: 'velvet', what: idOf('burn') }, keys },
];
export const ramp = burns(key(0, 0), key(1, 1));

export const prop = (id: string, position: readonly [number, number, number], parent?: string) => ({
  ...{ id, name: id, mesh: { kind: 'plane', size: [1, 1], divisions: [1, 1] }, material: 'velvet' },
  ...{ position, rotation: [0, 0, 0], ...(parent === undefined ? {} : { parent }) },
});
export const setOf = (cues: readonly Cue[], more: object = {}): StageDocument =>
  ({
    props: [prop('bell', [0, 2, 0]), prop('clapper', [0, -1, 0], 'bell')],
    lights: [{ kind: 'point', position: [0, 1, 0], color: [1, 1, 1], intensity: 3 }],
    camera: { position: [0, 1, 4], target: [0, 1, 0], fieldOfView: 40 },
    cues,
    ...more,
  }) as unknown as StageDocument;

export const EMPTY_SET = {
  ...{ format: 'wicked-veil/stage', version: 1, props: [], lights: [], ambientUp: [0, 0, 0] },
  ...{ ambientDown: [0, 0, 0], camera: { position: [0, 0, 1], target: [0, 0, 0], fieldOfView: 40 } },
  ...{ bloom: { threshold: 1, intensity: 0 }, exposure: 1 },
};

export const setupFor = (set: StageDocument): RehearsalSetup => ({
  set,
  parametersOf: (id) => (id === 'velvet' ? parameters : null),
  authored: (_, name) => parameters.find((each) => each.name === name)!.default,
});
export const rehearse = (set: StageDocument) => {
  const said: string[] = [];
  const rehearsing = createRehearsing(setupFor(set), (sentence) => said.push(sentence));
  const on = (inputs: readonly RehearsalInput[] = []) => rehearsing.tick(inputs);
  const run = (ticks: number) => {
    let last = on();
    for (let i = 1; i < ticks; i += 1) last = on();
    return last;
  };
  return { rehearsing, said, on, run };
};
export const play = (id: string): RehearsalInput => ({ kind: 'play', cue: id });
export const down = (code: string): RehearsalInput => ({ kind: 'down', code });
export const near = (a: number | undefined, b: number, within = 1e-9): void =>
  assert.ok(Math.abs(a! - b) <= within, `${a} is not ${b}`);
