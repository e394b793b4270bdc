import { DOCUMENT_KINDS, PART_KINDS, type PartKind } from './documentKinds.ts';
import type { Schema } from './fields.ts';

/** Where a kind's schema is published, under the workshop's own address. */
export const schemaFile = (kind: PartKind): string => `${kind}-${DOCUMENT_KINDS[kind].version}.schema.json`;

/** The published schema of a kind of document. What it cannot say (names used twice, ranges the wrong way) `veil check` does. */
export const schemaOf = (kind: PartKind): Schema => DOCUMENT_KINDS[kind].schema;

export const SCHEMA_KINDS: readonly PartKind[] = PART_KINDS;
