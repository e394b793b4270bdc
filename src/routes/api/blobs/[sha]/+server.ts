import { readBlob } from '#server/blobs.ts';
import { database } from '#server/database.ts';
import { errorResponse, toApiError } from '#server/errors.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ params }) => {
  try {
    const { mediaType, bytes } = await readBlob(database(), params.sha);
    return new Response(bytes, {
      headers: { 'content-type': mediaType, 'cache-control': 'public, max-age=31536000, immutable' },
    });
  } catch (error) {
    return errorResponse(toApiError(error));
  }
};
