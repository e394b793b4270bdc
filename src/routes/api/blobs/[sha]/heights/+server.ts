import { readHeights } from '#server/blobs.ts';
import { database } from '#server/database.ts';
import { sendNumbers } from '#server/sendNumbers.ts';
import type { RequestHandler } from './$types';

/** A picture as heights: two 32-bit numbers, its width and height, then 16-bit samples in rows from the top. */
export const GET: RequestHandler = ({ params }) => sendNumbers(() => readHeights(database(), params.sha));
