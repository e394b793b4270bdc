import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import { parsePart } from '#core/document/parsePart.ts';
import type { Part, PartKind, Project } from '#core/document/project.ts';
import { usersOf } from '#core/document/users.ts';
import { ApiError, notFound } from './errors.ts';

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

/** A project and its parts. @throws ApiError 404 */
export const readProject = async (db: Knex, id: string): Promise<Project> => {
  const row = UUID.test(id)
    ? ((await db('projects').where({ id }).whereNull('deleted_at').first('id', 'name')) as
        { id: string; name: string } | undefined)
    : undefined;
  if (!row) throw notFound('This project');
  const parts = (await db('parts').where({ project_id: id }).orderBy(['kind', 'name', 'id'])) as PartRow[];
  return { id: row.id, name: row.name, parts: parts.map(toPart) };
};

/** Checks a part's body. @throws ApiError 422 with every problem and its place */
export const checkBody = (kind: PartKind, name: string, body: unknown): void => {
  const { problems } = parsePart(kind, body);
  if (problems.length)
    throw new ApiError(
      422,
      'invalid',
      `“${name}” cannot be saved: ${problems[0]!.path ? `${problems[0]!.path}: ` : ''}${problems[0]!.message}`,
      { problems },
    );
};

export interface NewPart {
  readonly id: string;
  readonly kind: PartKind;
  readonly name: string;
  readonly body: unknown;
}

/** Makes a project with its first parts, all or nothing. */
export const createProject = (db: Knex, name: string, parts: readonly NewPart[]): Promise<Project> => {
  for (const part of parts) checkBody(part.kind, part.name, part.body);
  return db.transaction(async (trx) => {
    const id = randomUUID();
    await trx('projects').insert({ id, name });
    for (const part of parts) {
      await keepPart(trx, id, part);
    }
    return readProject(trx, id);
  });
};

export const renameProject = async (db: Knex, id: string, name: string): Promise<void> => {
  await readProject(db, id);
  await db('projects').where({ id }).update({ name, updated_at: db.fn.now() });
};

/** Takes a project off the wall; `restoreProject` puts it back. */
export const deleteProject = async (db: Knex, id: string): Promise<void> => {
  await readProject(db, id);
  await db('projects').where({ id }).update({ deleted_at: db.fn.now() });
};

export const restoreProject = async (db: Knex, id: string): Promise<Project> => {
  const restored = UUID.test(id) ? await db('projects').where({ id }).update({ deleted_at: null }) : 0;
  if (!restored) throw notFound('This project');
  return readProject(db, id);
};

/** Adds a part to a project. @throws ApiError 404, 422, or 409 where the id is taken */
export const addPart = (db: Knex, project: string, part: NewPart): Promise<Part> => {
  checkBody(part.kind, part.name, part.body);
  return db.transaction(async (trx) => {
    await readProject(trx, project);
    const taken = (await trx('parts').where({ project_id: project, id: part.id }).first('id')) as unknown;
    if (taken)
      throw new ApiError(
        409,
        'conflict',
        `There is a part “${part.id}” in this project already; choose another id.`,
      );
    const { revision } = await keepPart(trx, project, part);
    return { ...part, revision } as Part;
  });
};

/** Writes a new part and its first revision. */
const keepPart = async (trx: Knex, project: string, part: NewPart): Promise<SavedPart> => {
  const body = JSON.stringify(part.body);
  const row = { project_id: project, name: part.name, body };
  await trx('parts').insert({ ...row, id: part.id, kind: part.kind });
  await trx('part_revisions').insert({ ...row, part_id: part.id, revision: 1 });
  return { revision: 1 };
};

/** Takes a part out of a project. @throws ApiError 404, or 409 naming the parts that use it */
export const deletePart = (db: Knex, project: string, id: string): Promise<void> =>
  db.transaction(async (trx) => {
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
  wanted: { readonly revision: number; readonly name: string; readonly body: unknown },
): Promise<SavedPart> =>
  db.transaction(async (trx) => {
    const row = UUID.test(project)
      ? ((await trx('parts')
          .join('projects', 'projects.id', 'parts.project_id')
          .whereNull('projects.deleted_at')
          .where({ 'parts.project_id': project, 'parts.id': id })
          .forUpdate('parts')
          .first('parts.*')) as PartRow | undefined)
      : undefined;
    if (!row) throw notFound('This part');
    checkBody(row.kind, wanted.name, wanted.body);
    if (row.revision !== wanted.revision)
      throw new ApiError(
        409,
        'conflict',
        `“${row.name}” was changed elsewhere since: it is at revision ${row.revision}, and this was made from ${wanted.revision}.`,
        { theirs: toPart(row), yours: { ...toPart(row), ...wanted } },
      );
    const revision = row.revision + 1;
    const body = JSON.stringify(wanted.body);
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
    await trx('projects').where({ id: project }).update({ updated_at: trx.fn.now() });
    return { revision };
  });

export interface Revision {
  readonly revision: number;
  readonly name: string;
  readonly savedAt: string;
}

/** Revisions listed at once, the newest first. */
const MOST_REVISIONS = 200;

/** The saved revisions of a part. @throws ApiError 404 */
export const listRevisions = async (db: Knex, project: string, part: string): Promise<Revision[]> => {
  await readProject(db, project);
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
  revision: number,
): Promise<{ readonly name: string; readonly body: unknown }> => {
  await readProject(db, project);
  const row = (await db('part_revisions')
    .where({ project_id: project, part_id: part, revision: Number.isSafeInteger(revision) ? revision : -1 })
    .first('name', 'body')) as { name: string; body: unknown } | undefined;
  if (!row) throw notFound('This revision');
  return row;
};
