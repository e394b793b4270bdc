import assert from 'node:assert/strict';
import { mock, test } from 'node:test';
import type { FromScriptWorker } from '#script/protocol.ts';
import { createRehearsal } from './rehearsal.svelte.ts';
import type { Session } from './state/session.svelte.ts';

/** Stands in for the worker: says what it is told to say. */
class Engine {
  static last: Engine;
  onmessage: ((event: { data: FromScriptWorker }) => void) | null = null;
  onerror: ((event: { message?: string }) => void) | null = null;
  isEnded = false;
  constructor() {
    Engine.last = this;
  }
  postMessage(): void {}
  terminate(): void {
    this.isEnded = true;
  }
  enter(line: number): void {
    this.onmessage!({ data: { type: 'entered', script: 0, line } });
  }
  tick(): void {
    this.onmessage!({ data: { type: 'ticked', tick: 1, writes: [], driven: null, logs: [] } });
  }
}
const nothing = (): void => undefined;
const session = {
  ...{ parts: [], played: [], stage: null, part: () => undefined },
  values: { clear: nothing, drive: nothing, put: nothing, driven: new Map() },
} as unknown as Session;

test('an engine that takes long to stand is waited for; one that ran and falls silent is ended, and that is said', () => {
  const real = globalThis.Worker;
  globalThis.Worker = Engine as unknown as typeof Worker;
  mock.timers.enable({ apis: ['setInterval'] });
  try {
    const rehearsal = createRehearsal(session);
    rehearsal.start();
    const first = Engine.last;
    mock.timers.tick(20_000);
    first.tick();
    // No script runs: it is the machine that is slow.
    mock.timers.tick(9_000);
    assert.deepEqual([first.isEnded, rehearsal.mistakes.size], [false, 0]);
    first.enter(7);
    mock.timers.tick(1_000);
    first.tick();
    first.enter(12);
    mock.timers.tick(1_000);
    assert.deepEqual([first.isEnded, rehearsal.running], [false, true]);
    mock.timers.tick(300);
    assert.deepEqual([first.isEnded, rehearsal.running], [true, false]);
    assert.match(rehearsal.mistakes.get('')!.message, /did not answer and was ended; .* line 12/);
    // One that never stands is ended too, and another may be begun.
    rehearsal.stop();
    rehearsal.start();
    assert.equal(rehearsal.mistakes.size, 0);
    mock.timers.tick(31_000);
    assert.equal(Engine.last.isEnded, true);
    assert.match(rehearsal.mistakes.get('')!.message, /within 30 seconds/);
    rehearsal.stop();
    // One that cannot be loaded ends the rehearsal, and says why.
    const said: string[] = [];
    const other = createRehearsal(session, (sentence) => said.push(sentence));
    other.start();
    Engine.last.onerror!({});
    assert.deepEqual([other.running, Engine.last.isEnded], [false, true]);
    assert.match(said.join(), /could not be loaded: the server does not answer/);
    other.start();
    const mistake = { script: -1, line: 0, column: 0, message: 'The script engine could not start: gone.' };
    Engine.last.onmessage!({ data: { type: 'failed', mistake, logs: [] } });
    assert.deepEqual([other.running, said.length], [false, 2]);
  } finally {
    mock.timers.reset();
    globalThis.Worker = real;
  }
});
