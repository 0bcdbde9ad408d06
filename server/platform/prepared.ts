import pg from 'pg';
import { atOnce } from './at-once.ts';
import type { Db, Queries } from './database.ts';

interface Built<R> {
  execute(values?: Record<string, unknown>): Promise<R>;
}

/**
 * A question that every request asks: built once for each database, planned once for each of its connections, and asked once
 * for all who ask it at the same time. `build`: ends with `.prepare(name)`; its values are placeholders.
 */
export function prepared<R>(build: (db: Db) => Built<R>): (db: Db, values?: Record<string, unknown>) => Promise<R> {
  const known = new WeakMap<Db, (values: Record<string, unknown>) => Promise<R>>();
  return (db, values = {}) => {
    let ask = known.get(db);
    if (!ask) {
      const built = build(db);
      known.set(db, (ask = atOnce((about) => built.execute(about))));
    }
    return ask(values);
  };
}

/** Whether each question goes to any connection of the pool: outside of a transaction. */
export const isPool = (db: Queries): db is Db => '$client' in db && (db as Partial<Db>).$client instanceof pg.Pool;
