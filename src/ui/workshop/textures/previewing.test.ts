import assert from 'node:assert/strict';
import { mock, test } from 'node:test';
import type { ShownStep } from '../../../workers/texture.worker.ts';
import { Maker, withMakers } from './maker.testing.ts';
import { createPreviewing, type Preview, type Previewed } from './previewing.ts';

withMakers();
const step = (id: string, mistake: string | null = null) => ({ id, mistake }) as ShownStep;
const seam = { across: [0, 0], inside: [0, 0] } as const;

const previewing = (
  longestOf: (id: string) => number | null = () => 96,
  more: Partial<Pick<Previewed, 'mayBegin' | 'isWanted' | 'left' | 'progress'>> = {},
) => {
  const previews = new Map<string, Preview>();
  const said: string[] = [];
  const made = createPreviewing({
    know: () => ({ type: 'know', recipes: [], parts: [] }),
    askOf: (id) => {
      const longest = longestOf(id);
      return longest === null ? null : { longest, holds: 'numbers', first: 'b' };
    },
    ...more,
    first: (waiting) => waiting.toSorted()[0]!,
    show: (id, preview) => previews.set(id, preview),
    failed: (why, id) => said.push(id === undefined ? why : `${id}: ${why}`),
  });
  const steps = (id: string) => previews.get(id)?.steps.map((each) => [each.id, each.mistake]);
  return { ...made, previews, said, steps };
};

test('one texture is made at a time, the first of those that wait, and one that is not wanted any more is passed over', () => {
  const gone = new Set<string>();
  const { want, steps, said } = previewing((id) => (gone.has(id) ? null : 96));
  want([]);
  assert.equal(Maker.all.length, 0);
  want(['m', 'z']);
  want(['c', 'z']);
  const [maker] = Maker.all as [Maker];
  const asked = () => maker.asked.map(({ id }) => id);
  assert.deepEqual(asked(), ['m']);
  gone.add('c');
  maker.answer({ type: 'previewed', steps: [step('a')], seam });
  assert.deepEqual([asked(), steps('m')], [['m', 'z'], [['a', null]]]);
  // A refusal ends it too, and is told; what was there stays, and what is asked for while it is made is made again.
  want(['z']);
  maker.answer({ type: 'refused', why: 'no' });
  assert.deepEqual([asked(), steps('z'), said], [['m', 'z', 'z'], undefined, ['z: no']]);
});

test('none is begun before one may be, and those that waited are begun then', () => {
  let isFree = false;
  const { want, next } = previewing(undefined, { mayBegin: () => isFree });
  want(['a']);
  next();
  const [maker] = Maker.all as [Maker];
  assert.equal(maker.asked.length, 0);
  isFree = true;
  next();
  assert.deepEqual(
    maker.asked.map(({ id }) => id),
    ['a'],
  );
});

test('the step that is looked at comes first, and what is the same as before is not sent again', () => {
  const { want, steps, previews } = previewing();
  want(['t']);
  const [maker] = Maker.all as [Maker];
  // Nothing is shown of a texture before all of its steps are there.
  maker.answer({ type: 'step', step: step('b') });
  assert.equal(steps('t'), undefined);
  maker.answer({ type: 'previewed', steps: [step('a'), { id: 'b', isSame: true }], seam });
  assert.deepEqual(steps('t'), [['a', null], ['b', null]]); // prettier-ignore
  want(['t']);
  maker.answer({ type: 'step', step: step('b', 'second') });
  assert.deepEqual(steps('t'), [['a', null], ['b', 'second']]); // prettier-ignore
  // An answer to what was asked before is not one.
  maker.answer({ type: 'previewed', steps: [step('x')], seam, ask: 1 });
  assert.equal(previews.get('t')!.steps.length, 2);
  maker.answer({ type: 'previewed', steps: [{ id: 'a', isSame: true }, { id: 'b', isSame: true }], seam }); // prettier-ignore
  assert.deepEqual(steps('t'), [['a', null], ['b', 'second']]); // prettier-ignore
});

test('what is the same is what this worker made of it, whatever another has shown since', () => {
  const { want, steps, previews } = previewing();
  want(['t']);
  const [maker] = Maker.all as [Maker];
  maker.answer({ type: 'previewed', steps: [step('a'), step('b')], seam });
  previews.set('t', { steps: [step('a', 'of another'), step('b', 'of another')], seam, longest: 96 });
  want(['t']);
  maker.answer({ type: 'previewed', steps: [{ id: 'a', isSame: true }, step('b', 'new')], seam });
  assert.deepEqual(steps('t'), [['a', null], ['b', 'new']]); // prettier-ignore
});

test('long work that is not wanted any more is ended after a while, and goes on where it still is', () => {
  mock.timers.enable({ apis: ['setTimeout'] });
  let now = 0;
  const clock = mock.method(performance, 'now', () => now);
  const pass = (milliseconds: number): void => {
    now += milliseconds;
    mock.timers.tick(milliseconds);
  };
  try {
    let isWanted = true;
    const [gone, shares]: [string[], unknown[]] = [[], []];
    const { want, steps } = previewing(undefined, {
      ...{ isWanted: () => isWanted, left: (id) => gone.push(id) },
      progress: (...told) => shares.push(told),
    });
    const latest = () => Maker.all.at(-1)!;
    want(['t']);
    latest().answer({ type: 'progress', share: 0.25 });
    pass(2000);
    want(['t']);
    // It is made of the same long work still: what that came to is kept, and the rest is made anew after it.
    pass(2000);
    assert.deepEqual([Maker.all.length, latest().isEnded], [1, false]);
    latest().answer({ type: 'previewed', steps: [step('a')], seam });
    assert.deepEqual([latest().asked.length, shares], [2, [['t', 0.25], ['t', null]]]); // prettier-ignore
    // What takes a moment is waited for.
    isWanted = false;
    want(['t']);
    pass(400);
    assert.equal(latest().isEnded, false);
    latest().answer({ type: 'previewed', steps: [step('a', 'second')], seam });
    assert.deepEqual([steps('t'), latest().asked.length], [[['a', 'second']], 3]);
    pass(300);
    assert.equal(Maker.all.length, 1);
    // What takes longer is not, and what it was changed to is begun by another worker.
    want(['t']);
    pass(300);
    assert.deepEqual([Maker.all.length, Maker.all[0]!.isEnded], [2, true]);
    assert.deepEqual([latest().asked.length, gone], [1, []]);
    latest().answer({ type: 'previewed', steps: [step('a', 'third')], seam });
    assert.deepEqual(steps('t'), [['a', 'third']]);
    // One that is not in hand any more is given up, and nothing of it is shown.
    want(['u']);
    want([]);
    pass(600);
    assert.deepEqual([latest().isEnded, gone, Maker.all.length], [true, ['u'], 2]);
    Maker.all[1]!.answer({ type: 'previewed', steps: [step('a')], seam });
    assert.equal(steps('u'), undefined);
  } finally {
    clock.mock.restore();
    mock.timers.reset();
  }
});

test('a worker that breaks says why, and another is begun with what is wanted next', () => {
  const { want, said, steps } = previewing();
  want(['t']);
  Maker.all[0]!.break('out of memory');
  assert.deepEqual(said, ['out of memory']);
  want(['u']);
  const second = Maker.all[1]!;
  second.answer({ type: 'previewed', steps: [step('a')], seam });
  assert.deepEqual(steps('u'), [['a', null]]);
});
