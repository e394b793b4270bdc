import assert from 'node:assert/strict';
import { test } from 'node:test';
import type { Cue, CueStart, StageDocument } from '#core/document/project.ts';
import { driveWords } from '#core/time/driveWords.ts';
import { keysHeard } from '../set/keysHeard.ts';
import { beginsOf } from './cueing.svelte.ts';
import { playWords, startWords } from './startWords.ts';

const cue = (id: string, length: number, ...starts: readonly CueStart[]): Cue => ({
  ...{ id, name: id, length, play: 'once', again: 'restart', blend: 0, after: 'hold' },
  ...{ weight: 1, priority: 0, starts, tracks: [] },
});
const set = {
  props: [
    { id: 'b', name: 'Bell' },
    { id: 'd', name: 'Door' },
  ],
  cues: [
    cue('swing', 2, { by: 'key', key: 'KeyE' }, { by: 'click', prop: 'b' }),
    cue('toll', 0.35, { by: 'cue', cue: 'swing', at: 14 / 30 }),
    cue('dim', 1, { by: 'cue', cue: 'toll' }, { by: 'near', of: 'walker', to: 'd' }),
    cue('a', 1, { by: 'cue', cue: 'z' }),
    cue('z', 1, { by: 'cue', cue: 'a' }),
  ],
} as unknown as StageDocument;

test('a cue stands on the ruler where what starts it does, whatever goes round', () => {
  const begins = beginsOf(set.cues!);
  assert.deepEqual(
    ['swing', 'toll', 'dim'].map((id) => begins.get(id)),
    [0, 14 / 30, 14 / 30 + 0.35],
  );
  assert.ok([...begins.values()].every(Number.isFinite));
});

test('a flourish stands on the ruler at the frame that starts it', () => {
  const sweep = { id: 's', starts: [{ by: 'cue', cue: 'toll', at: 0.1 }] };
  const alone = { id: 'p', starts: [{ by: 'click' }] };
  const begins = beginsOf(set.cues!, [sweep, alone] as unknown as NonNullable<StageDocument['flourishes']>);
  assert.deepEqual([begins.get('s'), begins.get('p')], [14 / 30 + 0.1, 0]);
});

test('what starts a cue, how it plays and what feeds a parameter are told by name, and what is gone is told', () => {
  const told = set.cues!.flatMap(({ starts }) => starts.map((each) => startWords(each, set)));
  assert.deepEqual(told, [
    ...['E', 'a click on Bell', 'swing at 0.47 s', 'after toll', 'the walker nears Door'],
    ...['after z', 'after a'],
  ]);
  assert.equal(startWords({ by: 'away', of: 'pointer', to: 'gone' }, set), 'the pointer leaves what is gone');
  assert.deepEqual(
    [
      playWords(cue('a', 2)),
      playWords({ ...cue('a', 1), play: 'looped' }),
      playWords({ ...cue('a', 1), after: 'let go' }),
    ],
    ['2.00 s, then holds', '1.00 s, over and over', '1.00 s, then lets go'],
  );
  const rule = { id: 'r', material: 'm', parameter: 'p' };
  assert.deepEqual(
    [
      driveWords({ ...rule, by: 'place', of: 'b' }, set.props),
      driveWords({ ...rule, by: 'distance', of: 'walker', to: 'd' }, set.props),
      driveWords({ ...rule, by: 'spring', of: 'b' }, set.props),
    ],
    ['Bell’s place', 'the walker to Door', 'spring · Bell’s motion'],
  );
});

test('the keys that a set listens to are those of its script and of its cues', () => {
  const script = 'onKey(\'Space\', () => 0); onTick(() => isHeld("KeyW")); onClick(() => 0);';
  assert.deepEqual(keysHeard(set, script), ['Space', 'W', 'click swing', 'E swing']);
  const flourishes = [{ name: 'spray', starts: [{ by: 'key', key: 'KeyE' }] }] as unknown as NonNullable<
    StageDocument['flourishes']
  >;
  assert.deepEqual(keysHeard({ ...set, flourishes }, ''), ['E swing, spray', 'click swing']);
  const off = { ...set, cues: set.cues!.map((each) => ({ ...each, off: true })) };
  assert.deepEqual(keysHeard(off, ''), []);
});
