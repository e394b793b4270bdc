import { parentPort, workerData } from 'node:worker_threads';
import { answerTake, type ToTakePlayer } from '#script/answerTake.ts';

const { ask, prelude } = workerData as { readonly ask: ToTakePlayer; readonly prelude: string };
await answerTake(ask, prelude, (message) => parentPort!.postMessage(message));
