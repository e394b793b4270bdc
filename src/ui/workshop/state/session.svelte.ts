import { toast } from 'svelte-sonner';
import { newPart, partsOf, type Project } from '#core/document/project.ts';
import type { Authored } from '#core/time/values.ts';
import type { LeftOut } from '#stage/stage.ts';
import { createCompiler } from './compiler.svelte.ts';
import { createDocuments } from './documents.svelte.ts';
import { createSelection } from './selection.svelte.ts';
import { createValues } from './values.svelte.ts';

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
  let leftOut = $state.raw<readonly LeftOut[]>([]);

  const own = {
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
    get shared() {
      return shared;
    },
    apply: documents.apply,
    follow: documents.follow,
    commit: documents.commit,
    inTurn: documents.inTurn,
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
    catchUp: documents.catchUp,
    whenSaved: documents.whenSaved,
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
    /** Props of the set that cannot count for distances to surfaces, where something asks for these. */
    get leftOut() {
      return leftOut;
    },
    noteLeftOut: (props: readonly LeftOut[]): void => void (leftOut = props),
    /** What is driven now over what is authored. */
    values,
    get document() {
      return selection.score?.body ?? null;
    },
    get openMotif() {
      return selection.score?.kind === 'motif' ? selection.score : null;
    },
  };
  // What is looked at and in hand is the session's own, getters and all.
  return Object.defineProperties(own, Object.getOwnPropertyDescriptors(selection)) as typeof own &
    typeof selection;
};

export type Session = ReturnType<typeof createSession>;
