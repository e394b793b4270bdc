import { untrack } from 'svelte';
import type { Library } from '#core/document/motif.ts';
import type { Parameter, Strand } from '#core/document/shader.ts';
import type { CompiledShader } from '#core/compileShader.ts';
import type { Diagnostic } from '#core/lower/lowerShader.ts';
import type { ScorePart, Session } from '../state/session.svelte.ts';
import { scoreNames, type ScoreNames } from './scoreNames.ts';

/** What every card of a score is drawn from besides its own step. */
export interface ScoreView {
  readonly good: CompiledShader | null;
  readonly diagnostics: readonly Diagnostic[];
  readonly notes: readonly Diagnostic[];
  readonly names: ScoreNames;
  readonly parameters: readonly Parameter[];
  readonly library: Library;
  /** Whether a strand shows one line instead of its cards: asked for by the author, and nothing is wrong in it. */
  isCollapsed(strand: Strand): boolean;
}

const NONE: readonly Diagnostic[] = [];

/**
 * Follows the score field by field, each another only where it is another: a dragged number changes the document many
 * times a second, and a thousand cards would be looked at each time though none of what they read has changed.
 */
export const createScoreView = (session: Session, score: () => ScorePart): ScoreView => {
  const look = (names: ScoreNames | null): Omit<ScoreView, 'isCollapsed'> => ({
    good: session.shaderState?.good ?? null,
    diagnostics: session.shaderState?.diagnostics ?? NONE,
    notes: session.shaderState?.notes ?? NONE,
    names: scoreNames(score().body, names),
    parameters: score().body.parameters,
    library: session.library,
  });
  const first = untrack(() => look(null));
  let good = $state.raw(first.good);
  let diagnostics = $state.raw(first.diagnostics);
  let notes = $state.raw(first.notes);
  let names = $state.raw(first.names);
  let parameters = $state.raw(first.parameters);
  let library = $state.raw(first.library);
  $effect.pre(() => {
    const now = look(untrack(() => names));
    // None of them was said, and none is: two empty lists are one.
    if (now.diagnostics.length || untrack(() => diagnostics).length) diagnostics = now.diagnostics;
    if (now.notes.length || untrack(() => notes).length) notes = now.notes;
    ({ good, names, parameters, library } = now);
  });
  return {
    get good() {
      return good;
    },
    get diagnostics() {
      return diagnostics;
    },
    get notes() {
      return notes;
    },
    get names() {
      return names;
    },
    get parameters() {
      return parameters;
    },
    get library() {
      return library;
    },
    isCollapsed: ({ id, collapsed }) =>
      (collapsed ?? false) && !diagnostics.some((each) => each.strand === id),
  };
};
