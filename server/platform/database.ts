import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { fileOf } from './place.ts';
import { type NodePgDatabase, drizzle } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import { dropPast, keepHistory, letReadHistory } from './history.ts';

export type Db = NodePgDatabase & { $client: pg.Pool };
/** Inside a transaction; offers the same queries. */
export type Tx = Parameters<Parameters<Db['transaction']>[0]>[0];
export type Queries = NodePgDatabase | Tx;

export interface Database {
  readonly db: Db;
  readonly pool: pg.Pool;
  close(): Promise<void>;
}

/** How long things may take before they are given up, in milliseconds. */
export interface Patience {
  /** To get a connection. */
  readonly connect: number;
  /** For one statement; 0: as long as it takes. */
  readonly statement: number;
  /** For a transaction to stand idle. */
  readonly idle: number;
}

const USUAL: Patience = { connect: 5_000, statement: 120_000, idle: 300_000 };

export function openDatabase(url: string, patience: Partial<Patience> = {}): Database {
  const { connect, statement, idle } = { ...USUAL, ...patience };
  const pool = new pg.Pool({
    connectionString: url,
    max: 10,
    connectionTimeoutMillis: connect,
    statement_timeout: statement,
    idle_in_transaction_session_timeout: idle,
  });
  // a connection that the server ends, idle or inside a transaction, must not end the process: whoever uses it is told
  // by the failing query, and the pool opens another
  pool.on('error', () => undefined);
  pool.on('connect', (client) => client.on('error', () => undefined));
  return { db: drizzle(pool, { casing: 'snake_case' }), pool, close: () => pool.end() };
}

/** Two transactions in each other's way (deadlock, serialization): one of them is undone and can be done again. */
const IN_THE_WAY: ReadonlySet<string | null> = new Set(['40P01', '40001']);
const TRIES = 4;

const begunIn = new WeakMap<Tx, Db>();

/** The database that a transaction was begun in by the two functions below; null: it was begun otherwise. */
export const databaseOf = (tx: Tx): Db | null => begunIn.get(tx) ?? null;

const begin = <T>(db: Db | Tx, work: (tx: Tx) => Promise<T>): Promise<T> =>
  db.transaction((tx) => {
    begunIn.set(tx, begunIn.get(db as Tx) ?? (db as Db));
    return work(tx);
  });

/** Runs a transaction; one that others got in the way of is run again. */
export async function inTransaction<T>(db: Db, work: (tx: Tx) => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    try {
      return await begin(db, work);
    } catch (error) {
      if (attempt === TRIES || !IN_THE_WAY.has(sqlState(error))) throw error;
      await setTimeout(Math.random() * 20 * 2 ** attempt);
    }
  }
}

const AWAY_STATES = /^(08...|57P0[1-3]|53300)$/;
const AWAY_CODES: ReadonlySet<unknown> = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ETIMEDOUT',
  'ENOENT',
  'EHOSTUNREACH',
]);
// the driver gives these no code
const AWAY_TEXTS =
  /^(Connection terminated|timeout exceeded when trying to connect|Client has encountered a connection error|Query read timeout)/;

/** Whether an error says that the database cannot be reached at the moment. */
export function isAway(error: unknown): boolean {
  for (let at = error; at instanceof Error; at = at.cause) {
    if (at instanceof AggregateError && at.errors.some(isAway)) return true;
    const { code, syscall } = at as { code?: unknown; syscall?: unknown };
    if (AWAY_STATES.test(String(code)) || AWAY_TEXTS.test(at.message)) return true;
    if (AWAY_CODES.has(code) && (code !== 'ENOENT' || syscall === 'connect')) return true;
  }
  return false;
}

/** Ends a part of a transaction that only looked. */
class OnlyLooked extends Error {}

/** Does something inside a transaction, or in one of its own, of which nothing stays but what it found. */
export async function withoutTrace<T>(db: Db | Tx, look: (tx: Tx) => Promise<T>): Promise<T> {
  const found: T[] = [];
  try {
    await begin(db, async (tx) => {
      found.push(await look(tx));
      throw new OnlyLooked();
    });
  } catch (error) {
    if (!(error instanceof OnlyLooked)) throw error;
  }
  return found[0]!;
}

