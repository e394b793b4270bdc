import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import { parsePart } from '#core/document/parsePart.ts';
import { PART_ID, type Part, type PartKind, type Project } from '#core/document/project.ts';
import { usersOf } from '#core/document/users.ts';
import { MOST_NAME, wholeLetters } from '#core/document/nameProblem.ts';
import { ApiError, notFound } from './errors.ts';
import type { PartText } from './jobs/work.ts';

export interface ProjectSummary {
  readonly id: string;
  readonly name: string;
  readonly updatedAt: string;
}

interface PartRow {
  readonly id: string;
  readonly kind: PartKind;
  readonly name: string;
  readonly body: unknown;
  readonly revision: number;
}

/** A statement takes no more than 65,535 numbers and words. */
const PARTS_AT_ONCE = 100;
const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i;

const toPart = ({ id, kind, name, body, revision }: PartRow): Part =>
  ({ id, kind, name, body, revision }) as Part;

/** The newest first. */
export const listProjects = async (db: Knex): Promise<ProjectSummary[]> => {
  const rows = await db('projects')
    .whereNull('deleted_at')
    .orderBy('updated_at', 'desc')
    .select('id', 'name', 'updated_at');
  return (rows as { id: string; name: string; updated_at: Date }[]).map((row) => ({
    id: row.id,
    name: row.name,
    updatedAt: row.updated_at.toISOString(),
  }));
};

/** A project that is not deleted. @throws ApiError 404
 * @param lock true where its parts are about to be added to or taken from */
export const readHead = async (db: Knex, id: string, lock = false): Promise<{ id: string; name: string }> => {
  if (!UUID.test(id)) throw notFound('This project');
  const query = db('projects').where({ id }).whereNull('deleted_at').first('id', 'name');
  const row = (await (lock ? query.forUpdate() : query)) as { id: string; name: string } | undefined;
  if (!row) throw notFound('This project');
  return row;
};

/** A project's parts, their bodies letter for letter as they were kept. */
export const partTexts = async (
  db: Knex,
  project: string,
): Promise<readonly (PartText & { readonly revision: number })[]> =>
  (await db('parts')
    .where({ project_id: project })
    .orderBy(['kind', 'name', 'id'])
    .select('id', 'kind', 'name', 'revision', db.raw('body::text as text'))) as (PartText & {
    revision: number;
  })[];

/** A project and its parts as JSON. @throws ApiError 404 */
export const projectText = async (db: Knex, id: string): Promise<string> => {
  const head = await readHead(db, id);
  const rows = await partTexts(db, id);
  const parts = rows.map(
    ({ text, ...row }) =>
      `{"id":${JSON.stringify(row.id)},"kind":${JSON.stringify(row.kind)},"name":${JSON.stringify(row.name)},"revision":${row.revision},"body":${text}}`,
  );
  return `{"id":${JSON.stringify(head.id)},"name":${JSON.stringify(head.name)},"parts":[${parts.join(',')}]}`;
};

/** A project and its parts. @throws ApiError 404 */
export const readProject = async (db: Knex, id: string): Promise<Project> => {
  const row = await readHead(db, id);
  const parts = (await db('parts').where({ project_id: id }).orderBy(['kind', 'name', 'id'])) as PartRow[];
  return { id: row.id, name: row.name, parts: parts.map(toPart) };
};

/** Reads a part's body: what comes back is what is kept. @throws ApiError 422 with every problem and its place */
const readBodyOf = (kind: PartKind, name: string, body: unknown): unknown => {
  const { document, problems } = parsePart(kind, body);
  if (!document)
    throw new ApiError(
      422,
      'invalid',
      `“${name}” cannot be saved: ${problems[0]!.path ? `${problems[0]!.path}: ` : ''}${problems[0]!.message}`,
      { problems },
    );
  return document;
};

export interface NewPart {
  readonly id: string;
  readonly kind: PartKind;
  readonly name: string;
  readonly body: unknown;
}

/** Makes a project with its first parts, all or nothing. */
export const createProject = (db: Knex, name: string, parts: readonly NewPart[]): Promise<Project> => {
  const read = parts.map((part) => textOf({ ...part, body: readBodyOf(part.kind, part.name, part.body) }));
  return db.transaction(async (trx) => readProject(trx, (await createProjectOf(trx, name, read)).id));
};

/** Makes a project of parts that have been read already, all or nothing. */
export const createProjectOf = (
  db: Knex,
  name: string,
  parts: readonly PartText[],
): Promise<{ readonly id: string; readonly name: string }> =>
  db.transaction(async (trx) => {
    const id = randomUUID();
    await trx('projects').insert({ id, name });
    await keepParts(trx, id, parts, 1);
    return { id, name };
  });

