import assert from 'node:assert/strict';
import { test } from 'node:test';
import { createGpuTimer } from './gpuTimer.ts';

/** A card whose answers come when they are told to. */
const card = (isOffered = true) => {
  const state = { answers: new Map<object, number>(), open: 0, made: 0, gone: 0, isDisjoint: false };
  const gl = {
    ...{ QUERY_RESULT_AVAILABLE: 1, QUERY_RESULT: 2 },
    getExtension: () => (isOffered ? { TIME_ELAPSED_EXT: 10, GPU_DISJOINT_EXT: 11 } : null),
    createQuery: () => ((state.made += 1), { number: state.made }),
    deleteQuery: () => void (state.gone += 1),
    beginQuery: () => void (state.open += 1),
    endQuery: () => void (state.open -= 1),
    getParameter: () => state.isDisjoint,
    getQueryParameter: (query: { number: number }, what: number) => {
      const answer = [...state.answers].find(
        ([key]) => (key as { number: number }).number === query.number,
      )?.[1];
      return what === 1 ? answer !== undefined : answer;
    },
  };
  const answer = (number: number, nanoseconds: number) => state.answers.set({ number }, nanoseconds);
  return { state, answer, timer: createGpuTimer(gl as unknown as WebGL2RenderingContext) };
};

test('the card’s time is that of the newest frame it has answered for, in milliseconds', () => {
  const { state, answer, timer } = card();
  assert.deepEqual(timer.read(), { isOffered: true, milliseconds: null });
  timer.around(() => assert.equal(state.open, 1));
  assert.equal(state.open, 0);
  answer(1, 3_500_000);
  assert.deepEqual(timer.read(), { isOffered: true, milliseconds: 3.5 });
  // One that was not answered yet gives way to the next, and none is kept.
  timer.around(() => undefined);
  timer.around(() => undefined);
  assert.deepEqual(timer.read(), { isOffered: true, milliseconds: 3.5 });
  answer(3, 2_000_000);
  assert.deepEqual(timer.read(), { isOffered: true, milliseconds: 2 });
  assert.equal(state.gone, state.made);
  // Where the clock jumped there is no answer; what fails while it is drawn leaves no query open.
  timer.around(() => undefined);
  answer(4, 9e9);
  state.isDisjoint = true;
  assert.deepEqual(timer.read(), { isOffered: true, milliseconds: 2 });
  assert.throws(() => timer.around(() => assert.fail('drawn wrongly')));
  assert.equal(state.open, 0);
});

test('where the browser does not offer it, it says so and draws all the same', () => {
  const { timer } = card(false);
  let drawn = 0;
  timer.around(() => (drawn += 1));
  assert.equal(drawn, 1);
  assert.deepEqual(timer.read(), { isOffered: false });
});
