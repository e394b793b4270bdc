import { database } from '#server/database.ts';
import { respond } from '#server/errors.ts';
import { allowSave } from '#server/pace.ts';
import { addPart } from '#server/projects.ts';
import { readParts } from '#server/requests/readParts.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ params, request }) =>
  respond(async () => {
    allowSave(params.id);
    const { id, kind, name, revision, text } = await addPart(
      database(),
      params.id,
      await readParts(request, 'add'),
    );
    return { id, kind, name, revision, body: JSON.parse(text) as unknown };
  }, 201);