/** Whether the database refused what was written: it names what is not there, or stands there twice. */
export const breaksConstraint = (error: unknown): boolean => sqlState(error)?.startsWith('23') ?? false;

/**
 * Reads from one state of the database, whatever is written meanwhile; nothing can be written in it. `same`: the state that
 * another transaction reads and has named, as long as it lasts.
 */
export async function inSnapshot<T>(
  pool: pg.Pool,
  read: (client: pg.PoolClient, db: NodePgDatabase) => Promise<T>,
  same: string | null = null,
): Promise<T> {
  const client = await pool.connect();
  try {
    await client.query('begin transaction isolation level repeatable read read only');
    if (same !== null) await client.query(`set transaction snapshot ${client.escapeLiteral(same)}`);
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

/** What is only ever added to. */
const ADDED_TO = 'postings, posting_lines, audit_entries, quote_decisions';

/**
 * Brings the database to the current form; under an advisory lock, so that several servers may start at once.
 * `owner`: the address by which that is done, where another role than the application's owns the tables. The application
 * may then use them, but change no table and no trigger, and nothing of what is only added to.
 */
export async function migrateDatabase(url: string, owner = url): Promise<void> {
  const client = new pg.Client({ connectionString: owner });
  await client.connect();
  try {
    await client.query('select pg_advisory_lock(7301)');
    const migrationsFolder = fileOf('server/platform/migrations');
    const { last, made } = await lastMigrations(client, migrationsFolder);
    if (made > last)
      throw new Error(
        'The database was brought to the form of a later release: start that one, or restore a backup of this one.',
      );
    // the views of the past hold on to the columns of their tables; they are made anew below
    if (made < last) await dropPast(client);
    await migrate(drizzle(client, { casing: 'snake_case' }), { migrationsFolder });
    await keepHistory(client);
    const { username, pathname } = new URL(url);
    if (username !== new URL(owner).username)
      await letUse(client, pg.escapeIdentifier(username), pg.escapeIdentifier(decodeURIComponent(pathname.slice(1))));
  } finally {
    await client.end();
  }
}

/** When the last migration was written that there is, and the last one that the database has seen. */
async function lastMigrations(client: pg.Client, folder: string): Promise<{ last: number; made: number }> {
  const { entries } = JSON.parse(readFileSync(join(folder, 'meta', '_journal.json'), 'utf8')) as {
    entries: { when: number }[];
  };
  const last = Math.max(...entries.map((e) => e.when));
  const { rows: there } = await client.query<{ made: string | null }>(
    `select to_regclass('drizzle.__drizzle_migrations') as made`,
  );
  if (!there[0]?.made) return { last, made: 0 };
  const { rows } = await client.query<{ made: string | null }>(
    'select max(created_at) as made from drizzle.__drizzle_migrations',
  );
  return { last, made: Number(rows[0]?.made ?? 0) };
}

async function letUse(client: pg.Client, role: string, database: string): Promise<void> {
  // the queue makes a schema of its own; one that the owner made before is made again, left work is queued at the start
  const queue = await client.query(
    `select 1 from pg_namespace where nspname = 'jobs' and nspowner = current_user::regrole`,
  );
  if (queue.rowCount) await client.query('drop schema jobs cascade');
  await client.query(`
    grant create, temporary on database ${database} to ${role};
    grant usage on schema public to ${role};
    grant select, insert, update, delete on all tables in schema public to ${role};
    grant usage, select on all sequences in schema public to ${role};
    revoke update, delete, truncate on ${ADDED_TO} from ${role};
    ${letReadHistory(role)}`);
}

/** SQLSTATE of a database error, wherever the driver or the query builder has wrapped it. */
export function sqlState(error: unknown): string | null {
  for (let at = error; at instanceof Error; at = at.cause) {
    const code: unknown = (at as { code?: unknown }).code;
    if (typeof code === 'string' && /^[0-9A-Z]{5}$/.test(code)) return code;
  }
  return null;
}
