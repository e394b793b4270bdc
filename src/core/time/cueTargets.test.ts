import assert from 'node:assert/strict';
import { test } from 'node:test';
import { curveAt } from '../numbers/curve.ts';
import { parsePart } from '../document/parsePart.ts';
import type { Cue, CueKey, StageDocument } from '../document/project.ts';
import { keptPlace, worldOf } from '../document/parents.ts';
import { arriveRig, type Clip, type RigNode } from '../rigs/rig.ts';
import { createMarker, frameOf } from './takes.ts';
import { whereIs } from './world.ts';
import type { RehearsalInput } from './inputs.ts';
import { remarksOn } from './remarksOn.ts';
import {
  parameters,
  idOf,
  key,
  cue,
  burns,
  prop,
  setOf,
  rehearse,
  play,
  near,
  EMPTY_SET,
} from './cues.testing.ts';

test('a cue moves props, lights and the camera, and whole numbers stay whole', () => {
  const track = (kind: string, of: string, what: string, ...keys: readonly CueKey[]) => ({
    ...{ id: what + of, target: { kind, of, what }, keys },
  });
  const tracks = [
    track('prop', 'bell', 'rotation', key(0, [0, 0, -20]), key(1, [0, 0, 20])),
    track('light', '0', 'intensity', key(0, 0), key(1, 6)),
    track('camera', '', 'position', key(0, [0, 1, 4]), key(1, [2, 1, 4])),
    track('parameter', 'velvet', idOf('steps'), key(0, 0), key(1, 3)),
  ] as unknown as Cue['tracks'];
  const { on, run } = rehearse(setOf([cue('swing', { tracks })]));
  on([play('swing')]);
  const { moved, cues } = run(30);
  near(moved.props.get('bell')!.rotation![2], 0);
  near(moved.lights.get(0)!.intensity, 3);
  near(moved.camera!.position![0], 1);
  assert.deepEqual(cues[0]!.value, [2]);
});

test('nearness starts a cue as it is entered and as it is left, a click by what is clicked', () => {
  const cues = [
    cue('kindle', { starts: [{ by: 'near', of: 'walker', to: 'bell', within: 1 }] }),
    cue('dim', { starts: [{ by: 'away', of: 'walker', to: 'bell', within: 1 }] }),
    cue('ring', { starts: [{ by: 'click', prop: 'bell' }] }),
  ];
  const { on, rehearsing } = rehearse(setOf(cues));
  const at = (y: number): RehearsalInput => ({
    ...{ kind: 'walker', position: [0, y, 0], direction: [0, 0, -1] },
  });
  const click = (prop: string): RehearsalInput => ({
    kind: 'click',
    hit: { prop, point: [0, 2, 0], normal: [0, 0, 1], uv: [0.5, 0.5], distance: 3 },
  });
  const begun = () => [...rehearsing.cues.standing().keys()];
  on([at(5)]);
  assert.deepEqual(begun(), []);
  on([at(2.5), click('clapper')]);
  assert.deepEqual(begun(), ['kindle']);
  on([at(4), click('bell')]);
  assert.deepEqual(begun().sort(), ['dim', 'kindle', 'ring']);
});

test('a curve goes over to another as a line, and a picture is one of those that are told', () => {
  const of = (what: string) => ({ kind: 'parameter', of: 'velvet', what: idOf(what) }) as const;
  const level = [0, 0.5, 0, 0];
  const tracks: Cue['tracks'] = [
    { id: 'r', target: of('rise'), keys: [key(0, [0, 0, 1, 1, 1, 1, 1, 1]), key(1, level)] },
    { id: 'w', target: of('weave'), keys: [key(0, 0, { go: 'held' }), key(0.5, 5)] },
  ];
  const pictures = ['a', 'b', 'c'].map((each) => each.repeat(64));
  const choices = [{ material: 'velvet', parameter: idOf('weave'), pictures }];
  const toll = cue('toll', { tracks, starts: [{ by: 'begin' }] });
  const { on, run } = rehearse(setOf([toll], { choices }));
  const valueOf = ({ cues }: ReturnType<typeof on>, name: string) =>
    cues.find(({ parameter }) => parameter === name)!.value;
  const first = on();
  assert.deepEqual([valueOf(first, 'rise'), valueOf(first, 'weave')], [[0, 0, 1, 1, 1, 1, 1, 1], [0]]);
  const half = run(30);
  for (const x of [0, 0.3, 1]) assert.ok(Math.abs(curveAt(valueOf(half, 'rise'), x) - (x + 0.5) / 2) < 1e-9);
  // Beyond the pictures there are, the last.
  assert.deepEqual(valueOf(half, 'weave'), [2]);
  assert.deepEqual(valueOf(run(40), 'rise'), level);
  const none = setOf([toll]);
  assert.match(
    remarksOn(none, () => parameters)[0]!.message,
    /weave is a picture, and there are none that it is chosen from/,
  );
  const long = cue('long', { tracks: burns(key(0, [0, 0, 0]), key(1, [0, 0, 0, 0])) });
  const { problems } = parsePart('stage', { ...EMPTY_SET, cues: [long] });
  assert.match(problems.map(({ message }) => message).join(), /as many numbers as its first/);
  for (const given of [[], pictures.concat(pictures, pictures, pictures, pictures, pictures)])
    assert.ok(
      parsePart('stage', { ...EMPTY_SET, choices: [{ ...choices[0], pictures: given }] }).problems.length,
    );
});

