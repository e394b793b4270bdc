import type { Knex } from 'knex';
import * as projects from './0001-projects.ts';
import * as blobs from './0002-blobs.ts';
import * as deeds from './0003-deeds.ts';
import * as shown from './0004-shown.ts';
import * as valuesById from './0005-values-by-id.ts';

const LIST: readonly (Knex.Migration & { readonly name: string })[] = [
  { name: '0001-projects', up: projects.up, down: projects.down },
  { name: '0002-blobs', up: blobs.up, down: blobs.down },
  { name: '0003-deeds', up: deeds.up, down: deeds.down },
  { name: '0004-shown', up: shown.up, down: shown.down },
  { name: '0005-values-by-id', up: valuesById.up, down: valuesById.down },
];

/** Migrations as modules, so that the built server carries them inside. */
export const migrations: Knex.MigrationSource<(typeof LIST)[number]> = {
  getMigrations: () => Promise.resolve([...LIST]),
  getMigrationName: (migration) => migration.name,
  getMigration: (migration) => Promise.resolve(migration),
};
