import { database } from '#server/database.ts';
import { respond } from '#server/errors.ts';
import { listRevisions } from '#server/revisions.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
  respond(() => listRevisions(database(), params.id, params.part));
