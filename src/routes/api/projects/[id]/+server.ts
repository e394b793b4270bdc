import { database } from '#server/database.ts';
import { respond } from '#server/errors.ts';
import { deleteProject, readProject, renameProject, restoreProject } from '#server/projects.ts';
import { readBody } from '#server/requests/read.ts';
import { NameRequest } from '#server/requests/shapes.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) => respond(() => readProject(database(), params.id));

export const PATCH: RequestHandler = ({ params, request }) =>
  respond(async () => {
    const { name } = await readBody(request, NameRequest);
    await renameProject(database(), params.id, name.trim());
    return { name: name.trim() };
  });

export const DELETE: RequestHandler = ({ params }) =>
  respond(async () => {
    await deleteProject(database(), params.id);
    return {};
  });

/** Undoes a deletion. */
export const POST: RequestHandler = ({ params }) => respond(() => restoreProject(database(), params.id));
