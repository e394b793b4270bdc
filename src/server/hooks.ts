import type { Handle, HandleServerError, ServerInit } from '@sveltejs/kit';
import { pruneBlobs } from './blobs.ts';
import { compressed } from './compress.ts';
import { database, databaseReady } from './database.ts';
import { ApiError, errorResponse } from './errors.ts';
import { isOwnHost } from './hosts.ts';
import { letGo } from './requests/readJson.ts';

export const init: ServerInit = async () => {
  try {
    await databaseReady();
    await pruneBlobs(database());
  } catch (error) {
    // The server starts all the same, and says so on its health route; requests recover with the database.
    console.error('The database could not be brought up to date at the start:', error);
  }
};

/** What was not foreseen is logged, and kept from the page. */
export const handleError: HandleServerError = ({ error, status }) => {
  if (status >= 500) console.error(error);
  return {
    message: status === 404 ? 'There is no such page.' : 'Something unforeseen went wrong on the server.',
  };
};

const SAFE = new Set(['GET', 'HEAD', 'OPTIONS']);

/** Only pages of this very server may change anything, and only under its own names may anything be read. */
const refusalOf = (request: Request): ApiError | null => {
  if (!isOwnHost(request.headers.get('host')))
    return new ApiError(
      421,
      'wrong-origin',
      'This server is not known by that name; ALLOWED_HOSTS lists those it answers to.',
    );
  if (SAFE.has(request.method)) return null;
  const origin = request.headers.get('origin');
  const foreign = new ApiError(403, 'wrong-origin', 'Requests from other sites are refused.');
  if (origin === null) return request.headers.get('sec-fetch-site') === 'cross-site' ? foreign : null;
  try {
    const { host } = new URL(origin);
    return isOwnHost(host) && host === request.headers.get('host') ? null : foreign;
  } catch {
    return foreign;
  }
};

const HEADERS: Readonly<Record<string, string>> = {
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'same-origin',
  'x-frame-options': 'DENY',
  'cross-origin-opener-policy': 'same-origin',
  'permissions-policy': 'camera=(), microphone=(), geolocation=()',
};
const guarded = (response: Response): Response => {
  for (const [name, value] of Object.entries(HEADERS)) response.headers.set(name, value);
  return response;
};

/** What the framework refuses by itself, in words. */
const refusedAs = (status: number): ApiError =>
  status < 500
    ? new ApiError(status, 'bad-request', 'The request cannot be read: its address or its form is damaged.')
    : new ApiError(status, 'unexpected', 'Something unforeseen went wrong on the server.');

/** Under /api every answer is JSON, also where there is no such route or it cannot be asked so. */
const asJson = (response: Response, method: string): Response => {
  if (response.headers.get('content-type')?.includes('json')) return response;
  if (response.status === 404)
    return errorResponse(new ApiError(404, 'not-found', 'There is no such address under /api.'));
  if (response.status !== 405)
    return response.status < 400 ? response : errorResponse(refusedAs(response.status));
  const allowed = response.headers.get('allow') ?? '';
  const said = errorResponse(
    new ApiError(405, 'bad-request', `${method} is not taken here; ${allowed || 'another method'} is.`),
  );
  if (allowed) said.headers.set('allow', allowed);
  return said;
};

const answerTo: Handle = async ({ event, resolve }) => {
  const { request, url } = event;
  const refused = refusalOf(request);
  if (refused) return errorResponse(refused);
  const api = url.pathname.startsWith('/api');
  // A database that was away at the start gets its tables with the first request that finds it; routes say the rest.
  if (event.route.id && api) await databaseReady().catch(() => undefined);
  const response = await resolve(event);
  return compressed(request, api ? asJson(response, request.method) : response);
};

export const handle: Handle = async (asked) => {
  const response = guarded(await answerTo(asked));
  const { body } = asked.event.request;
  // What was refused unread.
  if (body && !body.locked) void letGo(body.getReader());
  return response;
};
