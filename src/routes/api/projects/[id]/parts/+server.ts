import { database } from '#server/database.ts';
import { respond } from '#server/errors.ts';
import { allowSave } from '#server/pace.ts';
import { addPart } from '#server/projects.ts';
import { readBody } from '#server/requests/read.ts';
import { NewPartRequest } from '#server/requests/shapes.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ params, request }) =>
  respond(async () => {
    allowSave(params.id);
    return addPart(database(), params.id, await readBody(request, NewPartRequest));
  }, 201);
