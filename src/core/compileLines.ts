import { createPartCompiler, type FromCompiler, type ToCompiler } from './compileParts.ts';

/** A message of one of those who share a compiler, by the number of their line. */
export interface OnLine<Message> {
  readonly line: number;
  readonly message: Message;
}
/** What a compiler that is shared is told; null once nobody is on the line any more. */
export type ToCompilers = OnLine<ToCompiler | null>;

/** Compiles for several who know nothing of each other: each line has parts of its own, and what it leaves is not worked on. */
export const createLineCompilers = (
  post: (answer: OnLine<FromCompiler>) => void,
  later: (work: () => void) => void,
) => {
  const lines = new Map<number, ReturnType<typeof createPartCompiler>>();
  const begin = (line: number) => {
    const isOpen = (): boolean => lines.get(line) === made;
    const made = createPartCompiler(
      (message) => post({ line, message }),
      (work) => later(() => isOpen() && work()),
    );
    lines.set(line, made);
    return made;
  };
  return {
    receive: ({ line, message }: ToCompilers): void => {
      if (message === null) lines.delete(line);
      else (lines.get(line) ?? begin(line)).receive(message);
    },
  };
};
