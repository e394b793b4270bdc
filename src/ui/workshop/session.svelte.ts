import { toast } from 'svelte-sonner';
import { compileMotif, compileShader, type Compilation, type CompiledShader } from '#core/compileShader.ts';
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
import { reaches, type Library } from '#core/document/motif.ts';
import { emptyShader, type SurfaceSettings } from '#core/document/shader.ts';
import {
  newPart,
  partsOf,
  type Part,
  type PartBodies,
  type PartKind,
  type PartOf,
  type Project,
} from '#core/document/project.ts';
import { knobName, knobNumbers, type Diagnostic } from '#core/lower/lowerShader.ts';
import { operatorOf } from '#core/lower/stepOperator.ts';
import { parsePart } from '#core/document/parsePart.ts';
import type { Authored } from '#core/time/values.ts';
import { driverMistakes } from './driverMistakes.ts';
import { newId } from '../parts/newId.ts';
import { sendChanges } from './sendChanges.ts';
import { dropDraft, readDrafts, type Draft } from './drafts.ts';
import { isSameDocument } from './openProject.ts';
import { openTabs, tabId } from './tab.ts';
import { createSaver } from './saver.svelte.ts';

/** How a shader or a motif stands: the last version that worked, and what is wrong with the present one. */
export interface ShaderState {
  readonly good: CompiledShader | null;
  readonly settings: SurfaceSettings;
  readonly knobs: ReadonlyMap<string, readonly number[]>;
  readonly diagnostics: readonly Diagnostic[];
  /** What is worth knowing and not wrong. */
  readonly notes: readonly Diagnostic[];
}

/** What is shown on the stage instead of the finished surface. */
export type Shown =
  | { readonly kind: 'finished' | 'normals' | 'uv' | 'wireframe' }
  | { readonly kind: 'tap'; readonly strand: string; readonly step: string };

/** A part whose strands can be worked on. */
export type ScorePart = PartOf<'shader'> | PartOf<'motif'>;

const UNLIT: SurfaceSettings = { ...emptyShader().surface, lit: false, sides: 'both' };
const isScore = (part: Part | undefined): part is ScorePart =>
  part?.kind === 'shader' || part?.kind === 'motif';
const settingsOf = (part: ScorePart): SurfaceSettings => (part.kind === 'shader' ? part.body.surface : UNLIT);

const compilationOf = (part: ScorePart, library: Library): Compilation =>
  part.kind === 'shader'
    ? compileShader(part.body, part.name, library)
    : compileMotif({ id: part.id, name: part.name, body: part.body }, library);

const compile = (part: ScorePart, library: Library, before?: ShaderState): ShaderState => {
  const { shader, diagnostics, notes } = compilationOf(part, library);
  if (!shader)
    return {
      good: before?.good ?? null,
      settings: before?.settings ?? settingsOf(part),
      knobs: before?.knobs ?? new Map(),
      ...{ diagnostics, notes },
    };
  // The same source needs no new program: keep the one that is linked.
  const same =
    before?.good?.live.fragment === shader.live.fragment &&
    before.good.live.vertex === shader.live.vertex &&
    [...before.good.taps.keys()].join() === [...shader.taps.keys()].join() &&
    [...before.good.knobs.keys()].join() === [...shader.knobs.keys()].join();
  return {
    good: same ? before.good : shader,
    settings: settingsOf(part),
    knobs: shader.knobs,
    ...{ diagnostics, notes },
  };
};

const libraryOf = (parts: Iterable<Part>): Library =>
  new Map(
    [...parts].flatMap((part) =>
      part.kind === 'motif' ? [[part.id, { id: part.id, name: part.name, body: part.body }] as const] : [],
    ),
  );

const WRAPS = 'wicked-veil.wraps';
const readFlag = (name: string): boolean => {
  try {
    return localStorage.getItem(name) === 'yes';
  } catch {
    return false;
  }
};
const keepFlag = (name: string, on: boolean): void => {
  try {
    localStorage.setItem(name, on ? 'yes' : 'no');
  } catch {
    // A browser that keeps nothing shows it as it is by default.
  }
};

