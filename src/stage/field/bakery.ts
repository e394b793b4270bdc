import type { FromBaker, Refused, ToBaker } from './bake.worker.ts';
import type { ToBake } from './bakeVolume.ts';
import { keepVolume, keptVolume } from './keepVolumes.ts';
import type { Volume } from '#core/meshes/volume.ts';

/** How far the baking of volumes has come. */
export interface Baking {
  readonly done: number;
  readonly of: number;
}

/** How long a volume must have been wanted before it is baked: a prop that is being scaled needs another each frame. */
const STEADY_MS = 150;

/**
 * Bakes volumes in a worker, one after another. What was baked on an earlier visit is taken from there. Orders that are
 * no longer wanted are dropped, also the one being baked.
 */
export const createBakery = (events: {
  /** Whether what was not kept on an earlier visit is baked. */
  readonly bakes: boolean;
  readonly onVolume: (key: string, volume: Volume) => void;
  readonly onRefused: (key: string, refused: Refused) => void;
  /** Null once nothing is being baked. */
  readonly onProgress: (baking: Baking | null) => void;
}) => {
  let worker: Worker | null = null;
  /** What is wanted and not being baked, in order, and since when. */
  const waiting = new Map<string, { readonly order: ToBake; readonly since: number }>();
  /** Wanted, looked for, and neither kept nor to be baked. */
  const absent = new Set<string>();
  let current: string | null = null;
  let share = 0;
  let done = 0;
  let disposed = false;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const settling: (() => void)[] = [];

  const isIdle = (): boolean => current === null && !waiting.size;
  const report = (): void => {
    const of = done + waiting.size + (current === null ? 0 : 1);
    if (isIdle()) done = 0;
    events.onProgress(isIdle() ? null : { done: done + share, of });
    if (isIdle()) for (const resolve of settling.splice(0)) resolve();
  };
  const settle = (): void => {
    [current, share] = [null, 0];
    done += 1;
    next();
  };
  const receive = ({ data }: MessageEvent<FromBaker>): void => {
    if (data.key !== current) return;
    if ('share' in data) {
      share = data.share;
      return report();
    }
    if ('volume' in data) {
      void keepVolume(data.key, data.volume);
      events.onVolume(data.key, data.volume);
    } else events.onRefused(data.key, data.refused);
    settle();
  };
  const start = (): Worker => {
    const made = new Worker(new URL('./bake.worker.ts', import.meta.url), { type: 'module' });
    made.onmessage = receive;
    made.onerror = (event) => {
      event.preventDefault();
      if (current !== null)
        events.onRefused(current, { why: event.message || 'the worker stopped', isOpen: false });
      stop();
      settle();
    };
    return made;
  };
  const stop = (): void => {
    worker?.terminate();
    worker = null;
  };
  const next = (): void => {
    clearTimeout(timer);
    const [first] = waiting;
    if (first) {
      const left = first[1].since + STEADY_MS - performance.now();
      if (left > 0) timer = setTimeout(next, left);
      else void bake(first[0], first[1].order);
    }
    report();
  };
  const bake = async (key: string, order: ToBake): Promise<void> => {
    waiting.delete(key);
    current = key;
    const kept = await keptVolume(key);
    if (disposed || current !== key) return;
    if (kept) {
      events.onVolume(key, kept);
      return settle();
    }
    if (!events.bakes) {
      absent.add(key);
      return settle();
    }
    worker ??= start();
    worker.postMessage({ key, ...order } satisfies ToBaker);
  };
  return {
    /** Orders the volumes that are missing now, by their keys; those ordered before and not among them are dropped. */
    want: (orders: ReadonlyMap<string, ToBake>): void => {
      let changed = false;
      for (const key of waiting.keys()) if (!orders.has(key)) changed = waiting.delete(key);
      for (const key of absent) if (!orders.has(key)) absent.delete(key);
      if (current !== null && !orders.has(current)) {
        // Worth the worker's start: a large mesh takes seconds.
        stop();
        [current, share] = [null, 0];
        changed = true;
      }
      for (const [key, order] of orders) {
        if (waiting.has(key) || absent.has(key) || key === current) continue;
        waiting.set(key, { order, since: performance.now() });
        changed = true;
      }
      if (!changed) return;
      if (current === null) next();
      else report();
    },
    isBaking: (): boolean => !isIdle(),
    /** Resolves once nothing is being baked. */
    settled: (): Promise<void> =>
      isIdle() ? Promise.resolve() : new Promise((resolve) => settling.push(resolve)),
    dispose: (): void => {
      disposed = true;
      clearTimeout(timer);
      stop();
      waiting.clear();
      current = null;
      for (const resolve of settling.splice(0)) resolve();
    },
  };
};
