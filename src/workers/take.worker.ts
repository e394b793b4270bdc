import type { TakeDocument } from '#core/document/kinds/take.ts';
import { prelude } from '#script/prelude/bundled.ts';
import { playTake, type Played } from '#script/playTake.ts';
import type { RehearsalStart } from '#script/protocol.ts';

export interface ToTakePlayer {
  readonly take: Pick<TakeDocument, 'ticks' | 'inputs' | 'seed'>;
  readonly start: Omit<RehearsalStart, 'seed'>;
}
export type FromTakePlayer =
  { readonly share: number } | { readonly played: Played } | { readonly refused: string };

const answer = (message: FromTakePlayer): void => self.postMessage(message);

self.onmessage = async ({ data: { take, start } }: MessageEvent<ToTakePlayer>) => {
  try {
    const work = playTake(take, { ...start, prelude });
    for (;;) {
      const { done, value } = await work.next();
      if (done) return answer({ played: value });
      answer({ share: value });
    }
  } catch (error) {
    answer({ refused: `This take cannot be played: ${(error as Error).message}` });
  }
};
