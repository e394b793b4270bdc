import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import { PART_ID, type Part, type PartKind, type Project } from '#core/document/project.ts';
import { usersOf } from '#core/document/users.ts';
import { MOST_NAME, wholeLetters } from '#core/document/nameProblem.ts';
import { ApiError, notFound } from './errors.ts';
import type { PartText } from './jobs/work.ts';
import { pruneRevisions } from './pruneRevisions.ts';
import { written, type Added, type Kinds, type Saved } from './requests/parts.ts';

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

/** The kinds of a project's parts, or of one of them. @throws ApiError 404 where there is no such project or part */
export const kindsIn = async (db: Knex, project: string, part?: string): Promise<Kinds> => {
  await readHead(db, project);
  if (part !== undefined && !PART_ID.test(part)) throw notFound('This part');
  const rows = (await db('parts')
    .where({ project_id: project, ...(part === undefined ? {} : { id: part }) })
    .select('id', 'kind')) as Pick<PartRow, 'id' | 'kind'>[];
  if (part !== undefined && !rows.length) throw notFound('This part');
  return Object.fromEntries(rows.map(({ id, kind }) => [id, kind]));
};

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

export interface NewPart {
  readonly id: string;
  readonly kind: PartKind;
  readonly name: string;
  readonly body: unknown;
}

/** Makes a project with its first parts, all or nothing. */
export const createProject = (db: Knex, name: string, parts: readonly NewPart[]): Promise<Project> => {
  const read = parts.map(({ body, ...part }) => ({ ...part, ...written(part.kind, part.name, body) }));
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
    await keepParts(trx, id, parts, () => 1);
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

/** A part that was added, and where it stands. */
export type AddedPart = Added & SavedPart;

/** Adds a part to a project. @throws ApiError 404, 422, or 409 where the id is taken */
export const addPart = async (db: Knex, project: string, part: Added): Promise<AddedPart> => {
  const [added] = await addParts(db, project, [part]);
  return added!;
};

/**
 * Adds parts to a project, all or none, in as many statements as one takes. A material may be of a shader before it in
 * the list. @throws ApiError 404, 422, or 409 where an id is taken
 */
export const addParts = (
  db: Knex,
  project: string,
  parts: readonly Added[],
): Promise<readonly AddedPart[]> => {
  const ids = parts.map(({ id }) => id);
  return db.transaction(async (trx) => {
    await readHead(trx, project, true);
    const deeds = parts.flatMap(({ deed }) => deed ?? []);
    const answers = (await trx('deeds').where({ project_id: project }).whereIn('id', deeds).select()) as {
      id: string;
      revision: number;
    }[];
    const answeredBy = new Map(answers.map(({ id, revision }) => [id, revision]));
    const revised = (revisionOf: (part: Added) => number): AddedPart[] =>
      parts.map((part) => ({ ...part, revision: revisionOf(part) }));
    if (answers.length && answers.length === parts.length)
      return revised(({ deed }) => answeredBy.get(deed!)!);
    const existing = (await trx('parts').where({ project_id: project }).whereIn('id', ids).select('id')) as {
      id: string;
    }[];
    const taken = existing[0]?.id ?? ids.find((id, i) => ids.indexOf(id) < i);
    if (taken !== undefined)
      throw new ApiError(
        409,
        'conflict',
        `There is a part “${taken}” in this project already; choose another id.`,
      );
    for (const [i, { name, shader }] of parts.entries())
      await checkShader(trx, project, name, shader, parts.slice(0, i));
    // An id used again goes on counting, so that nothing made from the part before can win over this one.
    const last = (await trx('part_revisions')
      .where({ project_id: project })
      .whereIn('part_id', ids)
      .groupBy('part_id')
      .select('part_id')
      .max('revision as revision')) as { part_id: string; revision: number }[];
    const lastOf = new Map(last.map(({ part_id, revision }) => [part_id, revision]));
    const revisionOf = ({ id }: Pick<NewPart, 'id'>): number => (lastOf.get(id) ?? 0) + 1;
    await keepParts(trx, project, parts, revisionOf);
    const noted = parts.flatMap(({ id, deed }) =>
      deed === undefined
        ? []
        : [{ project_id: project, id: deed, part_id: id, revision: revisionOf({ id }) }],
    );
    if (noted.length) await trx('deeds').insert(noted);
    await trx('projects').where({ id: project }).update({ updated_at: trx.fn.now() });
    return revised(revisionOf);
  });
};

/** A material is of a shader there is. @throws ApiError 422 */
const checkShader = async (
  trx: Knex,
  project: string,
  name: string,
  shader: string | null,
  beside: readonly Pick<NewPart, 'id' | 'kind'>[] = [],
): Promise<void> => {
  if (shader === null || beside.some((each) => each.kind === 'shader' && each.id === shader)) return;
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
  revisionOf: (part: PartText) => number,
): Promise<void> => {
  for (let from = 0; from < parts.length; from += PARTS_AT_ONCE) {
    const rows = parts.slice(from, from + PARTS_AT_ONCE).map((part) => ({
      ...{ id: part.id, kind: part.kind },
      row: { project_id: project, name: part.name, body: part.text, revision: revisionOf(part) },
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
export const savePart = (db: Knex, project: string, id: string, wanted: Saved): Promise<SavedPart> =>
  db.transaction(async (trx) => {
    if (!UUID.test(project) || !PART_ID.test(id)) throw notFound('This part');
    const row = (await trx('parts')
      .join('projects', 'projects.id', 'parts.project_id')
      .whereNull('projects.deleted_at')
      .where({ 'parts.project_id': project, 'parts.id': id })
      .forUpdate('parts')
      .first(
        'parts.id',
        'parts.kind',
        'parts.name',
        'parts.revision',
        trx('deeds')
          .where({ project_id: project, id: wanted.deed ?? '' })
          .select('revision')
          .as('answered'),
      )) as (Omit<PartRow, 'body'> & { answered: number | null }) | undefined;
    if (row?.answered) return { revision: row.answered };
    const before = row ? null : await answered(trx, project, wanted.deed);
    if (before) return before;
    if (!row) throw notFound('This part');
    if (row.revision !== wanted.revision) {
      const { body } = (await trx('parts').where({ project_id: project, id }).first('body')) as PartRow;
      const { answered: _, ...theirs } = row;
      throw new ApiError(
        409,
        'conflict',
        `“${row.name}” was changed elsewhere since: it is at revision ${row.revision}, and this was made from ${wanted.revision}.`,
        {
          theirs: toPart({ ...theirs, body }),
          yours: { ...theirs, revision: wanted.revision, name: wanted.name, body: JSON.parse(wanted.text) },
        },
      );
    }
    await checkShader(trx, project, wanted.name, wanted.shader);
    const revision = row.revision + 1;
    // One statement for all of it: each is a way to the database and back.
    await trx.raw(
      `with kept as (
        update parts set name = :name, body = :body, revision = :revision, updated_at = now()
        where project_id = :project and id = :id
      ), noted as (
        insert into part_revisions (project_id, part_id, revision, name, body)
        values (:project, :id, :revision, :name, :body)
      ), answered as (
        insert into deeds (project_id, id, part_id, revision)
        select :project, :deed, :id, :revision where :deed::text <> ''
      )
      update projects set updated_at = now() where id = :project`,
      { project, id, revision, body: wanted.text, name: wanted.name, deed: wanted.deed ?? '' },
    );
    await pruneRevisions(trx, project, id, revision);
    return { revision };
  });
