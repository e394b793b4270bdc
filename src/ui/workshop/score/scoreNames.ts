import type { Parameter, Score } from '#core/document/shader.ts';
import type { Readable } from '../../parts/completeName.ts';

/** Names that the arguments of a score may read. */
export interface ScoreNames {
  readonly strands: ReadonlySet<string>;
  readonly parameters: ReadonlySet<string>;
  /** All of them, as they are offered while one types. */
  readonly readable: readonly Readable[];
  readonly of: { readonly strands: readonly string[]; readonly parameters: readonly Parameter[] };
}

const areSame = (a: readonly string[], b: readonly string[]): boolean =>
  a.length === b.length && a.every((each, i) => each === b[i]);

/** The same object as before where no name changed: a thousand cards read it, and a dragged number is no concern of theirs. */
export const scoreNames = (score: Score, before: ScoreNames | null): ScoreNames => {
  const { parameters } = score;
  const strands = score.strands.map((each) => each.name);
  if (before?.of.parameters === parameters && areSame(before.of.strands, strands)) return before;
  return {
    strands: new Set(strands),
    parameters: new Set(parameters.map((each) => each.name)),
    readable: [
      ...strands.map((name) => ({ name, detail: 'strand' })),
      ...parameters.map(({ name, kind }) => ({ name, detail: kind })),
    ],
    of: { strands, parameters },
  };
};
