import type { Seam } from '#core/images/seams.ts';
import type { FromTextureMaker, ShownStep, ToTextureMaker } from '../../../workers/texture.worker.ts';
import { startMaker } from './startMaker.ts';

/** What a texture looks like now, step by step. */
export interface Preview {
  readonly steps: readonly ShownStep[];
  readonly seam: Seam | null;
  readonly longest: number;
}
type Ask = Omit<Extract<ToTextureMaker, { type: 'preview' }>, 'type' | 'ask' | 'id'>;

/** How long one that is not wanted as it was asked for may go on being made. */
const PATIENCE_MS = 500;

export interface Previewed {
  readonly know: () => Extract<ToTextureMaker, { type: 'know' }>;
  /** What is to be made of a texture; null where it is not wanted here any more. */
  readonly askOf: (id: string) => Ask | null;
  /** Which of those that wait is next. */
  readonly first: (waiting: readonly string[]) => string;
  /** Whether one may be begun now; once it may again, `next` is to be called. */
  readonly mayBegin?: () => boolean;
  /** Whether a texture is still to be made as it was asked for last; long work that is not is ended. */
  readonly isWanted?: (id: string) => boolean;
  /** Told of one that was ended so, and is not asked for anew. */
  readonly left?: (id: string) => unknown;
  readonly show: (id: string, preview: Preview) => unknown;
  /** Told how much of a texture is made, where that takes long; null once it is. */
  readonly progress?: (id: string, share: number | null) => unknown;
  /** Told why a texture could not be made, or none can. */
  readonly failed: (why: string, id?: string) => unknown;
}

/** Makes small pictures of textures in a worker, one texture at a time: one that is changed meanwhile is asked for once. */
export const createPreviewing = ({
  know,
  askOf,
  first,
  mayBegin = () => true,
  isWanted = () => true,
  left,
  show,
  progress,
  failed,
}: Previewed) => {
  let worker: Worker | null = null;
  let asks = 0;
  let asked: {
    readonly ask: number;
    readonly id: string;
    readonly longest: number;
    readonly at: number;
  } | null = null;
  let patience: ReturnType<typeof setTimeout> | undefined;
  /** What this worker made of each texture: another’s may be shown, and what is the same is the same as these. */
  const made = new Map<string, Preview>();
  /** The step that is looked at, which comes before the others. */
  let early: ShownStep | null = null;
  const waiting = new Set<string>();

  const receive = (data: FromTextureMaker): void => {
    if (asked?.ask !== data.ask) return;
    const { id, longest } = asked;
    const before = made.get(id);
    if (data.type === 'progress') return void progress?.(id, data.share);
    if (data.type === 'step') {
      early = data.step;
      if (before?.longest !== longest) return;
      const steps = before.steps.map((each) => (each.id === data.step.id ? data.step : each));
      show(id, { ...before, steps });
      return;
    }
    if (data.type === 'previewed') {
      const there = new Map(
        [...(before?.steps ?? []), ...(early ? [early] : [])].map((each) => [each.id, each]),
      );
      const steps = data.steps.flatMap((each) => ('isSame' in each ? (there.get(each.id) ?? []) : [each]));
      const preview = { steps, seam: data.seam, longest };
      made.set(id, preview);
      show(id, preview);
    } else if (data.type === 'refused') failed(data.why, id);
    settle();
    next();
  };
  /** Nothing is being made any more. */
  const settle = (): void => {
    clearTimeout(patience);
    if (asked) progress?.(asked.id, null);
    asked = null;
    early = null;
  };
  const end = (): void => {
    worker?.terminate();
    worker = null;
    made.clear();
    settle();
  };
  const broke = (why: string): void => {
    failed(why);
    end();
  };
  /** Ends long work that is not wanted any more: no message reaches a worker that is at it. */
  const review = (): void => {
    clearTimeout(patience);
    if (!asked || isWanted(asked.id)) return;
    const { id, at } = asked;
    const rest = at + PATIENCE_MS - performance.now();
    if (rest > 0) return void (patience = setTimeout(review, rest));
    end();
    if (!waiting.has(id)) left?.(id);
    if (waiting.size) begin();
  };
  const begin = (): void => {
    worker ??= startMaker(receive, broke);
    worker.postMessage(know());
    next();
  };
  const next = (): void => {
    while (!asked && worker && waiting.size && mayBegin()) {
      const id = first([...waiting]);
      waiting.delete(id);
      const ask = askOf(id);
      if (!ask) continue;
      asked = { ask: (asks += 1), id, longest: ask.longest, at: performance.now() };
      worker.postMessage({ type: 'preview', ...ask, id, ask: asks } satisfies ToTextureMaker);
    }
  };
  return {
    /** Has textures made, of which all is told anew, and looks whether what is being made is still wanted. */
    want: (ids: readonly string[]): void => {
      for (const id of ids) waiting.add(id);
      if (ids.length) begin();
      review();
    },
    next,
    end,
  };
};
