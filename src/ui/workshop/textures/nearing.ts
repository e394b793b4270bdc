import type { FromTextureMaker, ShownStep, ToTextureMaker } from '../../../workers/texture.worker.ts';
import { startMaker } from './startMaker.ts';

/** The step that is looked at nearer than its small picture shows, and how many pixels its texture’s longer side is to be. */
export interface Near {
  readonly id: string;
  readonly step: string;
  readonly longest: number;
}

/** Makes one step larger, in a worker that is there only while something is looked at nearer: the newest wins. */
export const createNearing = ({
  know,
  show,
  progress,
  failed,
}: {
  readonly know: () => Extract<ToTextureMaker, { type: 'know' }>;
  /** @param as what it was asked for as */
  readonly show: (step: ShownStep, as: string) => unknown;
  readonly progress: (id: string, share: number | null) => unknown;
  readonly failed: (why: string, id: string) => unknown;
}) => {
  let worker: Worker | null = null;
  let asks = 0;
  let asked: { readonly ask: number; readonly id: string; readonly as: string } | null = null;
  /** What was wanted last. */
  let last = '';

  const settle = (): void => {
    if (asked) progress(asked.id, null);
    asked = null;
  };
  const end = (): void => {
    worker?.terminate();
    worker = null;
    settle();
  };
  const receive = (data: FromTextureMaker): void => {
    if (asked?.ask !== data.ask) return;
    const { id, as } = asked;
    if (data.type === 'progress') return void progress(id, data.share);
    settle();
    if (data.type === 'step') show(data.step, as);
    else if (data.type === 'refused') failed(data.why, id);
  };
  const broke = (why: string): void => {
    const id = asked?.id ?? '';
    end();
    failed(why, id);
  };
  return {
    /** @param as what tells apart what it would come to; null where nothing is looked at nearer */
    want: (near: (Near & Pick<Extract<ToTextureMaker, { type: 'near' }>, 'holds'>) | null, as = ''): void => {
      const now = near ? JSON.stringify([near, as]) : '';
      if (now === last) return;
      last = now;
      // No message reaches a worker that is at it.
      if (asked || !near) end();
      if (!near) return;
      worker ??= startMaker(receive, broke);
      worker.postMessage(know());
      asked = { ask: (asks += 1), id: near.id, as };
      worker.postMessage({ type: 'near', ...near, ask: asks } satisfies ToTextureMaker);
    },
    end: (): void => {
      last = '';
      end();
    },
  };
};
