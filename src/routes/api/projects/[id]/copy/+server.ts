import { database } from '#server/database.ts';
import { respond } from '#server/errors.ts';
import { allowSave } from '#server/pace.ts';
import { copyProject } from '#server/projects.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ params }) =>
  respond(() => {
    allowSave('new projects');
    return copyProject(database(), params.id);
  }, 201);
