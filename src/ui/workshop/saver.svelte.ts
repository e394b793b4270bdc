import type { Part } from '#core/document/project.ts';
import { dropDraft, keepDraft } from './drafts.ts';

export type SaveState = 'saved' | 'waiting' | 'saving' | 'away' | 'refused' | 'conflict';

/** A part that was changed here and elsewhere since they last agreed. */
export interface Conflict {
  readonly mine: Part;
  readonly theirs: Part;
}

/** Waits this long after the last change before saving, so that a drag is one save. */
const PAUSE_MS = 350;
const RETRY_MS = 1500;

interface Answer {
  readonly revision?: number;
  readonly message?: string;
  readonly theirs?: Part;
}

/**
 * Saves touched parts by themselves. “Saved” is said only when the server has everything. Until then each part is
 * kept in this browser too; a server that is away is tried again, and a conflict waits for the author.
 */
export const createSaver = (
  project: string,
  parts: () => ReadonlyMap<string, Part>,
  onRevision: (id: string, revision: number) => void,
) => {
  const touched = new Set<string>();
  let state = $state<SaveState>('saved');
  let message = $state('');
  let conflicts = $state.raw<ReadonlyMap<string, Conflict>>(new Map());
  let timer: ReturnType<typeof setTimeout> | null = null;
  let busy = false;

  const later = (milliseconds: number) => {
    if (timer !== null) clearTimeout(timer);
    timer = setTimeout(() => void flush(), milliseconds);
  };

  const say = (next: SaveState, sentence = '') => {
    state = next;
    message = sentence;
  };

  /** Sends one part; true when it need not be sent again as it is. */
  const saveOne = async (id: string): Promise<'saved' | 'conflict' | 'refused' | 'away'> => {
    const part = parts().get(id);
    if (!part) return 'saved';
    const response = await fetch(`/api/projects/${project}/parts/${encodeURIComponent(id)}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ revision: part.revision, name: part.name, body: part.body }),
    });
    const answer = (await response.json().catch(() => ({}))) as Answer;
    if (response.ok && answer.revision !== undefined) {
      onRevision(id, answer.revision);
      if (!touched.has(id)) dropDraft(project, id);
      return 'saved';
    }
    message = answer.message ?? `The server answered ${response.status}.`;
    if (response.status === 409 && answer.theirs) {
      conflicts = new Map(conflicts).set(id, { mine: part, theirs: answer.theirs });
      return 'conflict';
    }
    return response.status >= 500 || response.status === 429 ? 'away' : 'refused';
  };

  const flush = async (): Promise<void> => {
    timer = null;
    if (busy) return later(PAUSE_MS);
    busy = true;
    if (touched.size) state = 'saving';
    let outcome: SaveState = 'saved';
    for (const id of [...touched].filter((each) => !conflicts.has(each))) {
      touched.delete(id);
      const result = await saveOne(id).catch(() => {
        message = 'The server cannot be reached. Changes are kept in this browser and sent when it is back.';
        return 'away' as const;
      });
      if (result === 'saved') continue;
      touched.add(id);
      outcome = result;
      if (result === 'away') break;
    }
    busy = false;
    if (conflicts.size) say('conflict', 'Changed here and elsewhere; choose which to keep.');
    else if (outcome === 'away') {
      state = 'away';
      later(RETRY_MS);
    } else if (outcome === 'refused') state = 'refused';
    else if (touched.size) {
      say('waiting');
      later(PAUSE_MS);
    } else say('saved');
  };

  return {
    get state() {
      return state;
    },
    get message() {
      return message;
    },
    get conflicts() {
      return conflicts;
    },
    touch: (id: string) => {
      const part = parts().get(id);
      touched.add(id);
      if (part && !keepDraft(project, part))
        message = 'This browser’s storage is full: until the server has them, changes live only in this tab.';
      if (state === 'saved' || state === 'refused') state = 'waiting';
      if (state !== 'conflict') later(state === 'away' ? RETRY_MS : PAUSE_MS);
    },
    /** A draft from a closed tab whose part has moved on since. */
    noteConflict: (conflict: Conflict) => {
      conflicts = new Map(conflicts).set(conflict.mine.id, conflict);
      touched.add(conflict.mine.id);
      say('conflict', 'Changed here and elsewhere; choose which to keep.');
    },
    /** The author has chosen: the part stands on theirs now, and is saved again if mine was kept. */
    settleConflict: (id: string, keepMine: boolean) => {
      const rest = new Map(conflicts);
      rest.delete(id);
      conflicts = rest;
      if (!keepMine) {
        touched.delete(id);
        dropDraft(project, id);
      }
      later(0);
    },
    flush,
  };
};
