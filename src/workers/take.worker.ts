import { answerTake, type ToTakePlayer } from '#script/answerTake.ts';
import { prelude } from '#script/prelude/bundled.ts';

self.onmessage = ({ data }: MessageEvent<ToTakePlayer>) =>
  void answerTake(data, prelude, (message) => self.postMessage(message));