/** Another project of the same parts, copied within the database. @throws ApiError 404 */
export const copyProject = async (
  db: Knex,
  from: string,
): Promise<{ readonly id: string; readonly name: string }> => {
  const head = await readHead(db, from);
  const name = wholeLetters(`${head.name} copy`, MOST_NAME);
  return db.transaction(async (trx) => {
    const id = randomUUID();
    await trx('projects').insert({ id, name });
    await trx.raw(
      `insert into parts (project_id, id, kind, name, body, revision)
        select ?, id, kind, name, body, 1 from parts where project_id = ?`,
      [id, from],
    );
    await trx.raw(
      `insert into part_revisions (project_id, part_id, revision, name, body)
        select project_id, id, revision, name, body from parts where project_id = ?`,
      [id],
    );
    return { id, name };
  });
};

/** A part as it is written into the database. */
const textOf = ({ body, ...part }: NewPart): PartText => ({ ...part, text: JSON.stringify(body) });

export const renameProject = async (db: Knex, id: string, name: string): Promise<void> => {
  await readHead(db, id);
  await db('projects').where({ id }).update({ name, updated_at: db.fn.now() });
};

/** Takes a project off the wall; `restoreProject` puts it back. */
export const deleteProject = async (db: Knex, id: string): Promise<void> => {
  await readHead(db, id);
  await db('projects').where({ id }).update({ deleted_at: db.fn.now() });
};

export const restoreProject = async (db: Knex, id: string): Promise<Project> => {
  const restored = UUID.test(id) ? await db('projects').where({ id }).update({ deleted_at: null }) : 0;
  if (!restored) throw notFound('This project');
  return readProject(db, id);
};

/** An answer that was given before to the same deed, so that one whose reply was lost is not done twice. */
const answered = async (trx: Knex, project: string, deed: string | undefined): Promise<SavedPart | null> => {
  if (deed === undefined) return null;
  const row = (await trx('deeds').where({ project_id: project, id: deed }).first('revision')) as
    SavedPart | undefined;
  return row ? { revision: row.revision } : null;
};

const noteDeed = async (
  trx: Knex,
  project: string,
  deed: string | undefined,
  part: string,
  revision: number,
): Promise<void> => {
  if (deed === undefined) return;
  await trx('deeds').insert({ project_id: project, id: deed, part_id: part, revision });
};

/** Adds a part to a project. @throws ApiError 404, 422, or 409 where the id is taken */
export const addPart = (
  db: Knex,
  project: string,
  part: NewPart & { readonly deed?: string | undefined },
): Promise<Part> => {
  const body = readBodyOf(part.kind, part.name, part.body);
  const { id, kind, name, deed } = part;
  return db.transaction(async (trx) => {
    await readHead(trx, project, true);
    const before = await answered(trx, project, deed);
    if (before) return { id, kind, name, body, revision: before.revision } as Part;
    const taken = (await trx('parts').where({ project_id: project, id }).first('id')) as unknown;
    if (taken)
      throw new ApiError(
        409,
        'conflict',
        `There is a part “${id}” in this project already; choose another id.`,
      );
    await checkReferences(trx, project, kind, name, body);
    // An id used again goes on counting, so that nothing made from the part before can win over this one.
    const [last] = (await trx('part_revisions')
      .where({ project_id: project, part_id: id })
      .max('revision as revision')) as [{ revision: number | null }];
    const revision = (last.revision ?? 0) + 1;
    await keepParts(trx, project, [textOf({ id, kind, name, body })], revision);
    await noteDeed(trx, project, deed, id, revision);
    await trx('projects').where({ id: project }).update({ updated_at: trx.fn.now() });
    return { id, kind, name, body, revision } as Part;
  });
};

/** A material is of a shader there is. @throws ApiError 422 */
const checkReferences = async (
  trx: Knex,
  project: string,
  kind: PartKind,
  name: string,
  body: unknown,
): Promise<void> => {
  if (kind !== 'material') return;
  const { shader } = body as { readonly shader: string };
  const found = (await trx('parts')
    .where({ project_id: project, id: shader, kind: 'shader' })
    .first('id')) as unknown;
  if (!found)
    throw new ApiError(
      422,
      'invalid',
      `“${name}” cannot be saved: shader: there is no shader “${shader}” in this project.`,
    );
};

/** Writes new parts, and each one's first revision. */
const keepParts = async (
  trx: Knex,
  project: string,
  parts: readonly PartText[],
  revision: number,
): Promise<void> => {
  for (let from = 0; from < parts.length; from += PARTS_AT_ONCE) {
    const rows = parts.slice(from, from + PARTS_AT_ONCE).map(({ id, kind, name, text }) => ({
      ...{ id, kind },
      row: { project_id: project, name, body: text, revision },
    }));
    await trx('parts').insert(rows.map(({ row, id, kind }) => ({ ...row, id, kind })));
    await trx('part_revisions').insert(rows.map(({ row, id }) => ({ ...row, part_id: id })));
  }
};

