import type { Knex } from 'knex';

/** Projects, their parts at the newest revision, and every revision there was. */
export const up = async (db: Knex): Promise<void> => {
  await db.schema.createTable('projects', (table) => {
    table.uuid('id').primary();
    table.text('name').notNullable();
    table.timestamp('created_at').notNullable().defaultTo(db.fn.now());
    table.timestamp('updated_at').notNullable().defaultTo(db.fn.now());
    // A deleted project is kept, so that deleting can be undone.
    table.timestamp('deleted_at');
  });
  await db.schema.createTable('parts', (table) => {
    table.uuid('project_id').notNullable().references('id').inTable('projects').onDelete('CASCADE');
    table.text('id').notNullable();
    table.text('kind').notNullable();
    table.text('name').notNullable();
    // json, not jsonb: what is authored comes back letter for letter.
    table.json('body').notNullable();
    table.integer('revision').notNullable().defaultTo(1);
    table.timestamp('updated_at').notNullable().defaultTo(db.fn.now());
    table.primary(['project_id', 'id']);
  });
  await db.schema.createTable('part_revisions', (table) => {
    table.uuid('project_id').notNullable();
    table.text('part_id').notNullable();
    table.integer('revision').notNullable();
    table.text('name').notNullable();
    table.json('body').notNullable();
    table.timestamp('saved_at').notNullable().defaultTo(db.fn.now());
    table.primary(['project_id', 'part_id', 'revision']);
    table
      .foreign(['project_id', 'part_id'])
      .references(['project_id', 'id'])
      .inTable('parts')
      .onDelete('CASCADE');
  });
};

export const down = async (db: Knex): Promise<void> => {
  for (const table of ['part_revisions', 'parts', 'projects']) await db.schema.dropTable(table);
};
