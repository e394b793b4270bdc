import { readNumbers } from '#server/blobs.ts';
import { database } from '#server/database.ts';
import { sendNumbers } from '#server/sendNumbers.ts';
import type { RequestHandler } from './$types';

/** A picture as numbers: width, height and bits as 32-bit numbers, then its samples, four a pixel, in rows from the top. */
export const GET: RequestHandler = ({ params }) => sendNumbers(() => readNumbers(database(), params.sha));
