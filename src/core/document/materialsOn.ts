import type { StageDocument } from './kinds/stage.ts';

/** The materials that a set is drawn with: those of its props, of what is laid over the whole frame, and of its flourishes. */
export const materialsOn = ({
  props,
  frame = [],
  flourishes = [],
}: Pick<StageDocument, 'props' | 'frame' | 'flourishes'>): ReadonlySet<string> =>
  new Set([...props, ...frame, ...flourishes.flatMap(({ layers }) => layers)].map((each) => each.material));
