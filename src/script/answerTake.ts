import type { TakeDocument } from '#core/document/kinds/take.ts';
import { playTake, type Played } from './playTake.ts';
import type { RehearsalStart } from './protocol.ts';
import { reportEntries } from './reportEntries.ts';
import type { LastKnown } from './watchEngine.ts';

export interface ToTakePlayer {
  readonly take: Pick<TakeDocument, 'ticks' | 'inputs' | 'seed'>;
  readonly start: Omit<RehearsalStart, 'seed'>;
}
export type FromTakePlayer =
  | { readonly share: number }
  | { readonly entered: LastKnown }
  | { readonly played: Played }
  | { readonly refused: string };

/** Plays a take in a worker or a thread, which whoever asked may kill: its share of the ticks and its scripts are told meanwhile. */
export const answerTake = async (
  { take, start }: ToTakePlayer,
  prelude: string,
  answer: (message: FromTakePlayer) => void,
): Promise<void> => {
  try {
    const { enter } = reportEntries((entered) => answer({ entered }));
    const work = playTake(take, { ...start, prelude, onEnter: enter });
    for (;;) {
      const { done, value } = await work.next();
      if (done) return answer({ played: value });
      answer({ share: value });
    }
  } catch (error) {
    answer({ refused: `This take cannot be played: ${(error as Error).message}` });
  }
};