test('a clip plays at its cue’s time over the others of its prop, and what hangs on a joint goes along', () => {
  const clip = (name: string, angle: number): Clip => ({
    ...{ name, length: 1 },
    channels: [
      {
        ...{ node: 1, path: 'translation', mode: 'LINEAR', times: Float32Array.of(0, 1) },
        values: Float32Array.of(0, 1, 0, angle, 1, 0),
      },
    ],
  });
  const at = (name: string, parent: number): RigNode => ({
    ...{ name, parent, translation: [0, parent + 1, 0], rotation: [0, 0, 0, 1], scale: [1, 1, 1] },
  });
  const blob = 'e'.repeat(64);
  arriveRig(blob, {
    nodes: [at('hip', -1), at('hand', 0)],
    weights: [],
    clips: [clip('Reach', 4), clip('Shrug', -2)],
  });
  const puppet = {
    ...prop('puppet', [10, 0, 0]),
    mesh: {
      ...{ kind: 'imported', blob, file: 'puppet.glb', triangles: 1, joints: ['hip', 'hand'] },
      clips: [
        { name: 'Reach', length: 1 },
        { name: 'Shrug', length: 1 },
      ],
    },
  };
  const lamp = {
    ...prop('lamp', [0, 0, 0.5], 'puppet'),
    joint: { name: 'hand', rest: [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 0] },
  };
  const plays = (id: string, place: number, more: Partial<Cue>) =>
    cue(id, {
      tracks: [
        {
          ...{ id, target: { kind: 'prop', of: 'puppet', what: `clip-${place}` } },
          keys: [key(0, 0), key(1, 1)],
        },
      ],
      ...more,
    });
  const reach = plays('reach', 0, { starts: [{ by: 'begin' }], play: 'looped' });
  const shrug = plays('shrug', 1, { blend: 0.5, priority: 1 });
  const set = setOf([reach, shrug], { props: [puppet, lamp] });
  const { rehearsing, on, run } = rehearse(set);
  const where = () => whereIs(rehearsing.world(), 'lamp')!.map((x) => Math.round(x * 1e6) / 1e6);
  on();
  assert.deepEqual(where(), [10, 1, 0.5]);
  const clips = () => rehearsing.moved().props.get('puppet')?.clips;
  run(30);
  assert.deepEqual([clips(), where()], [{ 0: [0.5, 1] }, [12, 1, 0.5]]);
  on([{ kind: 'play', cue: 'shrug' }]);
  run(15);
  // Half of its blend on, each counts for half.
  const [t, u] = [46 / 60, 15 / 60];
  assert.deepEqual(
    Object.values(clips()!).map(([seconds, share]) => [seconds.toFixed(4), share.toFixed(3)]),
    [
      [t.toFixed(4), '0.500'],
      [u.toFixed(4), '0.500'],
    ],
  );
  assert.ok(Math.abs(where()[0]! - (10 + (4 * t - 2 * u) / 2)) < 1e-5);
  run(20);
  assert.deepEqual(
    Object.values(clips()!).map(([, share]) => share),
    [0, 1],
  );
  // A take keeps it, and gives it back.
  const marker = createMarker();
  marker.follow({ driven: on(), writes: [] });
  assert.deepEqual(frameOf(marker.now()).moved.props.get('puppet'), { clips: clips() });
  assert.match(
    remarksOn(setOf([plays('gone', 7, {})], { props: [puppet] }), () => parameters)[0]!.message,
    /puppet is of a mesh that has not the clip that this played/,
  );
  // Where it stands is kept as it is hung up and taken down.
  const bare = (list: readonly object[]) => list as unknown as StageDocument['props'];
  const world = worldOf(bare([puppet, lamp]), 'lamp');
  const down = keptPlace(bare([puppet, lamp]), 'lamp', undefined);
  assert.deepEqual(world.slice(9), [...down.position]);
});
