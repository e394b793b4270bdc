import { readNumbers } from '#server/blobs.ts';
import { database } from '#server/database.ts';
import { errorResponse, toApiError } from '#server/errors.ts';
import type { RequestHandler } from './$types';

/** A picture as numbers: width, height and bits as 32-bit numbers, then its samples, four a pixel, in rows from the top. */
export const GET: RequestHandler = async ({ params }) => {
  try {
    return new Response(await readNumbers(database(), params.sha), {
      headers: {
        'content-type': 'application/octet-stream',
        'cache-control': 'public, max-age=31536000, immutable',
      },
    });
  } catch (error) {
    return errorResponse(toApiError(error));
  }
};
