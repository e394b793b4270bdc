import { compileShader, type CompiledShader } from '#core/compileShader.ts';
import { applyPatches, type Edit } from '#core/document/edits/patch.ts';
import {
  emptyHistory,
  forget,
  record,
  seal,
  takeRedo,
  takeUndo,
  type Deed,
} from '#core/document/edits/history.ts';
import { partsOf, type Part, type PartOf, type Project } from '#core/document/project.ts';
import type { ShaderDocument, SurfaceSettings } from '#core/document/shader.ts';
import { OPERATORS } from '#core/operators/catalogue.ts';
import { knobName, knobNumbers, type Diagnostic } from '#core/program/lowerShader.ts';
import { parsePart } from '#core/document/parsePart.ts';
import { readDrafts } from './drafts.ts';
import { createSaver } from './saver.svelte.ts';

/** How a shader stands: the last version that worked, and what is wrong with the present one. */
export interface ShaderState {
  readonly good: CompiledShader | null;
  readonly settings: SurfaceSettings;
  readonly knobs: ReadonlyMap<string, readonly number[]>;
  readonly diagnostics: readonly Diagnostic[];
}

/** What is shown on the stage instead of the finished surface. */
export type Shown =
  | { readonly kind: 'finished' | 'normals' | 'uv' }
  | { readonly kind: 'tap'; readonly strand: string; readonly step: string };

const compile = (part: PartOf<'shader'>, before?: ShaderState): ShaderState => {
  const { shader, diagnostics } = compileShader(part.body, part.name);
  if (!shader)
    return {
      good: before?.good ?? null,
      settings: before?.settings ?? part.body.surface,
      knobs: before?.knobs ?? new Map(),
      diagnostics,
    };
  // The same source needs no new program: keep the one that is linked.
  const same =
    before?.good?.live.fragment === shader.live.fragment &&
    before.good.live.vertex === shader.live.vertex &&
    [...before.good.taps.keys()].join() === [...shader.taps.keys()].join() &&
    [...before.good.knobs.keys()].join() === [...shader.knobs.keys()].join();
  return { good: same ? before.good : shader, settings: part.body.surface, knobs: shader.knobs, diagnostics };
};

/** The open project: its documents, what was done to them, and what they compile to. */
export const createSession = (project: Project) => {
  let parts = $state.raw<ReadonlyMap<string, Part>>(new Map(project.parts.map((part) => [part.id, part])));
  let history = $state.raw(emptyHistory);
  let shaders = $state.raw<ReadonlyMap<string, ShaderState>>(
    new Map(partsOf(project, 'shader').map((part) => [part.id, compile(part)])),
  );
  const list = $derived([...parts.values()]);
  const materials = $derived(partsOf({ parts: list }, 'material'));
  let materialId = $state(firstMaterial(project));
  let shown = $state.raw<Shown>({ kind: 'finished' });
  /** The step in hand. */
  let selected = $state<string | null>(null);
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
  const shaderState = $derived(shader ? (shaders.get(shader.id) ?? null) : null);

  const setRevision = (id: string, revision: number) => {
    const part = parts.get(id);
    if (part) parts = new Map(parts).set(id, { ...part, revision });
  };

  /** A dragged number that is a knob already only moves the knob; anything else compiles. */
  const moveKnob = (part: PartOf<'shader'>, edit: Edit): boolean => {
    const state = shaders.get(part.id);
    const [patch] = edit.patches;
    if (!state?.good || state.diagnostics.length || edit.patches.length !== 1 || patch?.op === 'remove')
      return false;
    const [root, strand, , step, field, input] = patch!.path;
    if (root !== 'strands' || field !== 'arguments' || typeof patch!.value === 'string') return false;
    const authored = part.body.strands[strand as number]?.steps[step as number];
    const operator = authored ? OPERATORS.get(authored.operator) : undefined;
    if (!authored || !operator) return false;
    const knob = knobName(authored.id, input as string);
    const numbers = knobNumbers(operator, input as string, patch!.value as number);
    if (state.knobs.get(knob)?.length !== numbers.length) return false;
    shaders = new Map(shaders).set(part.id, { ...state, knobs: new Map(state.knobs).set(knob, numbers) });
    return true;
  };

  const put = (part: Part, body: unknown) => {
    const changed = { ...part, body } as Part;
    parts = new Map(parts).set(part.id, changed);
    saver.touch(part.id);
    return changed;
  };

  const recompile = (part: PartOf<'shader'>) => {
    shaders = new Map(shaders).set(part.id, compile(part, shaders.get(part.id)));
  };

  const apply = (edit: Edit) => {
    const part = parts.get(edit.part);
    if (!part || !edit.patches.length) return;
    const { document, inverse } = applyPatches<unknown>(part.body, edit.patches);
    const changed = put(part, document);
    history = record(history, edit, inverse);
    if (changed.kind === 'shader' && !moveKnob(changed, edit)) recompile(changed);
  };

  const replay = (deed: Deed, patches: Deed['forth']) => {
    const part = parts.get(deed.part);
    if (!part) return;
    const changed = put(part, applyPatches<unknown>(part.body, patches).document);
    if (changed.kind === 'shader') recompile(changed);
  };

  const replacePart = (part: Part) => {
    parts = new Map(parts).set(part.id, part);
    if (part.kind === 'shader') recompile(part);
  };

  /** Brings back what a closed tab had not saved; where the server has moved on meanwhile, the author chooses. */
  const recover = () => {
    for (const draft of readDrafts(project.id)) {
      const theirs = parts.get(draft.id);
      if (!theirs || theirs.kind !== draft.kind || parsePart(draft.kind, draft.body).problems.length)
        continue;
      if (JSON.stringify(theirs.body) === JSON.stringify(draft.body)) continue;
      const mine = { ...theirs, body: draft.body, revision: draft.revision } as Part;
      replacePart(mine);
      if (draft.revision === theirs.revision) saver.touch(draft.id);
      else saver.noteConflict({ mine, theirs });
    }
  };

  return {
    recover,
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
    get shader() {
      return shader;
    },
    get document(): ShaderDocument | null {
      return shader?.body ?? null;
    },
    get shaders() {
      return shaders;
    },
    get shaderState() {
      return shaderState;
    },
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
    select: (step: string | null) => {
      selected = step;
    },
    showMaterial: (id: string) => {
      materialId = id;
      shown = { kind: 'finished' };
      selected = null;
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
      if (!taken) return;
      history = taken.history;
      replay(taken.deed, taken.deed.back);
    },
    redo: () => {
      const taken = takeRedo(history);
      if (!taken) return;
      history = taken.history;
      replay(taken.deed, taken.deed.forth);
    },
  };
};

export type Session = ReturnType<typeof createSession>;

/** The material of the first thing on the stage: what an author most likely came for. */
const firstMaterial = (project: Project): string | null => {
  const stage = partsOf(project, 'stage')[0];
  return stage?.body.props[0]?.material ?? partsOf(project, 'material')[0]?.id ?? null;
};
