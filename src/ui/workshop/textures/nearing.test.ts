import assert from 'node:assert/strict';
import { afterEach, beforeEach, test } from 'node:test';
import type { FromTextureMaker, ShownStep, ToTextureMaker } from '../../../workers/texture.worker.ts';
import { createNearing } from './nearing.ts';

/** Stands in for the worker: keeps what it was asked for, and answers when it is told to. */
class Maker {
  static all: Maker[] = [];
  onmessage: ((event: { data: FromTextureMaker }) => void) | null = null;
  onerror: ((event: { message: string; preventDefault: () => void }) => void) | null = null;
  readonly asked: Extract<ToTextureMaker, { type: 'near' }>[] = [];
  isEnded = false;
  constructor() {
    Maker.all.push(this);
  }
  postMessage(message: ToTextureMaker): void {
    if (message.type === 'near') this.asked.push(message);
  }
  terminate(): void {
    this.isEnded = true;
  }
  answer(data: object, ask = this.asked.at(-1)!.ask): void {
    this.onmessage!({ data: { id: 't', ask, ...data } as FromTextureMaker });
  }
}
const real = globalThis.Worker;
beforeEach(() => {
  Maker.all = [];
  globalThis.Worker = Maker as unknown as typeof Worker;
});
afterEach(() => {
  globalThis.Worker = real;
});
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
  Maker.all[0]!.onerror!({ message: 'out of memory', preventDefault: () => undefined });
  assert.deepEqual([said, Maker.all[0]!.isEnded, shown], [['no', 'out of memory'], true, []]);
  want(near(512, 'b'), 'then');
  assert.equal(Maker.all[1]!.asked[0]!.step, 'b');
});
