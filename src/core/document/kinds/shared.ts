import { documentKind, type DocumentOf } from '../documentKind.ts';
import { standing } from '../fields.ts';
import { values } from '../values.ts';

export const shared = documentKind({
  name: 'shared',
  version: 1,
  fields: { values: standing(values, {}) },
});
/** The one value of each shared parameter, for every shader in the project that names it. */
export type SharedDocument = DocumentOf<typeof shared>;
