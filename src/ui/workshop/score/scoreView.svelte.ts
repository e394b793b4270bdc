import { untrack } from 'svelte';
import type { Library } from '#core/document/motif.ts';
import type { Parameter } from '#core/document/shader.ts';
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
}

const NONE: readonly Diagnostic[] = [];

/**
 * Follows the score, and is another object only where something in it is another: a dragged number changes the document
 * many times a second, and a thousand cards would be looked at each time though none of this has changed.
 */
export const createScoreView = (session: Session, score: () => ScorePart) => {
  const look = (names: ScoreNames | null): ScoreView => ({
    good: session.shaderState?.good ?? null,
    diagnostics: session.shaderState?.diagnostics ?? NONE,
    notes: session.shaderState?.notes ?? NONE,
    names: scoreNames(score().body, names),
    parameters: score().body.parameters,
    library: session.library,
  });
  let view = $state.raw(untrack(() => look(null)));
  $effect.pre(() => {
    const before = untrack(() => view);
    const now = look(before.names);
    const fields = Object.keys(now) as (keyof ScoreView)[];
    if (fields.some((each) => now[each] !== before[each])) view = now;
  });
  return {
    get now() {
      return view;
    },
  };
};
