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

/** One who is on a line, and the newest version that was sent, and that all is done of. */
interface End {
  readonly receive: Parameters<ConnectCompiler>[0];
  readonly broken: Parameters<ConnectCompiler>[1];
  sent: number;
  done: number;
}
interface Shared {
  readonly worker: Worker;
  readonly ends: Map<number, End>;
}
/** One for the page: a compiler that has compiled before takes half the time of a new one. */
let shared: Shared | null = null;
let lines = 0;

const stop = (ended: Shared): void => {
  ended.worker.terminate();
  if (shared === ended) shared = null;
};
const begin = (): Shared => {
  const worker = new Worker(new URL('../../workers/compile.worker.ts', import.meta.url), { type: 'module' });
  const made: Shared = { worker, ends: new Map() };
  worker.onmessage = ({ data: { line, message } }: MessageEvent<OnLine<FromCompiler>>) => {
    const end = made.ends.get(line);
    if (end && message.type === 'idle') end.done = message.version;
    end?.receive(message);
  };
  worker.onerror = (event) => {
    event.preventDefault();
    stop(made);
    for (const { broken } of [...made.ends.values()]) broken(event.message);
  };
  return made;
};

/** Compiles in a worker, so that the page is never held. */
export const connectCompiler: ConnectCompiler = (receive, broken) => {
  const on = (shared ??= begin());
  const line = (lines += 1);
  const end: End = { receive, broken, sent: 0, done: 0 };
  on.ends.set(line, end);
  const post = (message: ToCompilers['message']): void =>
    on.worker.postMessage({ line, message } satisfies ToCompilers);
  return {
    send: (message) => {
      end.sent = message.version;
      post(message);
    },
    close: () => {
      on.ends.delete(line);
      // What it may still work on is nobody's any more, and would be waited for by who comes next.
      if (end.done < end.sent && !on.ends.size) stop(on);
      else post(null);
    },
  };
};
