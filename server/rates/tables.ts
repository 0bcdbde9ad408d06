import { boolean, date, integer, numeric, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';

/** Rates as a service quoted them, beside those that count. */
export const fetchedRates = pgTable(
  'fetched_rates',
  {
    from: text('from_currency').notNull(),
    to: text('to_currency').notNull(),
    day: date().notNull(),
    rate: numeric().notNull(),
  },
  (t) => [primaryKey({ columns: [t.from, t.to, t.day] })],
);

/** One row: how it stands with the service of rates. */
export const rateService = pgTable('rate_service', {
  id: integer().primaryKey().default(1),
  version: integer().notNull().default(1),
  follow: boolean().notNull().default(false),
  lastTry: timestamp({ withTimezone: true }),
  lastAnswer: timestamp({ withTimezone: true }),
  trouble: text(),
});
