import { applyPatches, type Edit } from '#core/document/patch.ts';
import { changeParts, partOfChange, type PartChange } from '#core/edits/changeParts.ts';
import {
  emptyHistory,
  forget,
  record,
  recordProject,
  seal,
  takeRedo,
  takeUndo,
  type Deed,
} from '#core/edits/history.ts';
import type { Library } from '#core/document/motif.ts';
import { newPart, type Part, type PartBodies, type PartKind, type Project } from '#core/document/project.ts';
import { parsePart } from '#core/document/parsePart.ts';
import { newId } from '../../parts/newId.ts';
import { dropDraft, readDrafts, type Draft } from './drafts.ts';
import { isSameDocument } from './openProject.ts';
import { createSaver } from './saver.svelte.ts';
import { sendChanges } from './sendChanges.ts';
import { openTabs, tabId } from './tab.ts';

/** What follows from the documents. */
export interface DocumentEvents {
  /** A part is another than it was: by an edit, or as a whole. */
  readonly changed: (part: Part, edit: Edit | null) => void;
  readonly removed: (id: string) => void;
  /** Something could not be done, in a sentence. */
  readonly refused: (sentence: string) => void;
}

/** The world the documents are in: the server they are sent to, and the tab that has them open. */
export interface Outside {
  readonly send?: typeof sendChanges;
  readonly tab?: string;
}

const libraryOf = (parts: Iterable<Part>): Library =>
  new Map(
    [...parts].flatMap((part) =>
      part.kind === 'motif' ? [[part.id, { id: part.id, name: part.name, body: part.body }] as const] : [],
    ),
  );

