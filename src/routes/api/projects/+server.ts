import { database } from '#server/database.ts';
import { respond } from '#server/errors.ts';
import { allowSave } from '#server/pace.ts';
import { createProject, listProjects } from '#server/projects.ts';
import { readBody } from '#server/requests/read.ts';
import { NewProjectRequest } from '#server/requests/shapes.ts';
import { partsOfStarter } from '#server/starters.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = () => respond(() => listProjects(database()));

export const POST: RequestHandler = ({ request }) =>
  respond(async () => {
    allowSave('new projects');
    const { name, from } = await readBody(request, NewProjectRequest);
    return createProject(database(), name.trim(), await partsOfStarter(database(), from));
  }, 201);
