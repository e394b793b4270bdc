import type { StageDocument } from './kinds/stage.ts';

/** What of a set is called by name in scripts, each by the word for it. */
export const SET_THINGS = ['prop', 'cue', 'flourish'] as const;
export type SetThing = (typeof SET_THINGS)[number];

/** The names of a set’s things. */
export const thingNames = (
  { props, cues = [], flourishes = [] }: Pick<StageDocument, 'props' | 'cues' | 'flourishes'>,
  thing: SetThing,
): readonly string[] => ({ prop: props, cue: cues, flourish: flourishes })[thing].map(({ name }) => name);
