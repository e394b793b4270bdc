import type { Part } from '#core/document/project.ts';

export type SaveState = 'saved' | 'waiting' | 'saving' | 'failed' | 'conflict';

/** Waits this long after the last change before saving, so that a drag is one save. */
const PAUSE_MS = 350;
const RETRY_MS = 3000;

/**
 * Saves touched parts by themselves. “Saved” is said only when the server has everything; a save that fails is
 * tried again, and what was typed stays.
 */
export const createSaver = (
  project: string,
  parts: () => ReadonlyMap<string, Part>,
  onRevision: (id: string, revision: number) => void,
) => {
  const touched = new Set<string>();
  let state = $state<SaveState>('saved');
  let message = $state('');
  let timer: ReturnType<typeof setTimeout> | null = null;
  let busy = false;

  const later = (milliseconds: number) => {
    if (timer !== null) clearTimeout(timer);
    timer = setTimeout(() => void flush(), milliseconds);
  };

  const saveOne = async (id: string): Promise<boolean> => {
    const part = parts().get(id);
    if (!part) return true;
    const response = await fetch(`/api/projects/${project}/parts/${encodeURIComponent(id)}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ revision: part.revision, name: part.name, body: part.body }),
    });
    const answer = (await response.json()) as { revision?: number; message?: string };
    if (response.ok) {
      onRevision(id, answer.revision!);
      return true;
    }
    message = answer.message ?? 'The server refused this.';
    state = response.status === 409 ? 'conflict' : 'failed';
    return false;
  };

  const flush = async (): Promise<void> => {
    timer = null;
    if (busy) return later(PAUSE_MS);
    busy = true;
    state = 'saving';
    try {
      for (const id of [...touched]) {
        touched.delete(id);
        if (!(await saveOne(id))) {
          touched.add(id);
          return;
        }
      }
      state = touched.size ? 'waiting' : 'saved';
      message = '';
    } catch {
      state = 'failed';
      message = 'The server cannot be reached; changes are kept here and tried again.';
      for (const id of parts().keys()) if (!touched.has(id)) touched.add(id);
      later(RETRY_MS);
    } finally {
      busy = false;
    }
    if (touched.size && timer === null && state === 'waiting') later(PAUSE_MS);
  };

  return {
    get state() {
      return state;
    },
    get message() {
      return message;
    },
    touch: (id: string) => {
      touched.add(id);
      if (state === 'saved') state = 'waiting';
      later(PAUSE_MS);
    },
    flush,
  };
};
