import type { Score } from './score.ts';

/** Where a step stands among a score's strands, and what it does; null where the score has none of that id. */
export const findStep = (
  { strands }: Pick<Score, 'strands'>,
  id: string,
): { readonly strand: number; readonly step: number; readonly operator: string } | null => {
  for (const [strand, { steps }] of strands.entries()) {
    const step = steps.findIndex((each) => each.id === id);
    if (step >= 0) return { strand, step, operator: steps[step]!.operator };
  }
  return null;
};
