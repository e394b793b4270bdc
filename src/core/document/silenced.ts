import { list, object, text, told, type Read } from './fields.ts';

const silence = object({
  check: text(40),
  at: told(text(200), 'The place it speaks of, as the check names it.'),
  note: told(text(500), 'Why it is left as it is.'),
});
/** What a check says and an author has answered. */
export type Silence = Read<typeof silence>;
export const MOST_SILENCED = 200;
export const silenced = told(list(silence, MOST_SILENCED), 'What checks say and an author has answered.');
