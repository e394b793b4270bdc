import { error } from '@sveltejs/kit';
import type { Project } from '#core/document/project.ts';
import { readOpenProject } from '#ui/workshop/state/openProject.ts';
import { lastWord } from '#ui/workshop/state/saver.svelte.ts';
import type { LayoutLoad } from './$types';

/** The workshop lives in the browser: no server compiles anybody's shader. */
export const ssr = false;

/** A server that has not told a project by then is one that is away: who waits is told so, and may try again. */
const PATIENCE_MS = 30_000;

export const load: LayoutLoad = async ({ params, fetch }) => {
  // A page that was just left may still be saving.
  await lastWord(params.id);
  const away = () => error(503, 'The server cannot be reached just now.');
  const response = await fetch(`/api/projects/${params.id}`, {
    signal: AbortSignal.timeout(PATIENCE_MS),
  }).catch(away);
  if (!response.ok) {
    const { message } = (await response.json().catch(() => ({}))) as { message?: string };
    error(response.status, message ?? `The server answered ${response.status}.`);
  }
  return readOpenProject((await response.json().catch(away)) as Project);
};
