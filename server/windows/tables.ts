import { pgTable, text, timestamp } from 'drizzle-orm/pg-core';
import { bytea } from '../platform/bytea.ts';

/**
 * What grids and counts were arranged by when a server last had it all, so that the next start need not work it out before
 * it shows anything. Nothing hangs on it: it is no part of a backup, and a crash of the database empties it.
 */
export const keptStanding = pgTable('kept_standing', {
  name: text().primaryKey(),
  /** Names the state that it is of. */
  state: text().notNull(),
  at: timestamp({ withTimezone: true }).notNull(),
  body: bytea().notNull(),
});
