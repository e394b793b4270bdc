import { PART_ID, PART_KINDS, type PartKind, type PartOf } from '../document/project.ts';
import { blobsIn } from '../document/blobsIn.ts';
import { createReader, type Problem } from '../document/read.ts';
import { MOST_NAME, nameProblem } from '../document/nameProblem.ts';
import { parsePart } from '../document/parsePart.ts';
import { withBoundMaterials } from '../document/valueKeys.ts';

/** A part as it travels: without the revision that a server counts. */
export type PackedPart = { readonly [K in PartKind]: Omit<PartOf<K>, 'revision'> }[PartKind];

/** A project as an archive holds it. */
export interface Unpacked {
  readonly name: string;
  readonly parts: readonly PackedPart[];
  /** The bytes of its pictures and its imported meshes by their SHA-256. */
  readonly blobs: ReadonlyMap<string, Uint8Array>;
}

const INDEX = 'project.json';
const FORMAT = 'wicked-veil/project';
const MOST_PARTS = 5000;
/** The folder of each kind. */
const FOLDERS: Readonly<Record<PartKind, string>> = {
  ...{ stage: 'sets', shader: 'shaders', material: 'materials', motif: 'motifs', script: 'scripts' },
  texture: 'textures',
  take: 'takes',
  shared: 'shared',
};

const text = (bytes: Uint8Array): string => new TextDecoder('utf-8', { fatal: true }).decode(bytes);
const bytes = (json: unknown): Uint8Array => new TextEncoder().encode(`${JSON.stringify(json, null, 2)}\n`);

/** A file's name made of a part's: what people read, and every system takes. */
export const fileName = (name: string): string =>
  name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 60) || 'part';

/** A part's document as it leaves: pictures that are only looked at beside a set stay. */
const exported = (part: PackedPart): PackedPart['body'] => {
  if (part.kind !== 'stage') return part.body;
  const { references: _, ...rest } = part.body;
  return rest;
};

/**
 * A project as files: an index, a folder a kind with readable JSON (scripts as JavaScript), its pictures and its meshes.
 * The same project always gives the same files.
 * @param blobs the bytes of each picture and mesh the parts name, and the ending its file has
 */
export const archiveFiles = (
  name: string,
  parts: readonly PackedPart[],
  blobs: ReadonlyMap<string, { readonly bytes: Uint8Array; readonly ending: string }>,
): ReadonlyMap<string, Uint8Array> => {
  const files = new Map<string, Uint8Array>();
  const index = parts.map((part) => {
    const { id, kind, name: called } = part;
    const body = exported(part);
    const stem = `${FOLDERS[kind]}/${fileName(called)}`;
    const ending = kind === 'script' ? 'script.js' : `${kind}.json`;
    let file = `${stem}.${ending}`;
    for (let n = 2; files.has(file); n += 1) file = `${stem}-${n}.${ending}`;
    files.set(file, part.kind === 'script' ? new TextEncoder().encode(part.body.source) : bytes(body));
    return { id, kind, name: called, file };
  });
  const folders = blobsIn(parts);
  for (const [sha, blob] of blobs) files.set(`${folders.get(sha)}/${sha}.${blob.ending}`, blob.bytes);
  return new Map([[INDEX, bytes({ format: FORMAT, version: 1, name, parts: index })], ...files]);
};

/**
 * Reads a project from an archive's files.
 * @param shaOf the SHA-256 of bytes, in hex
 * @param excessOf what is too much about a text of JSON before anything is made of it, as a sentence; null where nothing is
 * @returns every problem with its file where it cannot be taken; nothing is taken in part
 */
