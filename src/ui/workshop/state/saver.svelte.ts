import type { Part } from '#core/document/project.ts';
import { newId } from '../../parts/newId.ts';
import { dropDraft, keepDraft } from './drafts.ts';
import { createSender } from './sendPart.ts';
import { tabId } from './tab.ts';

export type SaveState = 'saved' | 'waiting' | 'saving' | 'away' | 'refused' | 'conflict';

/** A part that was changed here and elsewhere since they last agreed. */
export interface Conflict {
  readonly mine: Part;
  readonly theirs: Part;
}

/** Waits this long after the last change before saving, so that a drag is one save. */
const PAUSE_MS = 350;
const RETRY_MS = 1500;
const CHANGED_TWICE = 'Changed here and elsewhere; choose which to keep.';

/** Savers that are closing, by project: whoever opens it again waits for their last word. */
const closing = new Map<string, Promise<void>>();
export const lastWord = (project: string): Promise<void> => closing.get(project) ?? Promise.resolve();

/**
 * Saves touched parts by themselves. “Saved” is said only when the server has everything. Until then each part is
 * kept in this browser too; a server that is away is tried again, and a conflict waits for the author.
 */
export const createSaver = (
  project: string,
  parts: () => ReadonlyMap<string, Part>,
  onRevision: (id: string, revision: number) => void,
  /** Merges a part with what was saved elsewhere meanwhile; false where the author has to choose. */
  reconcile: (theirs: Part) => Promise<boolean>,
  tab = tabId(),
) => {
  const touched = new Set<string>();
  /** Parts that only this tab has, for the browser's storage would not take them. */
  const unkept = new Set<string>();
  const sender = createSender(project, () => newId(32));
  let state = $state<SaveState>('saved');
  let message = $state('');
  let conflicts = $state.raw<ReadonlyMap<string, Conflict>>(new Map());
  let timer: ReturnType<typeof setTimeout> | null = null;
  let running: Promise<void> | null = null;
  let closed = false;

  const later = (milliseconds: number) => {
    if (closed) return;
    if (timer !== null) clearTimeout(timer);
    timer = setTimeout(() => void flush(), milliseconds);
  };

  const say = (next: SaveState, sentence = '') => {
    state = next;
    message = sentence;
  };

  const keep = (part: Part): void => {
    if (keepDraft(project, tab, part, sender.unanswered(part.id))) unkept.delete(part.id);
    else {
      unkept.add(part.id);
      message = 'This browser’s storage is full: until the server has them, changes live only in this tab.';
    }
  };
  const drop = (id: string): void => {
    unkept.delete(id);
    dropDraft(project, tab, id);
  };

  /** Sends one part; what it came to. */
  const saveOne = async (id: string): Promise<SaveState> => {
    const part = parts().get(id);
    if (!part) return 'saved';
    const sending = sender.send(part);
    keep(part);
    const sent = await sending;
    if (sent.kind === 'saved') {
      onRevision(id, sent.revision);
      const now = parts().get(id);
      if (touched.has(id) && now) keep(now);
      else drop(id);
      return 'saved';
    }
    if (sent.kind === 'conflict' && (await reconcile(sent.theirs))) {
      if (!touched.has(id)) drop(id);
      return 'saved';
    }
    message = sent.message;
    if (sent.kind === 'conflict')
      conflicts = new Map(conflicts).set(id, { mine: parts().get(id) ?? part, theirs: sent.theirs });
    return sent.kind;
  };

  const saveAll = async (): Promise<void> => {
    if (touched.size) state = 'saving';
    let outcome: SaveState = 'saved';
    for (const id of [...touched].filter((each) => !conflicts.has(each))) {
      touched.delete(id);
      const result = await saveOne(id);
      if (result === 'saved') continue;
      touched.add(id);
      outcome = result;
      if (result === 'away') break;
    }
    if (conflicts.size) say('conflict', CHANGED_TWICE);
    else if (outcome === 'away') {
      state = 'away';
      later(RETRY_MS);
    } else if (outcome === 'refused') state = 'refused';
    else if (touched.size) {
      say('waiting');
      later(PAUSE_MS);
    } else say('saved');
  };

  /** Saves what there is now; one save at a time. */
  const flush = async (): Promise<void> => {
    if (timer !== null) clearTimeout(timer);
    timer = null;
    if (running) return later(PAUSE_MS);
    running = saveAll().finally(() => (running = null));
    await running;
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
    get isRunning() {
      return running !== null;
    },
    isTouched: (id: string): boolean => touched.has(id),
    /** True while closing the page would lose something. */
    get wouldLose() {
      return unkept.size > 0 && state !== 'saved';
    },
    touch: (id: string) => {
      const part = parts().get(id);
      touched.add(id);
      if (part) keep(part);
      if (state === 'saved' || state === 'refused') state = 'waiting';
      if (state !== 'conflict') later(state === 'away' ? RETRY_MS : PAUSE_MS);
    },
    /** A draft from a closed tab whose part has moved on since. */
    noteConflict: (conflict: Conflict) => {
      conflicts = new Map(conflicts).set(conflict.mine.id, conflict);
      touched.add(conflict.mine.id);
      keep(conflict.mine);
      say('conflict', CHANGED_TWICE);
    },
    /** The author has chosen: the part is made from theirs now, and saved again. */
    settleConflict: (id: string) => {
      const rest = new Map(conflicts);
      rest.delete(id);
      conflicts = rest;
      sender.forget(id);
      later(0);
    },
    /** What was deleted is not saved any more. */
    forget: (id: string) => {
      touched.delete(id);
      sender.forget(id);
      drop(id);
    },
    /**
     * Does something that no save may run beside, when what was touched before is saved.
     * @throws Error where one of the parts it is about cannot be saved first
     */
    alone: async (ids: Iterable<string>, work: () => Promise<void>): Promise<void> => {
      while (running) await running;
      if (touched.size) await flush();
      while (running) await running;
      if ([...ids].some((id) => touched.has(id)))
        throw new Error(`What was changed before is not saved yet. ${message}`.trim());
      const doing = work();
      say('saving');
      running = doing
        .catch(() => undefined)
        .finally(() => {
          running = null;
          if (conflicts.size) say('conflict', CHANGED_TWICE);
          else if (state === 'saving') say(touched.size ? 'waiting' : 'saved');
          if (touched.size) later(PAUSE_MS);
        });
      await doing;
    },
    flush,
    /** Says the last word and stops: nothing is sent after it. What was not taken stays in this browser. */
    close: () => {
      const last = (async () => {
        while (running) await running;
        if (touched.size && !conflicts.size) await flush();
        closed = true;
        if (timer !== null) clearTimeout(timer);
      })().finally(() => {
        if (closing.get(project) === last) closing.delete(project);
      });
      closing.set(project, last);
    },
  };
};
