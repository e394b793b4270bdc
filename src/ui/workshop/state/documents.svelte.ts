import { applyPatches, type Edit } from '#core/document/patch.ts';
import { changeParts, partOfChange, type PartChange } from '#core/edits/changeParts.ts';
import { mergeDocuments } from '#core/edits/mergeDocuments.ts';
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
import { withBoundMaterials } from '#core/document/valueKeys.ts';
import { newId } from '../../parts/newId.ts';
import { dropDraft, readDrafts, type Draft } from './drafts.ts';
import { isSameDocument } from './openProject.ts';
import { createReader, type ElsewhereReader } from './readElsewhere.ts';
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
  readonly read?: ElsewhereReader;
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
  { send = sendChanges, read = createReader(project.id), tab = tabId() }: Outside = {},
) => {
  let parts = $state.raw<ReadonlyMap<string, Part>>(new Map(project.parts.map((part) => [part.id, part])));
  let history = $state.raw(emptyHistory);
  let library = $state.raw<Library>(libraryOf(project.parts));
  const list = $derived([...parts.values()]);
  const saver = createSaver(
    project.id,
    () => parts,
    (id, revision) => {
      setRevision(id, revision);
      saved();
    },
    (theirs) => reconcile(theirs),
    tab,
  );
  /** Called when the server has taken something. */
  let saved = (): void => undefined;

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
  /** How often parts were changed as a whole. */
  let commits = 0;
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
    commits += 1;
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
      saved();
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

  /** Puts a document in the place of a part's, as an edit: undo has what was there before. */
  const takeOver = (part: Part): void => {
    const own = parts.get(part.id);
    if (own) {
      const edit = { label: 'Changes made elsewhere', part: part.id, patches: [replaceAll(part.body)] };
      history = seal(record(seal(history), edit, [replaceAll(own.body)]));
    }
    replacePart(part);
  };
  const replaceAll = (value: unknown) => ({ op: 'replace', path: [], value }) as const;

  /**
   * Merges what was changed here and elsewhere since the revision this was made from.
   * @returns false where both changed the same place, or the server has that revision no more: the author chooses
   */
  const reconcile = async (theirs: Part): Promise<boolean> => {
    const from = parts.get(theirs.id);
    const base = from && (await read.revision(from));
    const mine = parts.get(theirs.id);
    const { document: there } = parsePart(theirs.kind, theirs.body, { strict: false });
    if (!base || !there || mine?.revision !== from?.revision || !mine) return false;
    const made = mergeDocuments<unknown>(base, mine.body, there);
    const { document } = 'merged' in made ? parsePart(mine.kind, made.merged) : { document: null };
    if (!document) return false;
    takeOver({ ...theirs, body: document } as Part);
    if (!isSameDocument(theirs.kind, document, there)) saver.touch(theirs.id);
    return true;
  };

  /**
   * Takes over what was saved elsewhere of parts that have no unsaved changes here.
   * @returns the names of the parts that are another now
   */
  const catchUp = async (): Promise<readonly string[]> => {
    // What was added here since would look as if it were deleted elsewhere.
    const began = commits;
    const isStill = () => !busy && !saver.isRunning && commits === began;
    const newest = isStill() ? await read.revisions() : null;
    if (!newest || !isStill()) return [];
    const names: string[] = [];
    for (const [id, revision] of Object.entries(newest)) {
      if ((parts.get(id)?.revision ?? 0) >= revision || saver.isTouched(id)) continue;
      const part = await read.part(id);
      if (!part || !isStill() || saver.isTouched(id) || (parts.get(id)?.revision ?? 0) >= part.revision)
        continue;
      takeOver(part);
      names.push(part.name);
    }
    for (const { id, name } of parts.values())
      if (!Object.hasOwn(newest, id) && isStill() && !saver.isTouched(id)) {
        const now = new Map(parts);
        now.delete(id);
        parts = now;
        library = libraryOf(now.values());
        history = forget(history, id);
        takeOut(id);
        names.push(name);
      }
    return names;
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
      const read = parsePart(draft.kind, draft.body, { strict: false }).document;
      // A draft of an older version may store values by name.
      const document = read && withBoundMaterials([{ ...draft, body: read }, ...parts.values()])[0]!.body;
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
      else if (!(await reconcile(theirs))) saver.noteConflict({ mine, theirs });
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
    catchUp,
    /** Has something called whenever the server has taken a save. */
    whenSaved: (listener: () => void): void => void (saved = listener),
    /**
     * Ends a conflict: mine is saved over theirs. Where theirs is kept, it is then put in the place of mine, so that mine
     * stays in the part's history, and one undo away.
     */
    resolve: async (id: string, keep: 'mine' | 'theirs'): Promise<void> => {
      const conflict = saver.conflicts.get(id);
      const part = parts.get(id);
      if (!conflict || !part) return;
      setRevision(id, conflict.theirs.revision);
      saver.settleConflict(id);
      if (keep === 'mine') return;
      // A server that is away has mine in its history no sooner than it is back; undo has it at once.
      await saver.alone([id], () => Promise.resolve()).catch(() => undefined);
      const { revision } = parts.get(id) ?? part;
      takeOver({ ...conflict.theirs, revision });
      saver.touch(id);
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
