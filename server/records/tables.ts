import { index, integer, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core';

/** Records that are kept whole, as they are declared in contract/records. Amounts in them are text, digit for digit. */
export const records = pgTable(
  'records',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    kind: text().notNull(),
    version: integer().notNull().default(1),
    body: jsonb().$type<Record<string, unknown>>().notNull(),
  },
  (t) => [index('records_kind').on(t.kind, t.id)],
);

/** What records point to, from wherever they are kept: nothing that is pointed to is removed. */
export const recordLinks = pgTable(
  'record_links',
  {
    fromKind: text().notNull(),
    fromId: integer().notNull(),
    toKind: text().notNull(),
    toId: integer().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.fromKind, t.fromId, t.toKind, t.toId] }),
    index('record_links_to').on(t.toKind, t.toId),
  ],
);
