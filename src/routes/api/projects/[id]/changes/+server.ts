import { changeProject } from '#server/changes.ts';
import { database } from '#server/database.ts';
import { respond } from '#server/errors.ts';
import { allowSave } from '#server/pace.ts';
import { readBody } from '#server/requests/read.ts';
import { ChangesRequest } from '#server/requests/shapes.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ params, request }) =>
  respond(async () => {
    allowSave(params.id);
    return changeProject(database(), params.id, await readBody(request, ChangesRequest));
  });
