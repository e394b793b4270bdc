import { pictures, playhouse } from '#demo/playhouse.ts';
import { blobsIn } from '#core/document/blobsIn.ts';
import { closureOf } from '#core/document/closure.ts';
import { setsOf, type Part } from '#core/document/project.ts';
import { starterParts } from '#core/document/starter.ts';
import type { Knex } from 'knex';
import { keepBlob, shaOf } from './blobs.ts';
import { ApiError } from './errors.ts';
import type { NewPart } from './projects.ts';

export interface Starter {
  readonly id: string;
  readonly name: string;
}

/** Sets of the playhouse that a project can begin from. */
export const listStarters = (): readonly Starter[] =>
  setsOf({ parts: playhouse().parts as unknown as readonly Part[] }).map(({ id, name }) => ({ id, name }));

/** What a new project begins with: one card, or a set of the playhouse with all it stands on. @throws ApiError 422 */
export const partsOfStarter = async (db: Knex, from: string | undefined): Promise<readonly NewPart[]> => {
  if (from === undefined) return starterParts();
  const sample = playhouse().parts;
  if (!sample.some(({ id, kind }) => id === from && kind === 'stage'))
    throw new ApiError(
      422,
      'invalid',
      `from should be a set of the playhouse: ${listStarters()
        .map(({ id }) => id)
        .join(', ')}.`,
    );
  const parts = closureOf(sample as unknown as readonly Part[], from);
  const named = blobsIn(parts);
  for (const bytes of pictures().values()) if (named.has(shaOf(bytes))) await keepBlob(db, bytes);
  return parts;
};
