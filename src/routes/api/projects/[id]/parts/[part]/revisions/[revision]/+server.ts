import { database } from '#server/database.ts';
import { respond } from '#server/errors.ts';
import { readRevision } from '#server/revisions.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
  respond(() => readRevision(database(), params.id, params.part, params.revision));
