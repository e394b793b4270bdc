import { database } from '#server/database.ts';
import { respond } from '#server/errors.ts';
import { newestRevisions } from '#server/revisions.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) => respond(() => newestRevisions(database(), params.id));
