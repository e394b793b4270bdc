import { error } from '@sveltejs/kit';
import { database } from '#server/database.ts';
import { toApiError } from '#server/errors.ts';
import { listProjects } from '#server/projects.ts';
import { listStarters } from '#server/starters.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
  try {
    return { projects: await listProjects(database()), starters: listStarters() };
  } catch (thrown) {
    const { status, message } = toApiError(thrown);
    error(status, message);
  }
};
