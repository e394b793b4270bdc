import { errorResponse, toApiError } from './errors.ts';
import type { Numbers } from './gate.ts';

/** What is sent at once, in bytes. */
const PIECE = 1024 * 1024;

/** Numbers as an answer, sent as they are taken; refusals become JSON. */
export const sendNumbers = async (read: () => Promise<Numbers>): Promise<Response> => {
  try {
    const { pieces, done } = await read();
    const left = [...pieces];
    let at = 0;
    const body = new ReadableStream<Uint8Array>({
      pull: (controller) => {
        const [first] = left;
        if (!first) {
          done();
          controller.close();
          return;
        }
        controller.enqueue(first.subarray(at, at + PIECE));
        at += PIECE;
        if (at < first.length) return;
        left.shift();
        at = 0;
      },
      cancel: done,
    });
    const size = pieces.reduce((sum, { length }) => sum + length, 0);
    return new Response(body, {
      headers: {
        ...{ 'content-type': 'application/octet-stream', 'content-length': String(size) },
        'cache-control': 'public, max-age=31536000, immutable',
      },
    });
  } catch (error) {
    return errorResponse(toApiError(error));
  }
};
