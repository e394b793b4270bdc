import type { LastKnown } from './watchEngine.ts';

/** A place that was told of is told of again after this, so that whoever listens knows that the engine is alive. */
const AGAIN_MS = 100;

/**
 * Tells whoever watches the engine where its scripts are: at once where that is another place, or after `left`, else ten
 * times a second.
 */
export const reportEntries = (
  post: (now: LastKnown) => void,
  now: () => number = () => performance.now(),
) => {
  let last: LastKnown | null = null;
  let told = -Infinity;
  return {
    enter: (script: number, line: number): void => {
      const at = now();
      if (last?.script === script && last.line === line && at - told < AGAIN_MS) return;
      last = { script, line };
      told = at;
      post(last);
    },
    left: (): void => void (last = null),
  };
};
