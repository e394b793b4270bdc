import { json } from '@sveltejs/kit';

export type ErrorCode =
  | 'bad-request'
  | 'invalid'
  | 'not-found'
  | 'conflict'
  | 'in-use'
  | 'too-large'
  | 'wrong-origin'
  | 'too-often'
  | 'too-busy'
  | 'database-away'
  | 'no-room'
  | 'unexpected';

/** A refusal with a code for programs and a sentence for people. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: ErrorCode,
    message: string,
    readonly details: Readonly<Record<string, unknown>> = {},
  ) {
    super(message);
  }
}

export const notFound = (what: string): ApiError => new ApiError(404, 'not-found', `${what} does not exist.`);

export const errorResponse = (error: ApiError): Response =>
  json(
    { code: error.code, message: error.message, ...error.details },
    { status: error.status, ...(error.status === 429 ? { headers: { 'retry-after': '1' } } : {}) },
  );

/** Nothing was sent: nobody listened. */
const NEVER_REACHED: ReadonlySet<string> = new Set(['ECONNREFUSED', 'ENOTFOUND']);
const LOST: ReadonlySet<string> = new Set([
  ...['ECONNRESET', 'EPIPE', 'ETIMEDOUT'],
  // PostgreSQL: shutting down, crashed, starting up, too many connections.
  ...['57P01', '57P02', '57P03', '53300', '08006', '08001', '08003'],
]);

interface Thrown {
  readonly code?: string;
  readonly message?: string;
  readonly name?: string;
}

/** True where the database could not be reached, as opposed to having said no. */
export const isDatabaseAway = (error: unknown): boolean => {
  const { code = '', message = '' } = error as Thrown;
  return (
    NEVER_REACHED.has(code) ||
    LOST.has(code) ||
    /Connection terminated|Connection ended|Client has encountered a connection error/.test(message)
  );
};

/** PostgreSQL and Node, where the disk has no room left. */
const isFull = (error: unknown): boolean =>
  ['53100', 'ENOSPC', 'EDQUOT'].includes((error as Thrown).code ?? '');

/** True where all connections are at work: the database is there. */
const isDatabaseBusy = (error: unknown): boolean => {
  const { name, code, message = '' } = error as Thrown;
  return name === 'KnexTimeoutError' || code === '57014' || /Timeout acquiring a connection/.test(message);
};

/** Any failure as a refusal. What was not foreseen is logged and kept from the page. */
export const toApiError = (error: unknown): ApiError => {
  if (error instanceof ApiError) return error;
  if (isDatabaseAway(error)) {
    const known = NEVER_REACHED.has((error as Thrown).code ?? '');
    return new ApiError(
      503,
      'database-away',
      known
        ? 'The database cannot be reached just now; nothing was changed. Try again shortly.'
        : 'The database went away meanwhile; what was asked may or may not be kept. Try again shortly.',
    );
  }
  if (isFull(error))
    return new ApiError(
      507,
      'no-room',
      "The server's disk is full; nothing was changed. Free some room there and try again.",
    );
  if (isDatabaseBusy(error))
    return new ApiError(
      503,
      'too-busy',
      'The database is busy just now; nothing was changed. Try again shortly.',
    );
  console.error(error);
  return new ApiError(500, 'unexpected', 'Something unforeseen went wrong on the server.');
};

/** Runs a route's work; refusals become JSON with a code and a sentence. */
export const respond = async (work: () => Promise<unknown>, status = 200): Promise<Response> => {
  try {
    return json(await work(), { status });
  } catch (error) {
    return errorResponse(toApiError(error));
  }
};
