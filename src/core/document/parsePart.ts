import { DOCUMENT_KINDS, type PartBodies, type PartKind } from './documentKinds.ts';
import type { DocumentKind, ParsedDocument } from './documentKind.ts';
import type { Reading } from './fields.ts';

/** Reads the body of a part of the given kind from JSON: what comes back, and only that, is the document. */
export const parsePart = <K extends PartKind>(
  kind: K,
  json: unknown,
  how: Reading = {},
): ParsedDocument<PartBodies[K]> =>
  (DOCUMENT_KINDS[kind] as unknown as DocumentKind<PartBodies[K]>).parse(json, how);
