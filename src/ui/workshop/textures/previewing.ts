import type { Seam } from '#core/images/seams.ts';
import type { FromTextureMaker, ShownStep, ToTextureMaker } from '../../../workers/texture.worker.ts';

/** What a texture looks like now, step by step. */
export interface Preview {
  readonly steps: readonly ShownStep[];
  readonly seam: Seam | null;
  readonly longest: number;
}
type Ask = Omit<Extract<ToTextureMaker, { type: 'preview' }>, 'type' | 'ask' | 'id'>;

export interface Previewed {
  readonly know: () => Extract<ToTextureMaker, { type: 'know' }>;
  /** What is to be made of a texture; null where it is not wanted here any more. */
  readonly askOf: (id: string) => Ask | null;
  /** Which of those that wait is next. */
  readonly first: (waiting: readonly string[]) => string;
  /** Whether one may be begun now; once it may again, `next` is to be called. */
  readonly mayBegin?: () => boolean;
  readonly shown: (id: string) => Preview | undefined;
  readonly show: (id: string, preview: Preview) => unknown;
  readonly failed: (why: string) => unknown;
}

/** Makes small pictures of textures in a worker, one texture at a time: one that is changed meanwhile is asked for once. */
export const createPreviewing = ({
  know,
  askOf,
  first,
  mayBegin = () => true,
  shown,
  show,
  failed,
}: Previewed) => {
  let worker: Worker | null = null;
  let asks = 0;
  let asked: { readonly ask: number; readonly longest: number } | null = null;
  /** The step that is looked at, which comes before the others. */
  let early: ShownStep | null = null;
  const waiting = new Set<string>();

  const receive = (data: FromTextureMaker): void => {
    if (asked?.ask !== data.ask) return;
    const { longest } = asked;
    const before = 'id' in data ? shown(data.id) : undefined;
    if (data.type === 'step') {
      early = data.step;
      if (before?.longest !== longest) return;
      const steps = before.steps.map((each) => (each.id === data.step.id ? data.step : each));
      show(data.id, { ...before, steps });
      return;
    }
    if (data.type === 'previewed') {
      const there = new Map(
        [...(before?.steps ?? []), ...(early ? [early] : [])].map((each) => [each.id, each]),
      );
      const steps = data.steps.flatMap((each) => ('isSame' in each ? (there.get(each.id) ?? []) : [each]));
      show(data.id, { steps, seam: data.seam, longest });
    }
    asked = null;
    early = null;
    next();
  };
  const start = (): Worker => {
    const made = new Worker(new URL('../../../workers/texture.worker.ts', import.meta.url), {
      type: 'module',
    });
    made.onmessage = ({ data }: MessageEvent<FromTextureMaker>) => receive(data);
    made.onerror = (event) => {
      event.preventDefault();
      failed(event.message);
      end();
    };
    return made;
  };
  const end = (): void => {
    worker?.terminate();
    worker = null;
    asked = null;
    early = null;
  };
  const next = (): void => {
    while (!asked && worker && waiting.size && mayBegin()) {
      const id = first([...waiting]);
      waiting.delete(id);
      const ask = askOf(id);
      if (!ask) continue;
      asked = { ask: (asks += 1), longest: ask.longest };
      worker.postMessage({ type: 'preview', ...ask, id, ask: asks } satisfies ToTextureMaker);
    }
  };
  return {
    /** Has textures made, of which all is told anew. */
    want: (ids: readonly string[]): void => {
      if (!ids.length) return;
      worker ??= start();
      worker.postMessage(know());
      for (const id of ids) waiting.add(id);
      next();
    },
    next,
    end,
  };
};
