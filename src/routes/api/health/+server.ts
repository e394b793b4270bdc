import { database } from '#server/database.ts';
import { respond } from '#server/errors.ts';

export const GET = () =>
  respond(async () => {
    await database().raw('select 1');
    return { status: 'well' };
  });