export const readArchive = (
  files: ReadonlyMap<string, Uint8Array>,
  shaOf: (bytes: Uint8Array) => string,
  excessOf: (text: string) => string | null = () => null,
): { readonly project: Unpacked } | { readonly problems: readonly Problem[] } => {
  const problem = (path: string, message: string) => ({ problems: [{ path, message }] });
  const given = files.get(INDEX);
  if (!given)
    return problem(INDEX, 'This archive has no project.json; it is not one that a project was exported to.');
  const problems: Problem[] = [];
  const json = (file: string, content: Uint8Array): unknown => {
    try {
      const written = text(content);
      const excess = excessOf(written);
      if (excess === null) return JSON.parse(written) as unknown;
      problems.push({ path: file, message: excess });
      return null;
    } catch (error) {
      problems.push({ path: file, message: `This is not JSON in UTF-8: ${(error as Error).message}` });
      return null;
    }
  };
  const read = json(INDEX, given);
  if (problems.length) return { problems };
  const r = createReader();
  const head = r.object(read, '', ['format', 'version', 'name', 'parts']);
  r.oneOf(head['format'], 'format', [FORMAT]);
  if (r.number(head['version'], 'version') > 1)
    r.problem('version', 'This was exported by a newer version of the workshop.');
  const nameAt = (value: unknown, path: string): string => {
    const called = r.text(value, path, MOST_NAME).trim();
    const wrong = nameProblem(called);
    if (wrong) r.problem(path, `A name should ${wrong}.`);
    return called;
  };
  const name = head['name'] === undefined ? 'Imported project' : nameAt(head['name'], 'name');
  const listed = r.list(head['parts'], 'parts', MOST_PARTS, (item, path) => {
    const part = r.object(item, path, ['id', 'kind', 'name', 'file']);
    const id = r.text(part['id'], `${path}.id`, 64);
    if (!PART_ID.test(id)) r.problem(`${path}.id`, 'An id is letters, digits, - and _, at most 64 of them.');
    const kind = r.oneOf<PartKind>(part['kind'], `${path}.kind`, PART_KINDS);
    return {
      id,
      kind,
      name: nameAt(part['name'], `${path}.name`),
      file: r.text(part['file'], `${path}.file`, 400),
    };
  });
  problems.push(...r.problems.map(({ path, message }) => ({ path: `${INDEX}: ${path}`, message })));
  const ids = new Set<string>();
  const parts = listed.flatMap(({ id, kind, name: called, file }): PackedPart[] => {
    if (ids.has(id)) problems.push({ path: INDEX, message: `Two parts have the id “${id}”.` });
    ids.add(id);
    const content = files.get(file);
    if (!content) {
      problems.push({ path: file, message: `${INDEX} names this file, and it is not in the archive.` });
      return [];
    }
    let body: unknown;
    if (kind === 'script' && file.endsWith('.js')) {
      try {
        body = { format: 'wicked-veil/script', version: 1, source: text(content) };
      } catch {
        problems.push({ path: file, message: 'This is not text in UTF-8.' });
        return [];
      }
    } else body = json(file, content);
    if (body === null) return [];
    const parsed = parsePart(kind, body);
    problems.push(
      ...parsed.problems.map((each) => ({ path: `${file}: ${each.path}`, message: each.message })),
    );
    return parsed.document ? [{ id, kind, name: called, body: parsed.document } as PackedPart] : [];
  });
  for (const part of parts)
    if (
      part.kind === 'material' &&
      !parts.some((each) => each.kind === 'shader' && each.id === part.body.shader)
    )
      problems.push({ path: part.name, message: `Its shader “${part.body.shader}” is not in the archive.` });
  const blobs = new Map(
    [...files]
      .filter(([file]) => /^(pictures|meshes)\//.test(file))
      .map(([, content]) => [shaOf(content), content]),
  );
  for (const [sha, blobFolder] of blobsIn(parts))
    if (!blobs.has(sha))
      problems.push({
        path: `${blobFolder}/${sha}`,
        message:
          blobFolder === 'pictures'
            ? 'A material or a set reads this picture, and it is not in the archive.'
            : 'A prop is of this mesh, and it is not in the archive.',
      });
  return problems.length ? { problems } : { project: { name, parts: withBoundMaterials(parts), blobs } };
};
