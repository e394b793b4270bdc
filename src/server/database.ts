import knex, { type Knex } from 'knex';
import { migrations } from './migrations/list.ts';

/** A statement that takes longer is ended. */
const LONGEST_STATEMENT_MS = 10_000;

let shared: Knex | null = null;

/** Opens a pool on the given PostgreSQL address. */
export const openDatabase = (address: string): Knex =>
  knex({
    client: 'pg',
    connection: { connectionString: address, statement_timeout: LONGEST_STATEMENT_MS },
    pool: { min: 0, max: 8 },
    acquireConnectionTimeout: 5000,
    migrations: { migrationSource: migrations },
  });

/** The server's one pool, at `DATABASE_URL`. */
export const database = (): Knex => {
  if (!shared) {
    const address = process.env['DATABASE_URL'];
    if (!address)
      throw new Error(
        'DATABASE_URL is not set; npm run demo sets it, or give the address of a PostgreSQL database.',
      );
    shared = openDatabase(address);
  }
  return shared;
};

let ready: Promise<unknown> | null = null;

/** Waits until the tables are up to date; tried again with every request while the database is away. */
export const databaseReady = (): Promise<unknown> => {
  ready ??= migrate(database()).catch((error: unknown) => {
    ready = null;
    throw error;
  });
  return ready;
};

/** Brings the tables up to date. Safe to run from several servers at once: Knex takes a lock. */
export const migrate = (db: Knex): Promise<unknown> => db.migrate.latest();
