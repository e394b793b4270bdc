import { prelude } from '#script/prelude/bundled.ts';
import { createTicker } from '#script/createTicker.ts';
import { runTicks } from '#script/runTicks.ts';
import type { FromScriptWorker, ToScriptWorker } from '#script/protocol.ts';

const post = (message: FromScriptWorker) => self.postMessage(message);
const rehearsal = runTicks(post, (setup) => createTicker({ ...setup, prelude }));
self.onmessage = ({ data }: MessageEvent<ToScriptWorker>) => rehearsal.receive(data);
