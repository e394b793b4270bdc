import type { Knex } from 'knex';

/** Revisions and deeds kept of each part: the newest, and every hundredth before them. */
const KEPT_REVISIONS = 500;
const KEPT_EVERY = 100;
/** Old ones are deleted now and then, not with every save. */
const PRUNED_EVERY = 50;

/** Deletes a part's old revisions and deeds, now and then. */
export const pruneRevisions = async (
  trx: Knex,
  project: string,
  part: string,
  revision: number,
): Promise<void> => {
  if (revision % PRUNED_EVERY) return;
  const old = revision - KEPT_REVISIONS;
  await trx('part_revisions')
    .where({ project_id: project, part_id: part })
    .where('revision', '<=', old)
    .whereRaw('revision % ? <> 0', [KEPT_EVERY])
    .delete();
  await trx('deeds').where({ project_id: project, part_id: part }).where('revision', '<=', old).delete();
};
