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

/** Compiles in a worker, so that the page is never held. */
export const connectCompiler: ConnectCompiler = (receive, broken) => {
  const worker = new Worker(new URL('../../workers/compile.worker.ts', import.meta.url), {
    type: 'module',
  });
  worker.onmessage = ({ data }: MessageEvent<FromCompiler>) => receive(data);
  worker.onerror = (event) => {
    event.preventDefault();
    broken(event.message);
  };
  return { send: (message) => worker.postMessage(message), close: () => worker.terminate() };
};
