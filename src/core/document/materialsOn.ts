import type { StageDocument } from './kinds/stage.ts';

/** The materials that a set is drawn with: those of its props, and those laid over the whole frame. */
export const materialsOn = ({
  props,
  frame = [],
}: Pick<StageDocument, 'props' | 'frame'>): ReadonlySet<string> =>
  new Set([...props, ...frame].map((each) => each.material));
