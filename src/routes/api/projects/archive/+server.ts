import { LARGEST_ARCHIVE, unpackProject } from '#server/archives.ts';
import { database } from '#server/database.ts';
import { respond } from '#server/errors.ts';
import { allowSave } from '#server/pace.ts';
import { readBytes } from '#server/requests/readJson.ts';
import type { RequestHandler } from './$types';

/** Makes a project from an archive. */
export const POST: RequestHandler = ({ request }) =>
  respond(async () => {
    allowSave('new projects');
    return unpackProject(database(), await readBytes(request, LARGEST_ARCHIVE));
  }, 201);
