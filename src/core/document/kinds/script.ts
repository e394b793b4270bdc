import { documentKind, type DocumentOf } from '../documentKind.ts';
import { text } from '../fields.ts';

export const LONGEST_SCRIPT = 200_000;

export const script = documentKind({
  name: 'script',
  version: 1,
  fields: {
    /** Gameplay, in JavaScript. */
    source: text(LONGEST_SCRIPT),
  },
});
export type ScriptDocument = DocumentOf<typeof script>;
