import { starterParts } from '#core/document/starter.ts';
import { database } from '#server/database.ts';
import { respond } from '#server/errors.ts';
import { allowSave } from '#server/pace.ts';
import { createProject, listProjects } from '#server/projects.ts';
import { readBody } from '#server/requests/read.ts';
import { NameRequest } from '#server/requests/shapes.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = () => respond(() => listProjects(database()));

export const POST: RequestHandler = ({ request }) =>
  respond(async () => {
    allowSave('new projects');
    const { name } = await readBody(request, NameRequest);
    return createProject(database(), name.trim(), starterParts());
  }, 201);
