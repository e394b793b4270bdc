import { createLineCompilers, type OnLine, type ToCompilers } from '#core/compileLines.ts';
import type { FromCompiler } from '#core/compileParts.ts';

const compilers = createLineCompilers(
  (answer: OnLine<FromCompiler>) => self.postMessage(answer),
  (work) => setTimeout(work),
);
self.onmessage = ({ data }: MessageEvent<ToCompilers>) => compilers.receive(data);
