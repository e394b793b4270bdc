import { keepBlob, LARGEST_BLOB } from '#server/blobs.ts';
import { database } from '#server/database.ts';
import { respond } from '#server/errors.ts';
import { allowSave } from '#server/pace.ts';
import { readBytes } from '#server/requests/readJson.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ request }) =>
  respond(async () => {
    allowSave('pictures');
    return keepBlob(database(), await readBytes(request, LARGEST_BLOB));
  }, 201);
