import { fileURLToPath } from 'node:url';
import { type NodePgDatabase, drizzle } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';

export type Db = NodePgDatabase & { $client: pg.Pool };
/** Inside a transaction; offers the same queries. */
export type Tx = Parameters<Parameters<Db['transaction']>[0]>[0];
export type Queries = NodePgDatabase | Tx;

export interface Database {
  readonly db: Db;
  readonly pool: pg.Pool;
  close(): Promise<void>;
}

export function openDatabase(url: string): Database {
  const pool = new pg.Pool({ connectionString: url, max: 10 });
  // an idle connection that the server ends must not end the process: the pool opens another
  pool.on('error', () => undefined);
  return { db: drizzle(pool, { casing: 'snake_case' }), pool, close: () => pool.end() };
}

/** Reads from one state of the database, whatever is written meanwhile; nothing can be written in it. */
export async function inSnapshot<T>(
  pool: pg.Pool,
  read: (client: pg.PoolClient, db: NodePgDatabase) => Promise<T>,
): Promise<T> {
  const client = await pool.connect();
  try {
    await client.query('begin transaction isolation level repeatable read read only');
    const found = await read(client, drizzle(client, { casing: 'snake_case' }));
    await client.query('commit');
    client.release();
    return found;
  } catch (error) {
    // a connection whose COPY was cut short is of no use any more
    client.release(true);
    throw error;
  }
}

/** Brings the database to the current form; under an advisory lock, so that several servers may start at once. */
export async function migrateDatabase(database: Database): Promise<void> {
  const client = await database.pool.connect();
  try {
    await client.query('select pg_advisory_lock(7301)');
    await migrate(drizzle(client, { casing: 'snake_case' }), {
      migrationsFolder: fileURLToPath(new URL('./migrations', import.meta.url)),
    });
  } finally {
    await client.query('select pg_advisory_unlock(7301)').catch(() => undefined);
    client.release();
  }
}

/** SQLSTATE of a database error, wherever the driver or the query builder has wrapped it. */
export function sqlState(error: unknown): string | null {
  for (let at = error; at instanceof Error; at = at.cause) {
    const code: unknown = (at as { code?: unknown }).code;
    if (typeof code === 'string' && /^[0-9A-Z]{5}$/.test(code)) return code;
  }
  return null;
}
