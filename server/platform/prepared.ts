import pg from 'pg';
import type { Db, Queries } from './database.ts';

interface Built<R> {
  execute(values?: Record<string, unknown>): Promise<R>;
}

/**
 * A question that every request asks: built once for each database, planned once for each of its connections.
 * `build`: ends with `.prepare(name)`; its values are placeholders.
 */
export function prepared<R>(build: (db: Db) => Built<R>): (db: Db, values?: Record<string, unknown>) => Promise<R> {
  const known = new WeakMap<Db, Built<R>>();
  return (db, values) => {
    const built = known.get(db) ?? build(db);
    known.set(db, built);
    return built.execute(values);
  };
}

/** Whether each question goes to any connection of the pool: outside of a transaction. */
export const isPool = (db: Queries): db is Db => '$client' in db && (db as Partial<Db>).$client instanceof pg.Pool;
