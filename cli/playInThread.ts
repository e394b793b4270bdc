import { existsSync, readFileSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import type { FromTakePlayer, ToTakePlayer } from '#script/answerTake.ts';
import type { Played } from '#script/playTake.ts';
import { joinPrelude } from '#script/prelude/joined.ts';
import { createEngineWatch, LOOK_MS, stuckMessage } from '#script/watchEngine.ts';
import { Refusal } from './command.ts';
import { packageRoot } from './packageRoot.ts';

/** What each script begins with, which its own engine reads as text. */
const preludeText = (): string =>
  joinPrelude((part) => readFileSync(new URL(`src/script/prelude/${part}.js`, packageRoot()), 'utf8'));

/** The thread's file beside this one where both were built; else one that loads its source. */
const startThread = (workerData: object): Worker => {
  const built = new URL('./takeThread.js', import.meta.url);
  return new Worker(existsSync(built) ? built : new URL('cli/takeThread.mjs', packageRoot()), { workerData });
};

const NOTHING: Played = { marks: [], changes: [], logs: [], mistake: null };

/**
 * Plays a take in a thread, which is killed where a script never returns: what was played of it then is that mistake alone.
 * @throws Refusal where the take cannot be played
 */
export const playInThread = (ask: ToTakePlayer): Promise<Played> => {
  const thread = startThread({ ask, prelude: preludeText() });
  const watch = createEngineWatch();
  return new Promise<Played>((resolve, reject) => {
    const looks = setInterval(() => {
      const stuck = watch.look();
      if (!stuck) return;
      const name = ask.start.scripts[stuck.script]?.name ?? '';
      finish(() =>
        resolve({ ...NOTHING, mistake: { ...stuck, column: 0, name, message: stuckMessage(stuck) } }),
      );
    }, LOOK_MS);
    const finish = (settle: () => void): void => {
      clearInterval(looks);
      settle();
      void thread.terminate();
    };
    thread.on('message', (message: FromTakePlayer) => {
      if ('entered' in message) watch.hear(message.entered);
      else if ('played' in message) finish(() => resolve(message.played));
      else if ('refused' in message) finish(() => reject(new Refusal(message.refused)));
    });
    thread.on('error', (error) => finish(() => reject(error)));
  });
};
