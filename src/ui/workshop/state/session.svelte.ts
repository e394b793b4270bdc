import { toast } from 'svelte-sonner';
import { newPart, partsOf, type Project } from '#core/document/project.ts';
import type { Authored } from '#core/time/values.ts';
import { createCompiler } from './compiler.svelte.ts';
import { createDocuments } from './documents.svelte.ts';
import { createSelection } from './selection.svelte.ts';
import { createValues } from './values.svelte.ts';
import type { Shown } from './views.ts';

export type { ScorePart, ShaderState } from './compiler.svelte.ts';
export type { Shown } from './views.ts';

/** The open project: its documents, what they compile to, and what of them is in hand. */
export const createSession = (project: Project) => {
  const documents = createDocuments(project, {
    changed: (part, edit) => compiler.follow(part, edit),
    removed: (id) => {
      compiler.forget(id);
      selection.forget(id);
    },
    refused: (sentence) => toast.error(sentence),
  });
  const parts = () => documents.parts;
  const compiler = createCompiler(
    parts,
    () => documents.library,
    (sentence) => toast.error(sentence),
  );
  const selection = createSelection(project, parts);
  const values = createValues(
    () => selection.materials,
    (id) => documents.parts.get(id),
  );
  const shaderState = $derived(selection.score ? (compiler.shaders.get(selection.score.id) ?? null) : null);
  const shared = $derived(partsOf({ parts: documents.list }, 'shared')[0] ?? null);
  let sharing: Promise<string> | null = null;

  return {
    close: (): void => {
      documents.saver.close();
      compiler.close();
    },
    id: project.id,
    name: project.name,
    // Documents.
    saver: documents.saver,
    get parts() {
      return documents.list;
    },
    part: (id: string) => documents.parts.get(id),
    get library() {
      return documents.library;
    },
    /** The set that is on the stage. */
    get stage() {
      return selection.set;
    },
    get sets() {
      return selection.sets;
    },
    showSet: selection.showSet,
    get scripts() {
      return selection.scripts;
    },
    /** The script that is worked on, and the one that plays in the set. */
    get script() {
      return selection.script;
    },
    get playing() {
      return selection.playing;
    },
    showScript: selection.showScript,
    /** The props in hand, and what is done with them on the stage. */
    get props() {
      return selection.props;
    },
    holdProps: selection.holdProps,
    get propToName() {
      return selection.propToName;
    },
    nameProp: selection.nameProp,
    get handles() {
      return selection.handles;
    },
    setHandles: selection.setHandles,
    get snap() {
      return selection.snap;
    },
    setSnap: selection.setSnap,
    get framing() {
      return selection.framing;
    },
    askFrame: selection.askFrame,
    get takingView() {
      return selection.takingView;
    },
    askTakeView: selection.askTakeView,
    get tab() {
      return selection.tab;
    },
    showTab: selection.showTab,
    get shared() {
      return shared;
    },
    apply: documents.apply,
    commit: documents.commit,
    settle: documents.settle,
    undo: documents.undo,
    redo: documents.redo,
    get canUndo() {
      return documents.canUndo;
    },
    get canRedo() {
      return documents.canRedo;
    },
    resolve: documents.resolve,
    recover: documents.recover,
    letGo: documents.letGo,
    bringBack: documents.bringBack,
    /** The project's shared values, made where there are none yet. */
    ensureShared: (): Promise<string> => {
      if (shared) return Promise.resolve(shared.id);
      const part = newPart('shared', 'shared', 'Shared values', {
        ...{ format: 'wicked-veil/shared', version: 1, values: {} },
      });
      // A drag asks many times before it is there.
      sharing ??= documents
        .commit(null, [{ op: 'add', part }])
        .then(() => part.id)
        .finally(() => (sharing = null));
      return sharing;
    },
    /** What is authored for a material: its own values, and the project's shared ones. */
    authored: (values: Authored['values']): Authored => ({ values, shared: shared?.body.values ?? {} }),
    // What they compile to.
    get shaders() {
      return compiler.shaders;
    },
    get shaderState() {
      return shaderState;
    },
    /** True while something that was changed is not compiled yet. */
    get isCompiling() {
      return compiler.isBusy;
    },
    noteRefusal: compiler.noteRefusal,
    /** What is driven now over what is authored. */
    values,
    // What is looked at and in hand.
    get materials() {
      return selection.materials;
    },
    get material() {
      return selection.material;
    },
    /** The material's shader. */
    get shader() {
      return selection.shader;
    },
    /** What the score shows: the material's shader, or a motif that was opened. */
    get score() {
      return selection.score;
    },
    get document() {
      return selection.score?.body ?? null;
    },
    get openMotif() {
      return selection.score?.kind === 'motif' ? selection.score : null;
    },
    showMaterial: selection.showMaterial,
    showMotif: selection.showMotif,
    get shown() {
      return selection.shown;
    },
    show: (wanted: Shown) => selection.show(wanted),
    get selected() {
      return selection.selected;
    },
    /** Steps chosen together, the one in hand among them. */
    get chosen() {
      return selection.chosen;
    },
    isSelected: selection.isSelected,
    select: selection.select,
    choose: selection.choose,
    chooseAll: selection.chooseAll,
    get asking() {
      return selection.asking;
    },
    /** Asks for a step: the row of the strand opens its palette there. */
    askFor: selection.askFor,
    get toName() {
      return selection.toName;
    },
    nameStrand: selection.nameStrand,
    get wraps() {
      return selection.wraps;
    },
    setWraps: selection.setWraps,
  };
};

export type Session = ReturnType<typeof createSession>;
