import { parsePart } from '#core/document/parsePart.ts';
import type { MaterialDocument, PartKind } from '#core/document/project.ts';
import { ApiError } from '../errors.ts';
import { parseJson } from './readJson.ts';
import { readAs } from './read.ts';
import {
  AddedPart,
  ChangedPart,
  ChangesRequest,
  DeletedPart,
  NewPartRequest,
  SavePartRequest,
} from './shapes.ts';

/** A part's document as it is kept: read through, and written as JSON again. */
export interface Written {
  readonly text: string;
  /** Of a material, the shader that it is of. */
  readonly shader: string | null;
}

/** Reads a part's document: what comes back is what is kept. @throws ApiError 422 with every problem and its place */
export const written = (kind: PartKind, name: string, body: unknown): Written => {
  const { document, problems } = parsePart(kind, body);
  if (!document)
    throw new ApiError(
      422,
      'invalid',
      `“${name}” cannot be saved: ${problems[0]!.path ? `${problems[0]!.path}: ` : ''}${problems[0]!.message}`,
      { problems },
    );
  const material = kind === 'material' ? (document as MaterialDocument) : null;
  if (material?.named)
    throw new ApiError(
      422,
      'invalid',
      `“${name}” cannot be saved: version 1 stores values by parameter name; write version 2, with parameter ids.`,
    );
  const shader = material?.shader ?? null;
  return { text: JSON.stringify(document), shader };
};

/** A part that is added. */
export interface Added extends Written {
  readonly id: string;
  readonly kind: PartKind;
  readonly name: string;
  readonly deed?: string | undefined;
}
/** A part that is saved, made from a revision. */
export interface Saved extends Written {
  readonly name: string;
  readonly revision: number;
  readonly deed?: string | undefined;
}
export type Change =
  | ({ readonly op: 'add' } & Added)
  | ({ readonly op: 'change'; readonly id: string } & Saved)
  | { readonly op: 'delete'; readonly id: string };

/** The kinds of a project's parts by their ids: what a document is read as that is saved. */
export type Kinds = Readonly<Record<string, PartKind>>;

const kindOf = (kinds: Kinds, id: string): PartKind => {
  const kind = Object.hasOwn(kinds, id) ? kinds[id] : undefined;
  if (!kind) throw new ApiError(404, 'not-found', 'This part does not exist.');
  return kind;
};
const added = ({ id, kind, name, body, deed }: NewPartRequest): Added => ({
  ...{ id, kind, name, deed },
  ...written(kind, name, body),
});
const saved = (kind: PartKind, { name, revision, body, deed }: SavePartRequest): Saved => ({
  ...{ name, revision, deed },
  ...written(kind, name, body),
});
const changed = (change: Readonly<Record<string, unknown>>, kinds: Record<string, PartKind>): Change => {
  switch (change['op']) {
    case 'add': {
      const part = added(readAs(change, AddedPart) as NewPartRequest);
      kinds[part.id] = part.kind;
      return { op: 'add', ...part };
    }
    case 'change': {
      const wanted = readAs(change, ChangedPart);
      return { op: 'change', id: wanted.id, ...saved(kindOf(kinds, wanted.id), wanted) };
    }
    case 'delete':
      return { op: 'delete', id: readAs(change, DeletedPart).id };
    default:
      throw new ApiError(422, 'invalid', 'op of each change should be add, change or delete.');
  }
};

/** What can be asked with documents, and how it is read: on whichever thread. Each throws ApiError. */
export const PART_REQUESTS = {
  add: (bytes: Uint8Array): Added => added(readAs(parseJson(bytes), NewPartRequest)),
  save: (bytes: Uint8Array, kinds: Kinds): Saved =>
    saved(Object.values(kinds)[0]!, readAs(parseJson(bytes), SavePartRequest)),
  change: (
    bytes: Uint8Array,
    kinds: Kinds,
  ): { readonly deed: string; readonly changes: readonly Change[] } => {
    const { deed, changes } = readAs(parseJson(bytes), ChangesRequest);
    // What is added before may be changed after.
    const known = { ...kinds };
    return { deed, changes: changes.map((each) => changed(each, known)) };
  },
} as const;
