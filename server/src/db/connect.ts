/** Connects to PostgreSQL and brings the tables up to date. */
import { Kysely, Migrator, PostgresDialect } from 'kysely';
import pg from 'pg';
import { MIGRATIONS } from './migrations.ts';
import type { Database } from './tables.ts';

export type Db = Kysely<Database>;

/** A pool of connections. */
export function connect(databaseUrl: string): Db {
  // bigint columns hold sizes and counts, far below 2^53.
  pg.types.setTypeParser(pg.types.builtins.INT8, Number);
  const pool = new pg.Pool({ connectionString: databaseUrl, max: 8 });
  // An idle connection that dies (server restarted) must not take the process along; the next query opens a new one.
  pool.on('error', () => {});
  // Nor one that dies while it is in use: its query fails, and says so.
  pool.on('connect', (client) => client.on('error', () => {}));
  return new Kysely<Database>({ dialect: new PostgresDialect({ pool }) });
}

/** Applies what is missing. Concurrent starts wait for each other. @throws Error naming the migration */
export async function migrate(db: Db, migrations = MIGRATIONS): Promise<void> {
  const migrator = new Migrator({ db, provider: { getMigrations: async () => migrations } });
  const { error, results } = await migrator.migrateToLatest();
  if (error) {
    const failed = results?.find((result) => result.status === 'Error')?.migrationName;
    throw new Error(`Migration ${failed ?? ''} failed: ${error instanceof Error ? error.message : String(error)}`);
  }
}
