import { Kysely, Migrator, PostgresDialect } from 'kysely';
import pg from 'pg';
import { migrations } from './migrations.ts';
import type { Database } from './tables.ts';

export type Db = Kysely<Database>;

export interface Connection {
  readonly db: Db;
  /** Shared with the job queue. */
  readonly pool: pg.Pool;
  close(): Promise<void>;
}

/** Connects, `most` times at once at most, and brings the tables up to date. Throws with the migration's own message when one fails. */
export async function connect(url: string, most = 10): Promise<Connection> {
  const pool = new pg.Pool({ connectionString: url, max: most });
  // A dropped connection is replaced at the next query.
  pool.on('error', () => undefined);
  pool.on('connect', (client) => client.on('error', () => undefined));
  const db: Db = new Kysely<Database>({ dialect: new PostgresDialect({ pool }) });
  const migrator = new Migrator({ db, provider: { getMigrations: () => Promise.resolve(migrations) } });
  const { error } = await migrator.migrateToLatest();
  if (error) throw error;
  return { db, pool, close: () => db.destroy() };
}
