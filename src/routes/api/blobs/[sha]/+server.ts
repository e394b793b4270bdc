import { readBlob, shownBlob } from '#server/blobs.ts';
import { database } from '#server/database.ts';
import { errorResponse, toApiError } from '#server/errors.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ params, request }) => {
  try {
    // Who asks for what can be shown, as a picture of a page does, is given that.
    const isShown = request.headers.get('accept')?.includes('image/webp') ?? false;
    const { mediaType, bytes } = await (isShown ? shownBlob : readBlob)(database(), params.sha);
    return new Response(bytes, {
      headers: {
        ...{ 'content-type': mediaType, vary: 'accept' },
        'cache-control': 'public, max-age=31536000, immutable',
      },
    });
  } catch (error) {
    return errorResponse(toApiError(error));
  }
};
