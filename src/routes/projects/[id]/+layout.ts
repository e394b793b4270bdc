import { error } from '@sveltejs/kit';
import type { Project } from '#core/document/project.ts';
import { readOpenProject } from '#ui/workshop/state/openProject.ts';
import { lastWord } from '#ui/workshop/state/saver.svelte.ts';
import type { LayoutLoad } from './$types';

/** The workshop lives in the browser: no server compiles anybody's shader. */
export const ssr = false;

export const load: LayoutLoad = async ({ params, fetch }) => {
  // A page that was just left may still be saving.
  await lastWord(params.id);
  const response = await fetch(`/api/projects/${params.id}`).catch(() => null);
  if (!response) error(503, 'The server cannot be reached just now.');
  const answer = (await response.json().catch(() => ({}))) as Project & { message?: string };
  if (!response.ok) error(response.status, answer.message ?? `The server answered ${response.status}.`);
  return readOpenProject(answer);
};
