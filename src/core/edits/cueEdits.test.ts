import assert from 'node:assert/strict';
import { test } from 'node:test';
import { applyPatches, type Edit } from '../document/patch.ts';
import type { Cue, CueKey, PartOf, SetDrive, StageDocument, Track } from '../document/project.ts';
import { newPart } from '../document/project.ts';
import { trackAt } from '../time/trackAt.ts';
import {
  addChoice,
  addKeyAt,
  changeCue,
  copyOfCue,
  freeSlopes,
  joinTrack,
  lengthened,
  moveKeys,
  onFrame,
  pasteKeys,
  removeChoice,
  removeCue,
  removeDrive,
  removeKeys,
  setDrive,
  splitTrack,
} from './cueEdits.ts';

const key = (at: number, value: number, go: CueKey['go'] = 'eased'): CueKey => ({ at, value: [value], go });
const track = (...keys: readonly CueKey[]): Track => ({
  ...{ id: 't', target: { kind: 'parameter', of: 'm', what: 'p' }, keys },
});
const cue = (id: string, more: Partial<Cue> = {}): Cue => ({
  ...{ id, name: id, length: 2, play: 'once', again: 'restart', blend: 0, after: 'hold' },
  ...{ weight: 1, priority: 0, starts: [], tracks: [track(key(0, 0), key(1, 4), key(2, 0))] },
  ...more,
});
const setOf = (body: Partial<StageDocument>): PartOf<'stage'> =>
  newPart('stage', 'hall', 'Hall', { props: [], ...body } as unknown as StageDocument) as PartOf<'stage'>;
const after = (set: PartOf<'stage'>, edit: Edit): StageDocument =>
  applyPatches(set.body, edit.patches).document;
const times = ({ keys }: Track): number[] => keys.map(({ at }) => at);

test('a key that is added changes nothing but that there is one', () => {
  const before = track(key(0, 0), key(2, 4));
  for (const at of [0.5, 1, 1.7]) {
    const now = addKeyAt(before, at);
    assert.equal(now.keys.length, 3);
    assert.deepEqual(trackAt(now.keys, at), trackAt(before.keys, at));
  }
  assert.deepEqual(
    addKeyAt(track(key(0, 1, 'held'), key(2, 4)), 1).keys.map(({ value, go }) => [value[0], go]),
    [
      [1, 'held'],
      [1, 'held'],
      [4, 'eased'],
    ],
  );
});

test('keys are moved together, on frames, within the cue, and past each other', () => {
  const one = track(key(0, 0), key(0.5, 1), key(1, 2), key(2, 3));
  const by = (seconds: number, value: number, ...which: readonly number[]) =>
    moveKeys(one, new Set(which), [seconds, [value]], { length: 2, frames: 30 });
  assert.deepEqual(times(by(0.11, 0, 1, 2).track), [0, 0.6, 1.1, 2]);
  assert.deepEqual(times(by(-9, 0, 2).track), [0, 0, 0.5, 2]);
  const past = by(1, 0.5, 1);
  assert.deepEqual(times(past.track), [0, 1, 1.5, 2]);
  assert.deepEqual([[...past.moved], past.track.keys[2]!.value], [[2], [1.5]]);
  assert.deepEqual(times(by(0, 1, 1).track), times(one), 'up and down, the time stays');
  assert.deepEqual(
    [onFrame(0.4999, 30), onFrame(0.123456789, 0), onFrame(14 / 30 + 0.003, 30)],
    [0.5, 0.12346, 0.46667],
  );
});

test('keys are copied to where the playhead stands, and one is always left', () => {
  const one = track(key(0, 0), key(1, 4), key(2, 0));
  const pasted = pasteKeys(one, one.keys.slice(1), 0.5, 2);
  assert.deepEqual(times(pasted), [0, 0.5, 1, 1.5, 2]);
  assert.deepEqual(
    times(pasteKeys(one, one.keys.slice(1), 1.5, 2)),
    [0, 1, 1.5, 2],
    'what lies beyond is left out',
  );
  assert.deepEqual(times(pasteKeys(one, [{ at: 0, value: [1, 2], go: 'eased' }], 0.5, 2)), [0, 1, 2]);
  assert.deepEqual(times(removeKeys(one, new Set([0, 2]))), [1]);
  assert.equal(removeKeys(one, new Set([0, 1, 2])).keys.length, 1);
});

test('slopes are given as they are, and taken away again', () => {
  const one = track(key(0, 0), key(1, 3), key(2, 4));
  const own = freeSlopes(one, 1, true);
  assert.ok(own.keys[1]!.into && own.keys[1]!.out);
  for (const at of [0.3, 1, 1.6]) assert.deepEqual(trackAt(own.keys, at), trackAt(one.keys, at));
  assert.deepEqual(freeSlopes(own, 1, false), one);
});

