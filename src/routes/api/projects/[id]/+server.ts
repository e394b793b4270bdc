import { database } from '#server/database.ts';
import { errorResponse, respond, toApiError } from '#server/errors.ts';
import { allowSave } from '#server/pace.ts';
import { deleteProject, projectText, renameProject, restoreProject } from '#server/projects.ts';
import { readBody } from '#server/requests/read.ts';
import { NameRequest } from '#server/requests/shapes.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ params }) => {
  try {
    const text = await projectText(database(), params.id);
    return new Response(text, { headers: { 'content-type': 'application/json' } });
  } catch (error) {
    return errorResponse(toApiError(error));
  }
};

export const PATCH: RequestHandler = ({ params, request }) =>
  respond(async () => {
    allowSave(params.id);
    const { name } = await readBody(request, NameRequest);
    await renameProject(database(), params.id, name.trim());
    return { name: name.trim() };
  });

export const DELETE: RequestHandler = ({ params }) =>
  respond(async () => {
    allowSave(params.id);
    await deleteProject(database(), params.id);
    return {};
  });

/** Undoes a deletion. */
export const POST: RequestHandler = ({ params }) =>
  respond(() => {
    allowSave(params.id);
    return restoreProject(database(), params.id);
  });
