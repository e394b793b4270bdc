import { expect, test } from '@playwright/test';
import knex from 'knex';
import { migrations } from '../src/server/migrations/list.ts';

const PROJECT = '11111111-2222-4333-8444-555555555555';
const parameter = (id: string, name: string) => ({ id, name, kind: 'float', default: [0], min: 0, max: 1 });
const shader = (name: string) => ({
  format: 'wicked-veil/shader',
  version: 2,
  parameters: [parameter('p1', name)],
});
const material = (values: object) => ({
  ...{ format: 'wicked-veil/material', version: 1, shader: 'veil', values },
  presets: [{ name: 'Lit', values }],
});

test('materials saved by parameter name are stored by id, older revisions and names too', async () => {
  const schema = `migrating_${process.pid}`;
  const db = knex({
    client: 'pg',
    connection: process.env['TEST_DATABASE_URL']!,
    searchPath: [schema],
    migrations: { migrationSource: migrations, schemaName: schema },
  });
  try {
    await db.raw('CREATE SCHEMA ??', [schema]);
    for (let i = 0; i < 4; i += 1) await db.migrate.up();
    await db('projects').insert({ id: PROJECT, name: 'Gallowglass' });
    const add = (id: string, kind: string, bodies: readonly object[]) =>
      db('parts')
        .insert({
          ...{ project_id: PROJECT, id, kind, name: id },
          body: bodies.at(-1),
          revision: bodies.length,
        })
        .then(() =>
          db('part_revisions').insert(
            bodies.map((body, i) => ({
              ...{ project_id: PROJECT, part_id: id, name: id },
              body,
              revision: i + 1,
            })),
          ),
        );
    await add('veil', 'shader', [shader('burn'), shader('scorch')]);
    await add('velvet', 'material', [material({ burn: [0.25] }), material({ scorch: [0.45], gone: [3] })]);
    await db.migrate.latest();
    const values = (body: { version: number; values: object; presets: { values: object }[] }) => [
      ...[body.version, body.values, body.presets[0]!.values],
    ];
    const now = { p1: [0.45], gone: [3] };
    const kept = await db('parts')
      .where({ id: 'velvet' })
      .first<{ body: ReturnType<typeof JSON.parse> }>('body');
    expect(values(kept.body)).toEqual([2, now, now]);
    const rows = await db('part_revisions').where({ part_id: 'velvet' }).orderBy('revision').select('body');
    expect(rows.map(({ body }) => values(body))).toEqual([
      [2, { p1: [0.25] }, { p1: [0.25] }],
      [2, now, now],
    ]);
  } finally {
    await db.raw('DROP SCHEMA IF EXISTS ?? CASCADE', [schema]);
    await db.destroy();
  }
});