test('a cue of another length keeps its keys where they were, or their shares of it', () => {
  const sloped = cue('a', { tracks: [track(key(0, 0), { ...key(1, 4), into: [2], out: [2] }, key(2, 0))] });
  const [kept, stretched] = [lengthened(sloped, 3, false), lengthened(sloped, 4, true)];
  assert.deepEqual([kept.length, times(kept.tracks[0]!)], [3, [0, 1, 2]]);
  assert.deepEqual([times(stretched.tracks[0]!), stretched.tracks[0]!.keys[1]!.into], [[0, 2, 4], [1]]);
  for (const at of [0.2, 0.9, 1.4])
    assert.deepEqual(trackAt(stretched.tracks[0]!.keys, at * 2), trackAt(sloped.tracks[0]!.keys, at));
});

test('the way back is given a curve of its own, and both are one again', () => {
  const two = splitTrack(cue('a'), 't', () => 'new');
  assert.deepEqual(
    two.tracks.map(({ id, side, keys }) => [id, side, keys.length]),
    [
      ['t', 'there', 3],
      ['track-new', 'back', 3],
    ],
  );
  assert.deepEqual(
    splitTrack(two, 't', () => 'newer'),
    two,
    'one that counts one way is not split',
  );
  const one = joinTrack(two, two.tracks[1]!);
  assert.deepEqual(one.tracks, [{ ...cue('a').tracks[0]!, id: 'track-new' }]);
});

test('a cue that is deleted starts nothing any more, no flourish either, and others stay as they are', () => {
  const spray = { id: 'f', name: 'f', starts: [{ by: 'cue', cue: 'a', at: 0.5 }, { by: 'begin' }] };
  const still = { id: 'g', name: 'g', starts: [{ by: 'key', key: 'KeyG' }] };
  const set = setOf({
    cues: [cue('a'), cue('b', { starts: [{ by: 'cue', cue: 'a' }] })],
    flourishes: [spray, still] as unknown as StageDocument['flourishes'] & object,
  });
  const now = after(set, removeCue(set, set.body.cues![0]!));
  assert.deepEqual(
    now.cues!.map(({ id, starts }) => [id, starts]),
    [['b', []]],
  );
  assert.deepEqual(now.flourishes![0]!.starts, [{ by: 'begin' }]);
  assert.equal(now.flourishes![1], set.body.flourishes![1]);
  assert.equal(removeCue(set, set.body.cues![1]!).patches.length, 1);
});

test('cues are copied under a name of their own and deleted with what they started; rules are one a parameter', () => {
  const set = setOf({
    cues: [cue('toll'), cue('ring', { starts: [{ by: 'cue', cue: 'toll' }, { by: 'begin' }] })],
  });
  let n = 0;
  const copy = copyOfCue(set, set.body.cues![0]!, () => `${(n += 1)}`);
  assert.deepEqual([copy.name, copy.id, copy.tracks[0]!.id], ['toll 2', 'cue-1', 'track-2']);
  assert.deepEqual(
    after(set, removeCue(set, set.body.cues![0]!)).cues!.map(({ starts }) => starts),
    [[{ by: 'begin' }]],
  );
  const bare = setOf({ cues: [cue('toll')] });
  assert.equal('cues' in after(bare, removeCue(bare, bare.body.cues![0]!)), false);
  assert.deepEqual(changeCue(set, 'gone', '', (each) => each).patches, []);
  const drive = (id: string, by: SetDrive['by']): SetDrive => ({ id, material: 'm', parameter: 'p', by });
  const fed = setOf({ drives: [drive('a', 'wave')] });
  assert.deepEqual(after(fed, setDrive(fed, drive('b', 'near'), '')).drives, [drive('b', 'near')]);
  assert.equal('drives' in after(fed, removeDrive(fed, 'a', '')), false);
});

test('pictures are added to choose from, and taken out; keys go on choosing the same', () => {
  const target = { kind: 'parameter', of: 'm', what: 'p' } as const;
  const [a, b, c] = ['a', 'b', 'c'].map((each) => each.repeat(64)) as [string, string, string];
  let set = setOf({ cues: [cue('toll', { tracks: [track(key(0, 0), key(1, 2), key(2, 1))] })] });
  const put = (edit: Edit) => (set = { ...set, body: after(set, edit) });
  for (const picture of [a, b, c]) put(addChoice(set, target, picture)!);
  assert.deepEqual(set.body.choices, [{ material: 'm', parameter: 'p', pictures: [a, b, c] }]);
  put(removeChoice(set, target, 1));
  assert.deepEqual(set.body.choices![0]!.pictures, [a, c]);
  assert.deepEqual(
    set.body.cues![0]!.tracks[0]!.keys.map(({ value }) => value[0]),
    [0, 1, 0],
  );
  put(removeChoice(set, target, 0));
  put(removeChoice(set, target, 0));
  assert.deepEqual(set.body.choices![0]!.pictures, [c], 'one is left');
  for (let i = 1; i < 16; i += 1) put(addChoice(set, target, String(i % 10).repeat(64))!);
  assert.equal(addChoice(set, target, b), null);
});
