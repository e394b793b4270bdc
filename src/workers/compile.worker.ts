import { createPartCompiler, type FromCompiler, type ToCompiler } from '#core/compileParts.ts';

const compiler = createPartCompiler(
  (message: FromCompiler) => self.postMessage(message),
  (work) => setTimeout(work),
);
self.onmessage = ({ data }: MessageEvent<ToCompiler>) => compiler.receive(data);
