import type { Knex } from 'knex';
import { ApiError } from './errors.ts';
import { addPart, deletePart, readHead, savePart } from './projects.ts';
import { readAs } from './requests/read.ts';
import { AddedPart, ChangedPart, DeletedPart, type ChangesRequest } from './requests/shapes.ts';

/** What became of each change, in order: the part's revision, null where it was deleted. */
export interface Changed {
  readonly revisions: readonly (number | null)[];
}

/**
 * Does a list of changes to a project's parts in their order, all or none. Asked for again under the same deed, it is
 * answered and not done twice.
 * @throws ApiError of the first change that cannot be done
 */
export const changeProject = (
  db: Knex,
  project: string,
  { deed, changes }: ChangesRequest,
): Promise<Changed> =>
  db.transaction(async (trx) => {
    // The project is held before any part of it, as whoever adds or deletes does: nobody waits for each other.
    await readHead(trx, project, true);
    const revisions: (number | null)[] = [];
    for (const [i, change] of changes.entries())
      revisions.push(await changeOne(trx, project, `${deed}.${i}`, change));
    return { revisions };
  });

const changeOne = async (
  trx: Knex,
  project: string,
  deed: string,
  change: Readonly<Record<string, unknown>>,
): Promise<number | null> => {
  switch (change['op']) {
    case 'add':
      return (await addPart(trx, project, { ...readAs(change, AddedPart), deed })).revision;
    case 'change': {
      const wanted = readAs(change, ChangedPart);
      return (await savePart(trx, project, wanted.id, { ...wanted, deed })).revision;
    }
    case 'delete':
      await deletePart(trx, project, readAs(change, DeletedPart).id, deed);
      return null;
    default:
      throw new ApiError(422, 'invalid', 'op of each change should be add, change or delete.');
  }
};
