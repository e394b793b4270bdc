import type { Edit, Patch } from './patch.ts';

/** One thing that can be undone: the way back and the way forth. */
export interface Deed {
  readonly label: string;
  readonly part: string;
  readonly merge: string | null;
  readonly forth: readonly Patch[];
  readonly back: readonly Patch[];
}

export interface History {
  readonly done: readonly Deed[];
  readonly undone: readonly Deed[];
}

export const emptyHistory: History = { done: [], undone: [] };

/** Deeds kept; older ones are forgotten. */
const MOST_DEEDS = 500;

/** Notes an edit just made. One that carries on a drag is joined to the deed before it. */
export const record = (history: History, edit: Edit, back: readonly Patch[]): History => {
  const last = history.done[history.done.length - 1];
  const merge = edit.merge ?? null;
  if (last && merge !== null && last.merge === merge && last.part === edit.part) {
    const joined: Deed = { ...last, forth: [...last.forth, ...edit.patches], back: [...back, ...last.back] };
    return { done: [...history.done.slice(0, -1), shorten(joined)], undone: [] };
  }
  const deed: Deed = { label: edit.label, part: edit.part, merge, forth: edit.patches, back };
  return { done: [...history.done.slice(-MOST_DEEDS + 1), deed], undone: [] };
};

/** A drag sets one field many times: only the first way back and the last way forth matter. */
const shorten = (deed: Deed): Deed => {
  const same = new Set([...deed.forth, ...deed.back].map((patch) => patch.path.join('/'))).size === 1;
  return same ? { ...deed, forth: deed.forth.slice(-1), back: deed.back.slice(-1) } : deed;
};

/** Ends a run of merging: what comes next is a deed of its own. */
export const seal = (history: History): History => {
  const last = history.done[history.done.length - 1];
  return last?.merge
    ? { ...history, done: [...history.done.slice(0, -1), { ...last, merge: null }] }
    : history;
};

export const takeUndo = (history: History): { readonly deed: Deed; readonly history: History } | null => {
  const deed = history.done[history.done.length - 1];
  return deed
    ? {
        deed,
        history: { done: history.done.slice(0, -1), undone: [...history.undone, { ...deed, merge: null }] },
      }
    : null;
};

export const takeRedo = (history: History): { readonly deed: Deed; readonly history: History } | null => {
  const deed = history.undone[history.undone.length - 1];
  return deed
    ? { deed, history: { done: [...history.done, deed], undone: history.undone.slice(0, -1) } }
    : null;
};

/** Drops what was done to one part: its document was replaced from outside, and old ways back no longer fit. */
export const forget = (history: History, part: string): History => ({
  done: history.done.filter((deed) => deed.part !== part),
  undone: history.undone.filter((deed) => deed.part !== part),
});
