import { sweep, type SweepAsk, type Swept } from '#core/taps/sweep.ts';
import { unpackProgram, type PackedProgram } from '#core/program/packProgram.ts';

export type ToSweeper = Omit<SweepAsk, 'program'> & { readonly program: PackedProgram };
export type FromSweeper =
  { readonly share: number } | { readonly swept: Swept } | { readonly refused: string };

const answer = (message: FromSweeper): void => self.postMessage(message);

self.onmessage = ({ data }: MessageEvent<ToSweeper>) => {
  try {
    const work = sweep({ ...data, program: unpackProgram(data.program).program });
    for (let step = work.next(); ; step = work.next()) {
      if (step.done) return answer({ swept: step.value });
      answer({ share: step.value });
    }
  } catch (error) {
    answer({ refused: (error as Error).message });
  }
};
