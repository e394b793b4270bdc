/** Where a script was last known to be: its place among those that play, and the line of its handler or loop, or 0. */
export interface LastKnown {
  readonly script: number;
  readonly line: number;
}

/** How often the engine is looked after. */
export const LOOK_MS = 250;
/** Looks without a word while a script runs: 1.25 s. */
const MOST_SILENT = 5;
/** Looks without a word while the engine starts: it is loaded first, and a busy machine takes long for that. */
const MOST_STARTING = 120;

/**
 * Watches an engine from outside, in a worker or a thread: one that is in a loop of its own asks nobody whether it may go
 * on, and can only be killed. Looks are counted, not time: a host that is busy itself looks less often.
 */
export const createEngineWatch = () => {
  let [silent, isStarted] = [0, false];
  let last: LastKnown | null = null;
  return {
    /** The engine has answered. @param now where a script is now; null where none runs */
    hear: (now: LastKnown | null): void => {
      [silent, isStarted, last] = [0, true, now];
    },
    /** One look. @returns where the engine is stuck; null while it is not */
    look: (): LastKnown | null => {
      silent += 1;
      if (!isStarted) return silent >= MOST_STARTING ? { script: -1, line: 0 } : null;
      return last && silent >= MOST_SILENT ? last : null;
    },
  };
};

/** What is said of a script that had to be killed. */
export const stuckMessage = ({ script, line }: LastKnown): string =>
  script < 0
    ? 'The script engine did not start within 30 seconds. Reload the page and try again.'
    : `The script did not answer and was ended${line ? `; it was last known to run the handler or loop at line ${line}` : ''}. Does a call here go over something endless?`;
