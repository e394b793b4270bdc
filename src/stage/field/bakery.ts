import type { FromBaker, Refused, ToBaker } from './bake.worker.ts';
import type { ToBake } from './bakeVolume.ts';
import { keepVolume, keptVolume } from './keepVolumes.ts';
import type { Volume } from '#core/meshes/volume.ts';

/** How far the baking of volumes has come. */
export interface Baking {
  readonly done: number;
  readonly of: number;
}
type Order = { readonly key: string; readonly mesh: () => ToBake };

/** Bakes volumes in a worker, one after another, each once; what was baked on an earlier visit is taken from there. */
export const createBakery = (events: {
  /** Whether what was not kept on an earlier visit is baked. */
  readonly bakes: boolean;
  readonly onVolume: (key: string, volume: Volume) => void;
  readonly onRefused: (key: string, refused: Refused) => void;
  /** Null once nothing is being baked. */
  readonly onProgress: (baking: Baking | null) => void;
}) => {
  let worker: Worker | null = null;
  const waiting: Order[] = [];
  const asked = new Set<string>();
  let current: string | null = null;
  let share = 0;
  let done = 0;
  let disposed = false;
  const settling: (() => void)[] = [];

  const tell = (): void => {
    const of = done + waiting.length + (current === null ? 0 : 1);
    if (current === null) done = 0;
    events.onProgress(current === null ? null : { done: done + share, of });
    if (current === null) for (const resolve of settling.splice(0)) resolve();
  };
  const settle = (): void => {
    [current, share] = [null, 0];
    done += 1;
    void next();
  };
  const receive = ({ data }: MessageEvent<FromBaker>): void => {
    if (data.key !== current) return;
    if ('share' in data) {
      share = data.share;
      return tell();
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
  const next = async (): Promise<void> => {
    const order = waiting.shift();
    current = order?.key ?? null;
    tell();
    if (!order) return;
    const kept = await keptVolume(order.key);
    if (disposed || current !== order.key) return;
    if (kept) {
      events.onVolume(order.key, kept);
      return settle();
    }
    if (!events.bakes) return settle();
    worker ??= start();
    worker.postMessage({ key: order.key, ...order.mesh() } satisfies ToBaker);
  };
  return {
    /** Asks for a volume that was not asked for before. */
    ask: (key: string, mesh: () => ToBake): void => {
      if (asked.has(key)) return;
      asked.add(key);
      waiting.push({ key, mesh });
      if (current === null) void next();
      else tell();
    },
    isBaking: (): boolean => current !== null,
    /** Resolves once nothing is being baked. */
    settled: (): Promise<void> =>
      current === null ? Promise.resolve() : new Promise((resolve) => settling.push(resolve)),
    /** Gives up what is being baked and what waits; it may be asked for again once `forget` says so. */
    cancel: (): void => {
      stop();
      for (const { key } of waiting.splice(0)) asked.delete(key);
      if (current !== null) asked.delete(current);
      [current, share] = [null, 0];
      tell();
    },
    /** What no longer stands may be asked for again. */
    forget: (key: string): void => void asked.delete(key),
    dispose: (): void => {
      disposed = true;
      stop();
      waiting.length = 0;
      current = null;
      for (const resolve of settling.splice(0)) resolve();
    },
  };
};
