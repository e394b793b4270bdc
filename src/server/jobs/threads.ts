import { Worker } from 'node:worker_threads';
import { ApiError, type ErrorCode } from '../errors.ts';
import type { Jobs } from './work.ts';

export interface ToThread {
  readonly job: keyof Jobs;
  readonly given: readonly unknown[];
}
export type FromThread =
  | { readonly result: unknown }
  | {
      readonly refused: {
        readonly status: number;
        readonly code: ErrorCode;
        readonly message: string;
        readonly details: Readonly<Record<string, unknown>>;
      };
    }
  | { readonly failed: string };

/** The bundle of `jobs.worker.ts`, which a thread runs. */
const fileOf = (): string => {
  const file = process.env['JOBS_FILE'];
  if (!file)
    throw new Error(
      'JOBS_FILE is not set; npm run build makes build/jobs.mjs, and the start command names it.',
    );
  return file;
};

/** A thread is left alone for so long before it goes. */
const IDLE_MS = 30_000;

/** How threads are used. */
interface Limits {
  /** Threads at the same time: each may hold a large picture. */
  readonly threads: number;
  /** Jobs that wait; more are refused. */
  readonly waiting: number;
  /** A job that takes longer is ended with its thread. */
  readonly longestMs: number;
}

interface Waiting extends ToThread {
  readonly resolve: (result: unknown) => void;
  readonly reject: (error: unknown) => void;
}

/** A thread, what it works on, and when that is ended, or it goes itself. */
interface Thread {
  readonly worker: Worker;
  job: Waiting | null;
  timer: NodeJS.Timeout | undefined;
}

/** Runs jobs in threads, so that none holds the server; a job that takes too long is ended. */
export const createThreads = ({ threads: most, waiting: mostWaiting, longestMs }: Limits) => {
  const waiting: Waiting[] = [];
  const threads = new Set<Thread>();

  const end = (thread: Thread): void => {
    clearTimeout(thread.timer);
    threads.delete(thread);
    void thread.worker.terminate();
  };
  /** Takes a thread's job from it. */
  const taken = (thread: Thread): Waiting | null => {
    const { job } = thread;
    thread.job = null;
    return job;
  };
  const fail = (thread: Thread, why: unknown): void => {
    const job = taken(thread);
    end(thread);
    job?.reject(why);
    next();
  };
  const receive = (thread: Thread, message: FromThread): void => {
    const job = taken(thread);
    clearTimeout(thread.timer);
    // An idle one keeps no process alive.
    thread.worker.unref();
    thread.timer = setTimeout(() => end(thread), IDLE_MS).unref();
    if ('result' in message) job?.resolve(message.result);
    else if ('refused' in message) {
      const { status, code, message: said, details } = message.refused;
      job?.reject(new ApiError(status, code, said, details));
    } else job?.reject(new Error(message.failed));
    next();
  };
  const begin = (): Thread => {
    const worker = new Worker(fileOf(), { resourceLimits: { maxOldGenerationSizeMb: 1024 } });
    const thread: Thread = { worker, job: null, timer: undefined };
    threads.add(thread);
    worker.on('message', (message: FromThread) => receive(thread, message));
    worker.on('error', (error: NodeJS.ErrnoException) =>
      fail(
        thread,
        error.code === 'ERR_WORKER_OUT_OF_MEMORY'
          ? new ApiError(422, 'too-large', 'This takes more memory to read than the server gives it.')
          : error,
      ),
    );
    return thread;
  };
  const next = (): void => {
    const idle = [...threads].find(({ job }) => !job);
    if (!waiting.length || (!idle && threads.size >= most)) return;
    const thread = idle ?? begin();
    const job = waiting.shift()!;
    thread.job = job;
    thread.worker.ref();
    clearTimeout(thread.timer);
    thread.timer = setTimeout(
      () =>
        fail(
          thread,
          new ApiError(
            422,
            'too-large',
            `This takes longer than ${longestMs / 1000} seconds to read; it is refused.`,
          ),
        ),
      longestMs,
    );
    thread.worker.postMessage({ job: job.job, given: job.given } satisfies ToThread);
  };
  return {
    /** @throws ApiError as the job does; 503 where too many wait; 422 where it takes too long or too much memory */
    run: <J extends keyof Jobs>(
      job: J,
      ...given: Parameters<Jobs[J]>
    ): Promise<Awaited<ReturnType<Jobs[J]>>> => {
      if (waiting.length >= mostWaiting)
        return Promise.reject(
          new ApiError(503, 'too-busy', 'The server is reading other files just now. Try again shortly.'),
        );
      return new Promise((resolve, reject) => {
        waiting.push({ job, given, resolve: resolve as Waiting['resolve'], reject });
        next();
      });
    },
    close: (): void => {
      for (const each of [...threads]) end(each);
    },
  };
};

/** The server's own: two, so that a large picture leaves one for the next request. */
const shared = createThreads({ threads: 2, waiting: 50, longestMs: 30_000 });
export const runJob = shared.run;
