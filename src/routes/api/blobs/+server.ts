import { keepPicture } from '#server/blobs.ts';
import { database } from '#server/database.ts';
import { respond } from '#server/errors.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ request }) =>
  respond(async () => keepPicture(database(), new Uint8Array(await request.arrayBuffer())), 201);