/** Takes a part out of a project. @throws ApiError 404, or 409 naming the parts that use it */
export const deletePart = (db: Knex, project: string, id: string, deed?: string): Promise<void> =>
  db.transaction(async (trx) => {
    await readHead(trx, project, true);
    if (await answered(trx, project, deed)) return;
    const { parts } = await readProject(trx, project);
    const part = parts.find((each) => each.id === id);
    if (!part) throw notFound('This part');
    const users = usersOf(parts, id);
    if (users.length)
      throw new ApiError(
        409,
        'in-use',
        `“${part.name}” is used by ${users.join(', ')}; take it out there first.`,
        {
          users,
        },
      );
    await trx('parts').where({ project_id: project, id }).delete();
    await noteDeed(trx, project, deed, id, part.revision);
    await trx('projects').where({ id: project }).update({ updated_at: trx.fn.now() });
  });

export interface SavedPart {
  readonly revision: number;
}

/**
 * Saves a part made from the revision named; both the part and its history move, or neither.
 * @throws ApiError 404, 422, or 409 with the part as it stands on the server beside the one that was refused
 */
export const savePart = (
  db: Knex,
  project: string,
  id: string,
  wanted: {
    readonly revision: number;
    readonly name: string;
    readonly body: unknown;
    readonly deed?: string | undefined;
  },
): Promise<SavedPart> =>
  db.transaction(async (trx) => {
    const row =
      UUID.test(project) && PART_ID.test(id)
        ? ((await trx('parts')
            .join('projects', 'projects.id', 'parts.project_id')
            .whereNull('projects.deleted_at')
            .where({ 'parts.project_id': project, 'parts.id': id })
            .forUpdate('parts')
            .first('parts.*')) as PartRow | undefined)
        : undefined;
    const before = UUID.test(project) ? await answered(trx, project, wanted.deed) : null;
    if (before) return before;
    if (!row) throw notFound('This part');
    const document = readBodyOf(row.kind, wanted.name, wanted.body);
    if (row.revision !== wanted.revision)
      throw new ApiError(
        409,
        'conflict',
        `“${row.name}” was changed elsewhere since: it is at revision ${row.revision}, and this was made from ${wanted.revision}.`,
        {
          theirs: toPart(row),
          yours: { ...toPart(row), revision: wanted.revision, name: wanted.name, body: document },
        },
      );
    await checkReferences(trx, project, row.kind, wanted.name, document);
    const revision = row.revision + 1;
    const body = JSON.stringify(document);
    await trx('parts')
      .where({ project_id: project, id })
      .update({ name: wanted.name, body, revision, updated_at: trx.fn.now() });
    await trx('part_revisions').insert({
      project_id: project,
      part_id: id,
      revision,
      name: wanted.name,
      body,
    });
    await noteDeed(trx, project, wanted.deed, id, revision);
    await prune(trx, project, id, revision);
    await trx('projects').where({ id: project }).update({ updated_at: trx.fn.now() });
    return { revision };
  });

/** Revisions and deeds kept of each part: the newest, and every hundredth before them. */
const KEPT_REVISIONS = 500;
const KEPT_EVERY = 100;
/** Old ones are let go now and then, not with every save. */
const PRUNED_EVERY = 50;

const prune = async (trx: Knex, project: string, part: string, revision: number): Promise<void> => {
  if (revision % PRUNED_EVERY) return;
  const old = revision - KEPT_REVISIONS;
  await trx('part_revisions')
    .where({ project_id: project, part_id: part })
    .where('revision', '<=', old)
    .whereRaw('revision % ? <> 0', [KEPT_EVERY])
    .delete();
  await trx('deeds').where({ project_id: project, part_id: part }).where('revision', '<=', old).delete();
};

export interface Revision {
  readonly revision: number;
  readonly name: string;
  readonly savedAt: string;
}

/** Revisions listed at once, the newest first. */
const MOST_REVISIONS = 200;

/** The saved revisions of a part. @throws ApiError 404 */
export const listRevisions = async (db: Knex, project: string, part: string): Promise<Revision[]> => {
  await readHead(db, project);
  if (!PART_ID.test(part)) throw notFound('This part');
  const rows = (await db('part_revisions')
    .where({ project_id: project, part_id: part })
    .orderBy('revision', 'desc')
    .limit(MOST_REVISIONS)
    .select('revision', 'name', 'saved_at')) as { revision: number; name: string; saved_at: Date }[];
  if (!rows.length) throw notFound('This part');
  return rows.map((row) => ({
    revision: row.revision,
    name: row.name,
    savedAt: row.saved_at.toISOString(),
  }));
};

/** One revision's document. @throws ApiError 404 */
export const readRevision = async (
  db: Knex,
  project: string,
  part: string,
  revision: string,
): Promise<{ readonly name: string; readonly body: unknown }> => {
  await readHead(db, project);
  const row =
    PART_ID.test(part) && /^[1-9]\d{0,8}$/.test(revision)
      ? ((await db('part_revisions')
          .where({ project_id: project, part_id: part, revision: Number(revision) })
          .first('name', 'body')) as { name: string; body: unknown } | undefined)
      : undefined;
  if (!row) throw notFound('This revision');
  return row;
};
