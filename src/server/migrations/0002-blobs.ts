import type { Knex } from 'knex';

/** Bytes by what they are: the same picture is kept once, however many projects use it. */
export const up = (db: Knex): Promise<void> =>
  db.schema.createTable('blobs', (table) => {
    table.text('sha256').primary();
    table.text('media_type').notNullable();
    table.binary('bytes').notNullable();
    table.timestamp('created_at').notNullable().defaultTo(db.fn.now());
  });

export const down = (db: Knex): Promise<void> => db.schema.dropTable('blobs');
