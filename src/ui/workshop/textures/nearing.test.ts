import assert from 'node:assert/strict';
import { test } from 'node:test';
import type { ShownStep } from '../../../workers/texture.worker.ts';
import { Maker, withMakers } from './maker.testing.ts';
import { createNearing } from './nearing.ts';

withMakers();
const near = (longest: number, step = 'a') => ({ id: 't', step, longest, holds: 'numbers' }) as const;
const nearing = () => {
  const [shown, shares, said]: [unknown[], unknown[], string[]] = [[], [], []];
  const made = createNearing({
    know: () => ({ type: 'know', recipes: [], parts: [] }),
    show: (step, as) => shown.push([step.id, as]),
    progress: (id, share) => shares.push([id, share]),
    failed: (why) => said.push(why),
  });
  return { ...made, shown, shares, said };
};
const step = { id: 'a' } as ShownStep;

test('what is looked at nearer is made once, the newest wins, and without it no worker is kept', () => {
  const { want, shown, shares } = nearing();
  want(null);
  assert.equal(Maker.all.length, 0);
  want(near(512), 'now');
  want(near(512), 'now');
  const [first] = Maker.all as [Maker];
  assert.equal(first.asked.length, 1);
  first.answer({ type: 'progress', share: 0.5 });
  // It goes on where it was done, with all that it made; where it is at it another takes its place.
  first.answer({ type: 'step', step });
  want(near(1024), 'now');
  assert.deepEqual([Maker.all.length, first.asked.length, first.isEnded], [1, 2, false]);
  want(near(1024), 'then');
  const second = Maker.all[1]!;
  assert.deepEqual([first.isEnded, second.asked.length], [true, 1]);
  first.answer({ type: 'step', step });
  second.answer({ type: 'step', step });
  assert.deepEqual(shown, [['a', 'now'], ['a', 'then']]); // prettier-ignore
  assert.deepEqual(shares, [['t', 0.5], ['t', null], ['t', null], ['t', null]]); // prettier-ignore
  want(null);
  assert.equal(second.isEnded, true);
});

test('why one cannot be made larger is told, and one that breaks is begun anew', () => {
  const { want, said, shown } = nearing();
  want(near(512), 'now');
  Maker.all[0]!.answer({ type: 'refused', why: 'no' });
  want(near(512), 'then');
  Maker.all[0]!.break('out of memory');
  assert.deepEqual([said, Maker.all[0]!.isEnded, shown], [['no', 'out of memory'], true, []]);
  want(near(512, 'b'), 'then');
  assert.equal((Maker.all[1]!.asked[0] as { step: string }).step, 'b');
});
