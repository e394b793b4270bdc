import { database } from '#server/database.ts';
import { respond } from '#server/errors.ts';
import { allowSave } from '#server/pace.ts';
import { deletePart, savePart } from '#server/projects.ts';
import { readBody } from '#server/requests/read.ts';
import { SavePartRequest } from '#server/requests/shapes.ts';
import type { RequestHandler } from './$types';

export const DELETE: RequestHandler = ({ params }) =>
  respond(async () => {
    allowSave(params.id);
    await deletePart(database(), params.id, params.part);
    return {};
  });

export const PUT: RequestHandler = ({ params, request }) =>
  respond(async () => {
    allowSave(params.id);
    return savePart(database(), params.id, params.part, await readBody(request, SavePartRequest));
  });
