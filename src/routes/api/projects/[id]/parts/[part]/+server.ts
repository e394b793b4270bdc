import { database } from '#server/database.ts';
import { respond } from '#server/errors.ts';
import { allowSave } from '#server/pace.ts';
import { deletePart, kindsIn, savePart } from '#server/projects.ts';
import { readParts } from '#server/requests/readParts.ts';
import { readPart } from '#server/revisions.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
  respond(() => readPart(database(), params.id, params.part));

export const DELETE: RequestHandler = ({ params }) =>
  respond(async () => {
    allowSave(params.id);
    await deletePart(database(), params.id, params.part);
    return {};
  });

export const PUT: RequestHandler = ({ params, request }) =>
  respond(async () => {
    allowSave(params.id);
    const kinds = await kindsIn(database(), params.id, params.part);
    return savePart(database(), params.id, params.part, await readParts(request, 'save', kinds));
  });
