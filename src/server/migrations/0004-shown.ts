import type { Knex } from 'knex';

/** The PNG that pages show of a picture of floats, made once when it is brought. */
export const up = (db: Knex): Promise<void> =>
  db.schema.alterTable('blobs', (table) => {
    table.binary('shown');
  });

export const down = (db: Knex): Promise<void> =>
  db.schema.alterTable('blobs', (table) => {
    table.dropColumn('shown');
  });
