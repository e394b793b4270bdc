import type { OnLine, ToCompilers } from '#core/compileLines.ts';
import type { FromCompiler, ToCompiler } from '#core/compileParts.ts';

/** A compiler somewhere else: what is sent to it is answered in order. */
export interface CompilerLine {
  readonly send: (message: ToCompiler) => void;
  readonly close: () => void;
}

export type ConnectCompiler = (
  receive: (message: FromCompiler) => void,
  /** Called where it stopped, with what is known of why. */
  broken: (why: string) => void,
) => CompilerLine;

interface Shared {
  readonly worker: Worker;
  readonly ends: Map<
    number,
    { readonly receive: Parameters<ConnectCompiler>[0]; readonly broken: (why: string) => void }
  >;
}
/** One for the page: a compiler that has compiled before takes half the time of a new one. */
let shared: Shared | null = null;
let lines = 0;

const begin = (): Shared => {
  const worker = new Worker(new URL('../../workers/compile.worker.ts', import.meta.url), { type: 'module' });
  const made: Shared = { worker, ends: new Map() };
  worker.onmessage = ({ data: { line, message } }: MessageEvent<OnLine<FromCompiler>>) =>
    made.ends.get(line)?.receive(message);
  worker.onerror = (event) => {
    event.preventDefault();
    worker.terminate();
    if (shared === made) shared = null;
    for (const { broken } of [...made.ends.values()]) broken(event.message);
  };
  return made;
};

/** Compiles in a worker, so that the page is never held. */
export const connectCompiler: ConnectCompiler = (receive, broken) => {
  const { worker, ends } = (shared ??= begin());
  const line = (lines += 1);
  ends.set(line, { receive, broken });
  const post = (message: ToCompilers['message']): void =>
    worker.postMessage({ line, message } satisfies ToCompilers);
  return {
    send: post,
    close: () => {
      ends.delete(line);
      post(null);
    },
  };
};
