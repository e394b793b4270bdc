import type { Knex } from 'knex';
import { addParts, deletePart, readHead, savePart } from './projects.ts';
import type { Added, Change } from './requests/parts.ts';

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
  { deed, changes }: { readonly deed: string; readonly changes: readonly Change[] },
): Promise<Changed> =>
  db.transaction(async (trx) => {
    // The project is held before any part of it, as whoever adds or deletes does: nobody waits for each other.
    await readHead(trx, project, true);
    const revisions: (number | null)[] = [];
    while (revisions.length < changes.length) {
      const at = revisions.length;
      const [change] = changes.slice(at) as [Change];
      const own = `${deed}.${at}`;
      if (change.op === 'delete') {
        await deletePart(trx, project, change.id, own);
        revisions.push(null);
      } else if (change.op === 'change')
        revisions.push((await savePart(trx, project, change.id, { ...change, deed: own })).revision);
      else {
        const others = changes.findIndex(({ op }, i) => i > at && op !== 'add');
        const adds = changes.slice(at, others < 0 ? changes.length : others) as Added[];
        const parts = adds.map((each, i) => ({ ...each, deed: `${deed}.${at + i}` }));
        revisions.push(...(await addParts(trx, project, parts)).map(({ revision }) => revision));
      }
    }
    return { revisions };
  });