/** The open project: its documents, what was done to them, and what they compile to. */
export const createSession = (project: Project) => {
  let parts = $state.raw<ReadonlyMap<string, Part>>(new Map(project.parts.map((part) => [part.id, part])));
  let history = $state.raw(emptyHistory);
  let library = $state.raw<Library>(libraryOf(project.parts));
  let shaders = $state.raw<ReadonlyMap<string, ShaderState>>(
    new Map(project.parts.filter(isScore).map((part) => [part.id, compile(part, library)])),
  );
  const list = $derived([...parts.values()]);
  const materials = $derived(partsOf({ parts: list }, 'material'));
  let materialId = $state(firstMaterial(project));
  /** The motif that is worked on instead of the material's shader. */
  let motifId = $state<string | null>(null);
  let shown = $state.raw<Shown>({ kind: 'finished' });
  /** The step in hand, and the steps chosen beside it. */
  let selected = $state<string | null>(null);
  let chosen = $state.raw<ReadonlySet<string>>(new Set());
  /** Where a step is asked for, and the strand that is to be named. */
  let asking = $state.raw<{ readonly strand: string; readonly at: number } | null>(null);
  let toName = $state<string | null>(null);
  /** Strands go on in a second line where they are longer than the score is wide. */
  let wraps = $state(readFlag(WRAPS));
  const saver = createSaver(
    project.id,
    () => parts,
    (id, revision) => setRevision(id, revision),
  );

  const material = $derived(materials.find((each) => each.id === materialId) ?? materials[0] ?? null);
  const shader = $derived.by(() => {
    const part = material ? parts.get(material.body.shader) : undefined;
    return part?.kind === 'shader' ? part : null;
  });
  const score = $derived.by((): ScorePart | null => {
    const motif = motifId === null ? undefined : parts.get(motifId);
    return motif?.kind === 'motif' ? motif : shader;
  });
  const shaderState = $derived(score ? (shaders.get(score.id) ?? null) : null);
  const shared = $derived(partsOf({ parts: list }, 'shared')[0] ?? null);

  const setRevision = (id: string, revision: number) => {
    const part = parts.get(id);
    if (part) parts = new Map(parts).set(id, { ...part, revision });
  };

  /** A dragged number that is a knob already only moves the knob, here and wherever the motif is used; anything else compiles. */
  const moveKnob = (part: ScorePart, edit: Edit): boolean => {
    const state = shaders.get(part.id);
    const [patch] = edit.patches;
    if (!state?.good || state.diagnostics.length || edit.patches.length !== 1 || patch?.op === 'remove')
      return false;
    const [root, strand, , step, field, input] = patch!.path;
    if (root !== 'strands' || field !== 'arguments' || typeof patch!.value === 'string') return false;
    const authored = part.body.strands[strand as number]?.steps[step as number];
    const found = authored ? operatorOf(authored, library) : null;
    if (!authored || !found || found.kind === 'unknown') return false;
    if (found.signature.inputs[input as string]?.type === 'choice') return false;
    const numbers = knobNumbers(found.signature, input as string, patch!.value as number);
    const knob = knobName(authored.id, input as string);
    if (state.knobs.get(knob)?.length !== numbers.length) return false;
    const moved = new Map(shaders);
    for (const [id, each] of shaders) {
      const name = id === part.id ? knob : `${part.id}/${knob}`;
      if (each.knobs.has(name)) moved.set(id, { ...each, knobs: new Map(each.knobs).set(name, numbers) });
    }
    shaders = moved;
    return true;
  };

  const put = (part: Part, body: unknown) => {
    const changed = { ...part, body } as Part;
    parts = new Map(parts).set(part.id, changed);
    if (changed.kind === 'motif') library = libraryOf(parts.values());
    saver.touch(part.id);
    return changed;
  };

  /** Compiles a part, and what uses it. */
  const recompile = (part: ScorePart) => {
    const made = new Map(shaders);
    for (const each of parts.values()) {
      if (!isScore(each)) continue;
      const uses =
        each.id === part.id ||
        (part.kind === 'motif' &&
          each.body.strands.some((strand) =>
            strand.steps.some((step) => step.motif !== undefined && reaches(library, step.motif, part.id)),
          ));
      if (uses) made.set(each.id, compile(each, library, shaders.get(each.id)));
    }
    shaders = made;
  };

  /** Parts that are being changed as a whole, until the server has done it. */
  let busy: ReadonlySet<string> | null = null;
  const isBusy = (id: string): boolean => {
    if (!busy?.has(id)) return false;
    toast.error('This is being saved as a whole; do that again in a moment.');
    return true;
  };

  const apply = (edit: Edit) => {
    const part = parts.get(edit.part);
    if (!part || !edit.patches.length || isBusy(edit.part)) return;
    const { document, inverse } = applyPatches<unknown>(part.body, edit.patches);
    const changed = put(part, document);
    history = record(history, edit, inverse);
    if (isScore(changed) && !moveKnob(changed, edit)) recompile(changed);
  };

  /**
   * Adds, deletes, names and changes parts, whole or not at all: on the server first, then here.
   * @param label what undo calls it; null where it is not undone by itself
   * @throws Error with the server's sentence
   */
  const commit = async (label: string | null, changes: readonly PartChange[]): Promise<void> => {
    if (busy) throw new Error('The last change is still being saved; try again in a moment.');
    const ids = changes.map(partOfChange);
    busy = new Set(ids);
    try {
      await saver.alone(ids, async () => {
        const { parts: made, back } = changeParts(parts, changes);
        const revisions = await sendChanges(project.id, newId(32), changes, parts, made);
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
          else if (isScore(part)) recompile(part);
        }
        if (label !== null) history = recordProject(history, { label, forth: changes, back });
      });
    } finally {
      busy = null;
    }
  };
  let sharing: Promise<string> | null = null;
  const takeOut = (id: string) => {
    saver.forget(id);
    const rest = new Map(shaders);
    rest.delete(id);
    shaders = rest;
    if (motifId === id) motifId = null;
  };

  /** Does a deed again, or takes it back; what is over several parts is first done by the server. */
  const replay = (
    taken: { readonly deed: Deed; readonly history: typeof history },
    way: 'back' | 'forth',
  ) => {
    const { deed } = taken;
    if (deed.kind === 'project') {
      const before = history;
      commit(null, deed[way]).then(
        // What was done to other parts meanwhile stands; this can then not be done again.
        () =>
          (history =
            history === before
              ? taken.history
              : { done: history.done.filter((each) => each !== deed), undone: [] }),
        (error: unknown) => toast.error((error as Error).message),
      );
      return;
    }
    const part = parts.get(deed.part);
    if (part && isBusy(part.id)) return;
    history = taken.history;
    if (!part) return;
    const changed = put(part, applyPatches<unknown>(part.body, deed[way]).document);
    if (isScore(changed)) recompile(changed);
  };

  const replacePart = (part: Part) => {
    parts = new Map(parts).set(part.id, part);
    if (part.kind === 'motif') library = libraryOf(parts.values());
    if (isScore(part)) recompile(part);
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
      if (draft.tab !== tabId()) dropDraft(project.id, draft.tab, draft.id);
    }
    return [...orphans.values()];
  };
  const letGo = (id: string): void => {
    const draft = orphans.get(id);
    if (draft) dropDraft(project.id, draft.tab, id);
    orphans.delete(id);
  };

  /** The driver's word on a shader: at the author's lines where it is about their code. @returns what has no place */
  const noteRefusal = (id: string, compiled: CompiledShader, log: string | null): string | null => {
    const state = shaders.get(id);
    const part = parts.get(id);
    if (!state || !isScore(part)) return log;
    const kept = state.diagnostics.filter((each) => !each.message.startsWith('The graphics driver says'));
    const found = log === null ? [] : driverMistakes(compiled, part.body, log);
    if (found.length || kept.length !== state.diagnostics.length)
      shaders = new Map(shaders).set(id, { ...state, diagnostics: [...kept, ...found] });
    return found.length ? null : log;
  };

  const clearChoice = () => {
    selected = null;
    chosen = new Set();
  };

  return {
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
    noteRefusal,
    commit,
    /** The project's shared values, made where there are none yet. */
    ensureShared: (): Promise<string> => {
      if (shared) return Promise.resolve(shared.id);
      const part = newPart('shared', 'shared', 'Shared values', {
        ...{ format: 'wicked-veil/shared', version: 1, values: {} },
      });
      // A drag asks many times before it is there.
      sharing ??= commit(null, [{ op: 'add', part }])
        .then(() => part.id)
        .finally(() => (sharing = null));
      return sharing;
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
    id: project.id,
    name: project.name,
    get parts() {
      return list;
    },
    part: (id: string) => parts.get(id),
    get materials() {
      return materials;
    },
    get material() {
      return material;
    },
    /** The material's shader. */
    get shader() {
      return shader;
    },
    /** What the score shows: the material's shader, or a motif that was opened. */
    get score() {
      return score;
    },
    get document() {
      return score?.body ?? null;
    },
    get library() {
      return library;
    },
    get openMotif() {
      return score?.kind === 'motif' ? score : null;
    },
    showMotif: (id: string | null) => {
      motifId = id;
      shown = { kind: 'finished' };
      clearChoice();
    },
    get shaders() {
      return shaders;
    },
    get shaderState() {
      return shaderState;
    },
    get shared() {
      return shared;
    },
    /** What is authored for a material: its own values, and the project's shared ones. */
    authored: (values: Authored['values']): Authored => ({ values, shared: shared?.body.values ?? {} }),
    get stage() {
      return partsOf({ parts: list }, 'stage')[0] ?? null;
    },
    get script() {
      return partsOf({ parts: list }, 'script')[0] ?? null;
    },
    get shown() {
      return shown;
    },
    show: (wanted: Shown) => {
      shown = wanted;
    },
    get selected() {
      return selected;
    },
    /** Steps chosen together, the one in hand among them. */
    get chosen(): ReadonlySet<string> {
      return chosen;
    },
    select: (step: string | null) => {
      selected = step;
      if (step === null || !chosen.has(step)) chosen = new Set();
    },
    /** Adds a step to those chosen, or takes it out. */
    choose: (step: string) => {
      const now = new Set(chosen.size ? chosen : selected ? [selected] : []);
      if (now.has(step) && now.size > 1) now.delete(step);
      else now.add(step);
      chosen = now;
      selected = step;
    },
    chooseAll: (steps: Iterable<string>) => {
      chosen = new Set(steps);
    },
    showMaterial: (id: string) => {
      materialId = id;
      motifId = null;
      shown = { kind: 'finished' };
      clearChoice();
    },
    get asking() {
      return asking;
    },
    /** Asks for a step: the row of the strand opens its palette there. */
    askFor: (place: { readonly strand: string; readonly at: number } | null) => {
      asking = place;
    },
    get toName() {
      return toName;
    },
    nameStrand: (id: string | null) => {
      toName = id;
    },
    get wraps() {
      return wraps;
    },
    setWraps: (on: boolean) => {
      wraps = on;
      keepFlag(WRAPS, on);
    },
    saver,
    apply,
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
    undo: () => {
      const taken = takeUndo(history);
      if (taken) replay(taken, 'back');
    },
    redo: () => {
      const taken = takeRedo(history);
      if (taken) replay(taken, 'forth');
    },
  };
};

export type Session = ReturnType<typeof createSession>;

/** The material of the first thing on the stage: what an author most likely came for. */
const firstMaterial = (project: Project): string | null => {
  const stage = partsOf(project, 'stage')[0];
  return stage?.body.props[0]?.material ?? partsOf(project, 'material')[0]?.id ?? null;
};
