import { partOfChange, type PartChange } from './changeParts.ts';
import type { Edit, Patch } from '../document/patch.ts';

/** One thing that can be undone: the way back and the way forth, within a part or over several. */
export type Deed = PartDeed | ProjectDeed;

export interface PartDeed {
  readonly kind: 'part';
  readonly label: string;
  readonly part: string;
  readonly merge: string | null;
  readonly forth: readonly Patch[];
  readonly back: readonly Patch[];
}

/** Parts were added, deleted or named, or several changed: done, undone and saved whole or not at all. */
export interface ProjectDeed {
  readonly kind: 'project';
  readonly label: string;
  readonly forth: readonly PartChange[];
  readonly back: readonly PartChange[];
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
  if (last?.kind === 'part' && merge !== null && last.merge === merge && last.part === edit.part) {
    const joined: PartDeed = {
      ...last,
      forth: [...last.forth, ...edit.patches],
      back: [...back, ...last.back],
    };
    return { done: [...history.done.slice(0, -1), shorten(joined)], undone: [] };
  }
  return add(history, {
    kind: 'part',
    ...{ label: edit.label, part: edit.part, merge, forth: edit.patches, back },
  });
};

/** Notes what was done over several parts. */
export const recordProject = (history: History, deed: Omit<ProjectDeed, 'kind'>): History =>
  add(history, { kind: 'project', ...deed });

const add = (history: History, deed: Deed): History => ({
  done: [...history.done.slice(-MOST_DEEDS + 1), deed],
  undone: [],
});

/** A drag sets one field many times: only the first way back and the last way forth matter. */
const shorten = (deed: PartDeed): PartDeed => {
  const same = new Set([...deed.forth, ...deed.back].map((patch) => patch.path.join('/'))).size === 1;
  return same ? { ...deed, forth: deed.forth.slice(-1), back: deed.back.slice(-1) } : deed;
};

/** Ends a run of merging: what comes next is a deed of its own. */
export const seal = (history: History): History => {
  const last = history.done[history.done.length - 1];
  return last?.kind === 'part' && last.merge
    ? { ...history, done: [...history.done.slice(0, -1), { ...last, merge: null }] }
    : history;
};

const sealed = (deed: Deed): Deed => (deed.kind === 'part' ? { ...deed, merge: null } : deed);

export const takeUndo = (history: History): { readonly deed: Deed; readonly history: History } | null => {
  const deed = history.done[history.done.length - 1];
  return deed
    ? { deed, history: { done: history.done.slice(0, -1), undone: [...history.undone, sealed(deed)] } }
    : null;
};

export const takeRedo = (history: History): { readonly deed: Deed; readonly history: History } | null => {
  const deed = history.undone[history.undone.length - 1];
  return deed
    ? { deed, history: { done: [...history.done, deed], undone: history.undone.slice(0, -1) } }
    : null;
};

/** Drops what was done to one part: its document was replaced from outside, and old ways back no longer fit. */
export const forget = (history: History, part: string): History => {
  const isOfOthers = (deed: Deed) =>
    deed.kind === 'part'
      ? deed.part !== part
      : [...deed.forth, ...deed.back].every((change) => partOfChange(change) !== part);
  return { done: history.done.filter(isOfOthers), undone: history.undone.filter(isOfOthers) };
};
