/** Brings the tables up to date and, with --demo, puts the playhouse there once. Run by the start command. */
import { pictures, playhouse } from '#demo/playhouse.ts';
import { keepBlob } from './blobs.ts';
import { migrate, openDatabase } from './database.ts';
import { createProject } from './projects.ts';

const db = openDatabase(process.env['DATABASE_URL'] ?? '');
try {
  await migrate(db);
  if (process.argv.includes('--demo')) {
    const sample = playhouse();
    // Once only: a playhouse that was renamed, changed or deleted stays so.
    const [{ count }] = (await db('projects').count({ count: '*' })) as [{ count: string }];
    for (const bytes of pictures().values()) await keepBlob(db, bytes);
    if (Number(count) === 0) await createProject(db, sample.name, sample.parts);
  }
} finally {
  await db.destroy();
}