/** The project's documents, what was done to them, and what of it is saved. */
export const createDocuments = (
  project: Project,
  events: DocumentEvents,
  { send = sendChanges, tab = tabId() }: Outside = {},
) => {
  let parts = $state.raw<ReadonlyMap<string, Part>>(new Map(project.parts.map((part) => [part.id, part])));
  let history = $state.raw(emptyHistory);
  let library = $state.raw<Library>(libraryOf(project.parts));
  const list = $derived([...parts.values()]);
  const saver = createSaver(
    project.id,
    () => parts,
    (id, revision) => setRevision(id, revision),
    tab,
  );

  const setRevision = (id: string, revision: number) => {
    const part = parts.get(id);
    if (part) parts = new Map(parts).set(id, { ...part, revision });
  };

  const put = (part: Part, body: unknown) => {
    const changed = { ...part, body } as Part;
    parts = new Map(parts).set(part.id, changed);
    if (changed.kind === 'motif') library = libraryOf(parts.values());
    saver.touch(part.id);
    return changed;
  };

  /** Parts that are being changed as a whole, until the server has done it. */
  let busy: ReadonlySet<string> | null = null;
  let onItsWay: Promise<unknown> = Promise.resolve();
  /**
   * Does something once nothing is being changed as a whole: what is worked out there and committed at once is of what
   * then stands, and is not refused because the last change was still being saved.
   */
  const inTurn = async <T>(work: () => T | Promise<T>): Promise<T> => {
    while (busy) await onItsWay.catch(() => undefined);
    return work();
  };
  const isBusy = (id: string): boolean => {
    if (!busy?.has(id)) return false;
    events.refused('This is being saved as a whole; do that again in a moment.');
    return true;
  };

  const apply = (edit: Edit) => {
    const part = parts.get(edit.part);
    if (!part || !edit.patches.length || isBusy(edit.part)) return;
    const { document, inverse } = applyPatches<unknown>(part.body, edit.patches);
    const changed = put(part, document);
    history = record(history, edit, inverse);
    events.changed(changed, edit);
  };

  /** Changes parts by what follows from others: that is saved, and not undone by itself. */
  const follow = (changes: readonly PartChange[]): void => {
    for (const change of changes) {
      const part = change.op === 'change' ? parts.get(change.id) : undefined;
      if (!part || change.op !== 'change' || busy?.has(part.id)) continue;
      events.changed(put(part, applyPatches<unknown>(part.body, change.patches).document), null);
    }
  };

  /**
   * Adds, deletes, names and changes parts, whole or not at all: on the server first, then here.
   * @param label what undo calls it; null where it is not undone by itself
   * @throws Error with the server's sentence
   */
  const commitNow = async (label: string | null, changes: readonly PartChange[]): Promise<void> => {
    if (busy) throw new Error('The last change is still being saved; try again in a moment.');
    const ids = changes.map(partOfChange);
    busy = new Set(ids);
    onItsWay = saver.alone(ids, async () => {
      const { parts: made, back } = changeParts(parts, changes);
      const revisions = await send(project.id, newId(32), changes, parts, made);
      const now = new Map(parts);
      changes.forEach((change, i) => {
        const id = partOfChange(change);
        if (change.op === 'delete') now.delete(id);
        else now.set(id, { ...made.get(id)!, revision: revisions[i]! });
      });
      parts = now;
      library = libraryOf(now.values());
      for (const id of ids) {
        const part = now.get(id);
        if (!part) takeOut(id);
        else events.changed(part, null);
      }
      if (label !== null) history = recordProject(history, { label, forth: changes, back });
    });
    try {
      await onItsWay;
    } finally {
      busy = null;
    }
  };
  const commit: typeof commitNow = async (label, changes) => {
    try {
      await commitNow(label, changes);
    } catch (error) {
      // What was to be undone did not happen: another deed would go in its place.
      if (!busy) awaited = [];
      throw error;
    }
    turnOn();
  };
  const takeOut = (id: string) => {
    saver.forget(id);
    events.removed(id);
  };

  /** What is to be undone and done again once the server has what is on its way. */
  let awaited: ('back' | 'forth')[] = [];
  const turn = (way: 'back' | 'forth'): void => {
    if (busy) {
      awaited.push(way);
      return;
    }
    const taken = way === 'back' ? takeUndo(history) : takeRedo(history);
    if (taken) replay(taken, way);
  };
  const turnOn = (): void => {
    const [way, ...later] = awaited;
    if (!way || busy) return;
    awaited = later;
    turn(way);
    turnOn();
  };

  /** Does a deed again, or takes it back; what is over several parts is first done by the server. */
  const replay = (
    taken: { readonly deed: Deed; readonly history: typeof history },
    way: 'back' | 'forth',
  ) => {
    const { deed } = taken;
    if (deed.kind === 'project') {
      const before = history;
      void commitNow(null, deed[way]).then(
        // What was done to other parts meanwhile stands; this can then not be done again.
        () => {
          history =
            history === before
              ? taken.history
              : { done: history.done.filter((each) => each !== deed), undone: [] };
          turnOn();
        },
        (error: unknown) => {
          awaited = [];
          events.refused((error as Error).message);
        },
      );
      return;
    }
    const part = parts.get(deed.part);
    if (part && isBusy(part.id)) return;
    history = taken.history;
    if (!part) return;
    const changed = put(part, applyPatches<unknown>(part.body, deed[way]).document);
    events.changed(changed, null);
  };

  const replacePart = (part: Part) => {
    parts = new Map(parts).set(part.id, part);
    if (part.kind === 'motif') library = libraryOf(parts.values());
    events.changed(part, null);
  };

  /** Drafts of parts that were deleted meanwhile: the author says what becomes of them. */
  const orphans = new Map<string, Draft>();

  /**
   * Brings back what a closed tab had not saved; where the server has moved on meanwhile, the author chooses.
   * @returns drafts of parts that are not there any more
   */
  const recover = async (): Promise<readonly Draft[]> => {
    const isOpen = await openTabs();
    for (const draft of readDrafts(project.id)) {
      if (isOpen(draft.tab)) continue;
      const { document } = parsePart(draft.kind, draft.body, { strict: false });
      const theirs = parts.get(draft.id);
      if (!document || (theirs && theirs.kind !== draft.kind)) continue;
      if (!theirs) {
        orphans.set(draft.id, { ...draft, body: document } as Draft);
        continue;
      }
      const same = (body: unknown) => isSameDocument(draft.kind, theirs.body, body);
      if (same(document)) {
        dropDraft(project.id, draft.tab, draft.id);
        continue;
      }
      // What was sent and taken before the reply was lost is no one else's change.
      const own = draft.revision === theirs.revision || (draft.sent !== undefined && same(draft.sent));
      const mine = { ...theirs, body: document, revision: own ? theirs.revision : draft.revision } as Part;
      replacePart(mine);
      if (own) saver.touch(draft.id);
      else saver.noteConflict({ mine, theirs });
      // It is this tab's now.
      if (draft.tab !== tab) dropDraft(project.id, draft.tab, draft.id);
    }
    return [...orphans.values()];
  };
  const letGo = (id: string): void => {
    const draft = orphans.get(id);
    if (draft) dropDraft(project.id, draft.tab, id);
    orphans.delete(id);
  };

  return {
    saver,
    get parts() {
      return parts;
    },
    get list() {
      return list;
    },
    get library() {
      return library;
    },
    apply,
    follow,
    commit,
    inTurn,
    recover,
    letGo,
    /** Adds a part again that was deleted while it had unsaved changes here. @throws Error with the server's sentence */
    bringBack: async (id: string): Promise<void> => {
      const draft = orphans.get(id);
      if (!draft) return;
      const part = newPart(draft.kind, id, draft.name, draft.body as PartBodies[PartKind]);
      await commit(`Bring back ${draft.name}`, [{ op: 'add', part }]);
      letGo(id);
    },
    /** Ends a conflict: `mine` is saved over theirs, or theirs takes its place. */
    resolve: (id: string, keep: 'mine' | 'theirs') => {
      const conflict = saver.conflicts.get(id);
      const part = parts.get(id);
      if (!conflict || !part) return;
      if (keep === 'mine') setRevision(id, conflict.theirs.revision);
      else {
        replacePart(conflict.theirs);
        history = forget(history, id);
      }
      saver.settleConflict(id, keep === 'mine');
    },
    /** Ends a drag: the next change undoes by itself. */
    settle: () => {
      history = seal(history);
    },
    get canUndo() {
      return history.done.at(-1)?.label ?? null;
    },
    get canRedo() {
      return history.undone.at(-1)?.label ?? null;
    },
    undo: () => turn('back'),
    redo: () => turn('forth'),
  };
};
