import type { Knex } from 'knex';

/** Ids of changes that were taken, and history that outlives the part it belongs to. */
export const up = async (db: Knex): Promise<void> => {
  await db.schema.createTable('deeds', (table) => {
    table.uuid('project_id').notNullable().references('id').inTable('projects').onDelete('CASCADE');
    table.text('id').notNullable();
    table.text('part_id').notNullable();
    table.integer('revision').notNullable();
    table.timestamp('taken_at').notNullable().defaultTo(db.fn.now());
    table.primary(['project_id', 'id']);
    table.index(['project_id', 'part_id']);
  });
  await db.schema.alterTable('part_revisions', (table) => {
    table.dropForeign(['project_id', 'part_id']);
    table.foreign('project_id').references('id').inTable('projects').onDelete('CASCADE');
  });
};

export const down = async (db: Knex): Promise<void> => {
  await db.schema.dropTable('deeds');
  await db('part_revisions')
    .whereNotExists(
      db('parts')
        .whereRaw('parts.project_id = part_revisions.project_id and parts.id = part_revisions.part_id')
        .select('id'),
    )
    .delete();
  await db.schema.alterTable('part_revisions', (table) => {
    table.dropForeign('project_id');
    table
      .foreign(['project_id', 'part_id'])
      .references(['project_id', 'id'])
      .inTable('parts')
      .onDelete('CASCADE');
  });
};
