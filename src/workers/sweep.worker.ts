import { sweep, type SweepAsk, type Swept } from '#core/taps/sweep.ts';
import { sweepMap, type Second, type SweptMap } from '#core/taps/sweepMap.ts';
import { unpackProgram, type PackedProgram } from '#core/program/packProgram.ts';

export type ToSweeper = Omit<SweepAsk, 'program'> & {
  readonly program: PackedProgram;
  /** Over both, where a second parameter is told. */
  readonly second: Second | null;
};
export type FromSweeper =
  | { readonly share: number }
  | { readonly swept: Swept }
  | { readonly map: SweptMap }
  | { readonly refused: string };

const answer = (message: FromSweeper): void => self.postMessage(message);

/** Runs to the end, telling how far it is. */
const finish = <T>(work: Generator<number, T>): T => {
  for (let step = work.next(); ; step = work.next()) {
    if (step.done) return step.value;
    answer({ share: step.value });
  }
};

self.onmessage = ({ data }: MessageEvent<ToSweeper>) => {
  try {
    const ask = { ...data, program: unpackProgram(data.program).program };
    if (data.second) return answer({ map: finish(sweepMap(ask, data.second)) });
    answer({ swept: finish(sweep(ask)) });
  } catch (error) {
    answer({ refused: (error as Error).message });
  }
};
