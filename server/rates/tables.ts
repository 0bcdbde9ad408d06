import { boolean, date, integer, numeric, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';

/** Rates as a service quoted them, beside those that count. */
export const fetchedRates = pgTable(
  'fetched_rates',
  {
    fromCurrency: text().notNull(),
    toCurrency: text().notNull(),
    day: date().notNull(),
    rate: numeric().notNull(),
  },
  (t) => [primaryKey({ columns: [t.fromCurrency, t.toCurrency, t.day] })],
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
