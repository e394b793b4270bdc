import { parentPort, type Transferable } from 'node:worker_threads';
import { ApiError } from '../errors.ts';
import { JOBS } from './work.ts';
import type { FromThread, ToThread } from './threads.ts';

/** The buffers of an answer, which are handed over and not copied. */
const buffersIn = (value: unknown): ArrayBuffer[] => {
  if (ArrayBuffer.isView(value)) return value.buffer instanceof ArrayBuffer ? [value.buffer] : [];
  if (Array.isArray(value)) return value.flatMap(buffersIn);
  if (typeof value === 'object' && value !== null) return Object.values(value).flatMap(buffersIn);
  return [];
};
/** Small buffers lie in a pool that Node shares among them. */
const isWhole = (view: ArrayBufferView): boolean => view.byteLength === view.buffer.byteLength;
const wholeViews = (value: unknown): unknown =>
  ArrayBuffer.isView(value) && !isWhole(value) ? Uint8Array.from(value as Uint8Array) : value;

parentPort!.on('message', ({ job, given }: ToThread) => {
  const answer = (message: FromThread, transfer: ArrayBuffer[] = []): void =>
    parentPort!.postMessage(message, transfer as Transferable[]);
  Promise.resolve()
    .then(() => (JOBS[job] as (...all: unknown[]) => unknown)(...given))
    .then((made) => {
      const result = wholeViews(made);
      answer({ result }, [...new Set(buffersIn(result))]);
    })
    .catch((error: unknown) => {
      if (error instanceof ApiError) {
        const { status, code, message, details } = error;
        answer({ refused: { status, code, message, details } });
      } else answer({ failed: error instanceof Error ? (error.stack ?? error.message) : String(error) });
    });
});
