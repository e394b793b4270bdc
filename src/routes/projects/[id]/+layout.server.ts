import { error } from '@sveltejs/kit';
import { database } from '#server/database.ts';
import { toApiError } from '#server/errors.ts';
import { readProject } from '#server/projects.ts';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ params }) => {
  try {
    return { project: await readProject(database(), params.id) };
  } catch (thrown) {
    const { status, message } = toApiError(thrown);
    error(status, message);
  }
};
