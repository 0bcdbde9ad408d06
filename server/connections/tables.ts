import { integer, pgTable, text, timestamp } from 'drizzle-orm/pg-core';
import { CONNECTION_STATES } from '../../contract/connections.ts';
import { costSheets } from '../costs/tables.ts';
import { people } from '../people/tables.ts';
import { suppliers } from '../setup/tables.ts';

const moment = () => timestamp({ withTimezone: true });

/** The service of a supplier that is asked for costs; or that somebody asked to have connected. */
export const connections = pgTable('connections', {
  supplierId: integer()
    .primaryKey()
    .references(() => suppliers.id),
  version: integer().notNull().default(1),
  state: text({ enum: CONNECTION_STATES }).notNull(),
  address: text().notNull().default(''),
  account: text().notNull().default(''),
  /** Followed; empty: all. */
  brands: text().array().notNull().default([]),
  everyHours: integer().notNull().default(24),
  /** Who connected it: what comes is brought in that person's name. */
  connectedBy: integer().references(() => people.id),
  askedBy: integer().references(() => people.id),
  askedNote: text(),
  lastTry: moment(),
  lastAnswer: moment(),
  trouble: text(),
  /** Tries in a row that did not do well. */
  tries: integer().notNull().default(0),
  nextTry: moment(),
  /** Of what was fetched last, SHA-256: the same again is no arrival. */
  lastContent: text(),
  lastSheetId: integer().references(() => costSheets.id),
});
