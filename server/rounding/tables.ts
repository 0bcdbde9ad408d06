import { boolean, integer, numeric, pgTable, primaryKey, text } from 'drizzle-orm/pg-core';

export const ladders = pgTable('ladders', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  version: integer().notNull().default(1),
  name: text().notNull().unique(),
  currency: text().notNull(),
  /** Rounds every list of its currency that has no ladder of its own. */
  byDefault: boolean().notNull().default(false),
});

export const rungs = pgTable(
  'rungs',
  {
    ladderId: integer()
      .notNull()
      .references(() => ladders.id),
    position: integer().notNull(),
    bandFrom: numeric().notNull(),
    bandTo: numeric(),
    step: numeric().notNull(),
    endings: numeric().array().notNull(),
    direction: text({ enum: ['nearest', 'up', 'down', 'cuts'] }).notNull(),
    downUntil: numeric(),
    upFrom: numeric(),
    offset: numeric(),
  },
  (t) => [primaryKey({ columns: [t.ladderId, t.position] })],
);
