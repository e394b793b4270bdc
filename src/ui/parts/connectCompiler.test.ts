import assert from 'node:assert/strict';
import { test, type TestContext } from 'node:test';
import type { OnLine, ToCompilers } from '#core/compileLines.ts';
import type { FromCompiler } from '#core/compileParts.ts';
import { connectCompiler } from './connectCompiler.ts';

/** Workers that do nothing but what they are told to. */
const stub = (t: TestContext) => {
  const workers: Stub[] = [];
  class Stub {
    readonly told: ToCompilers[] = [];
    isOver = false;
    onmessage: ((event: { data: OnLine<FromCompiler> }) => void) | null = null;
    onerror: ((event: { message: string; preventDefault: () => void }) => void) | null = null;
    constructor() {
      workers.push(this);
    }
    postMessage(message: ToCompilers): void {
      this.told.push(message);
    }
    terminate(): void {
      this.isOver = true;
    }
    /** All is done that was sent on the line of the n-th message. */
    rest(n: number): void {
      const { line, message } = this.told[n]!;
      this.onmessage!({ data: { line, message: { type: 'idle', version: message!.version } } });
    }
  }
  const before = globalThis.Worker;
  globalThis.Worker = Stub as unknown as typeof Worker;
  t.after(() => (globalThis.Worker = before));
  return workers;
};
const forget = (version: number) => ({ type: 'forget', id: 'bell', version }) as const;

test('compilers of a page share a worker, which outlives them unless it is left at work, and tells all of them where it stops', (t) => {
  const workers = stub(t);
  const said: string[] = [];
  const connect = (name: string) =>
    connectCompiler(
      ({ type }) => said.push(`${name} ${type}`),
      (why) => said.push(`${name} ${why}`),
    );
  const first = connect('first');
  const second = connect('second');
  first.send(forget(1));
  second.send(forget(1));
  workers[0]!.rest(1);
  assert.deepEqual(said.splice(0), ['second idle']);
  second.close();
  workers[0]!.rest(1);
  workers[0]!.rest(0);
  assert.deepEqual(said.splice(0), ['first idle']);
  first.close();
  const third = connect('third');
  assert.deepEqual([workers.length, workers[0]!.isOver], [1, false]);
  // Who leaves it at work, and was the last, ends it; while another is on, it goes on.
  third.send(forget(4));
  const fourth = connect('fourth');
  third.close();
  assert.equal(workers[0]!.isOver, false);
  fourth.send(forget(2));
  fourth.close();
  assert.equal(workers[0]!.isOver, true);
  const [fifth] = [connect('fifth'), connect('sixth')];
  workers[1]!.onerror!({ message: 'out of memory', preventDefault: () => undefined });
  assert.deepEqual(said, ['fifth out of memory', 'sixth out of memory']);
  fifth.close();
  connect('seventh').close();
  assert.deepEqual([workers.length, workers[1]!.isOver, workers[2]!.isOver], [3, true, false]);
});
