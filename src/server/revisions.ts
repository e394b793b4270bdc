import type { Knex } from 'knex';
import { PART_ID, type Part } from '#core/document/project.ts';
import { notFound } from './errors.ts';
import { readHead } from './projects.ts';

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

/** A part as it is now. @throws ApiError 404 */
export const readPart = async (db: Knex, project: string, part: string): Promise<Part> => {
  await readHead(db, project);
  const row = PART_ID.test(part)
    ? ((await db('parts')
        .where({ project_id: project, id: part })
        .first('id', 'kind', 'name', 'revision', 'body')) as Part | undefined)
    : undefined;
  if (!row) throw notFound('This part');
  return row;
};

/** The newest revision of each part of a project, by id. @throws ApiError 404 */
export const newestRevisions = async (
  db: Knex,
  project: string,
): Promise<Readonly<Record<string, number>>> => {
  await readHead(db, project);
  const rows = (await db('parts').where({ project_id: project }).select('id', 'revision')) as Pick<
    Part,
    'id' | 'revision'
  >[];
  return Object.fromEntries(rows.map(({ id, revision }) => [id, revision]));
};
