import type { ScorePart } from '../state/session.svelte.ts';

/** What a step is called where its card is not seen: its strand, and its own word where it is not the last. */
export const nameOfStep = ({ strands }: Pick<ScorePart['body'], 'strands'>, key: string): string => {
  const [strand, step] = key.split('/');
  // A line may be a parameter's own.
  if (strand === 'parameter') return step!;
  const found = strands.find((each) => each.id === strand);
  if (!found) return `surface ${step}`;
  const at = found.steps.findIndex((each) => each.id === step);
  return at === found.steps.length - 1 ? found.name : `${found.name} ${at + 1}`;
};
