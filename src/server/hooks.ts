import type { Handle, ServerInit } from '@sveltejs/kit';
import { databaseReady } from './database.ts';
import { ApiError, errorResponse } from './errors.ts';
import { LARGEST_BODY } from './requests/read.ts';

export const init: ServerInit = async () => {
  try {
    await databaseReady();
  } catch (error) {
    // The server starts all the same, and says so on its health route; requests recover with the database.
    console.error('The database could not be brought up to date at the start:', error);
  }
};

const SAFE = new Set(['GET', 'HEAD', 'OPTIONS']);

/** Only pages of this very server may change anything. */
const isForeign = (request: Request): boolean => {
  const origin = request.headers.get('origin');
  if (SAFE.has(request.method)) return false;
  if (origin === null) return request.headers.get('sec-fetch-site') === 'cross-site';
  try {
    return new URL(origin).host !== request.headers.get('host');
  } catch {
    return true;
  }
};

export const handle: Handle = async ({ event, resolve }) => {
  const { request } = event;
  if (isForeign(request))
    return errorResponse(new ApiError(403, 'wrong-origin', 'Requests from other sites are refused.'));
  if (Number(request.headers.get('content-length') ?? 0) > LARGEST_BODY)
    return errorResponse(
      new ApiError(413, 'too-large', `The request is larger than ${LARGEST_BODY / 1024 / 1024} MB.`),
    );
  // A database that was away at the start gets its tables with the first request that finds it; routes say the rest.
  if (event.route.id) await databaseReady().catch(() => undefined);
  const response = await resolve(event);
  response.headers.set('x-content-type-options', 'nosniff');
  response.headers.set('referrer-policy', 'same-origin');
  response.headers.set('x-frame-options', 'DENY');
  response.headers.set('cross-origin-opener-policy', 'same-origin');
  response.headers.set('permissions-policy', 'camera=(), microphone=(), geolocation=()');
  return response;
};
