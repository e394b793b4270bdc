import type { FromTextureMaker } from '../../../workers/texture.worker.ts';

/**
 * Starts a worker that makes textures.
 * @param broke told why it can make no more, where it says why
 */
export const startMaker = (
  receive: (data: FromTextureMaker) => void,
  broke: (why: string) => void,
): Worker => {
  const worker = new Worker(new URL('../../../workers/texture.worker.ts', import.meta.url), {
    type: 'module',
  });
  worker.onmessage = ({ data }: MessageEvent<FromTextureMaker>) => receive(data);
  worker.onerror = (event) => {
    event.preventDefault();
    broke(event.message);
  };
  return worker;
};
