/** One figure: what was measured, as a ratio of two things done in this very run, or as a plain count. */
export interface Figure {
  readonly name: string;
  readonly value: string;
  readonly against: string;
}

/** The median time of one run of `work`, in milliseconds, warmed up first. */
export const timeOf = (work: () => void, least = 200): number => {
  for (let i = 0; i < 5; i += 1) work();
  const times: number[] = [];
  const until = performance.now() + least;
  while (performance.now() < until || times.length < 7) {
    const began = performance.now();
    work();
    times.push(performance.now() - began);
  }
  return median(times);
};

export const median = (numbers: readonly number[]): number =>
  [...numbers].sort((a, b) => a - b)[numbers.length >> 1]!;

export const ratio = (x: number, y: number): string => `× ${(x / y).toFixed(2)}`;
