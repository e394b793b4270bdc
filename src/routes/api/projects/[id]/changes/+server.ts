import { changeProject } from '#server/changes.ts';
import { database } from '#server/database.ts';
import { respond } from '#server/errors.ts';
import { allowSave } from '#server/pace.ts';
import { kindsIn } from '#server/projects.ts';
import { readParts } from '#server/requests/readParts.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ params, request }) =>
  respond(async () => {
    allowSave(params.id);
    const kinds = await kindsIn(database(), params.id);
    return changeProject(database(), params.id, await readParts(request, 'change', kinds));
  });
