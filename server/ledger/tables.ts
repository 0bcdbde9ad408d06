import { sql } from 'drizzle-orm';
import { bigint, date, index, integer, jsonb, numeric, pgTable, text, timestamp, unique } from 'drizzle-orm/pg-core';
import type { Step } from '#core/buildup/steps.ts';
import { items, packs } from '../items/tables.ts';
import { priceLists } from '../lists/tables.ts';
import { people } from '../people/tables.ts';

/** Only added to: the database refuses to change or delete rows of the tables in this file. */
export const postings = pgTable(
  'postings',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    listId: integer()
      .notNull()
      .references(() => priceLists.id),
    kind: text({ enum: ['post', 'reverse'] }).notNull(),
    /** A posting may be reversed in parts, by several; each of its prices once. */
    reversesId: integer(),
    reason: text().notNull(),
    effective: date().notNull(),
    /** The last day of its prices that say none of their own; null: they hold until others begin. */
    lastDay: date(),
    postedBy: integer()
      .notNull()
      .references(() => people.id),
    postedAt: timestamp({ withTimezone: true }).notNull(),
    /** The second person; null: nobody had to agree. */
    agreedBy: integer().references(() => people.id),
    /** The last entry of the record of changes that its figures were computed from; null: its lines keep their steps. */
    asOf: integer(),
    worksheetId: integer(),
  },
  (t) => [index('postings_reverses').on(t.reversesId), index('postings_worksheet').on(t.worksheetId)],
);

export const postingLines = pgTable(
  'posting_lines',
  {
    id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    postingId: integer()
      .notNull()
      .references(() => postings.id),
    listId: integer()
      .notNull()
      .references(() => priceLists.id),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    packId: integer()
      .notNull()
      .references(() => packs.id),
    effective: date().notNull(),
    before: numeric(),
    /** Null: the item has no price on the list from the day on. */
    after: numeric(),
    /** Achieved when it was posted, in per cent, as it is shown. */
    margin: numeric(),
    steps: jsonb().$type<readonly Step[]>(),
    /** Why it was typed; null: it was not. */
    handSetReason: text(),
    /** Null: it holds until another begins. */
    lastDay: date(),
    /** The posting whose computation a price comes from that a reversal put back; null: its own. */
    madeBy: integer(),
  },
  (t) => [
    index('posting_lines_price').on(t.listId, t.itemId, t.packId, t.effective, t.id),
    // few are typed: who looks for them looks here
    index('posting_lines_by_hand')
      .on(t.listId, t.itemId, t.packId, t.id)
      .where(sql`${t.handSetReason} is not null`),
    // few end by themselves
    index('posting_lines_ending')
      .on(t.listId, t.itemId, t.packId)
      .where(sql`${t.lastDay} is not null`),
    // seeks the lines of a posting too: an index on the posting alone would be taken for single prices as well
    unique('posting_lines_once').on(t.postingId, t.itemId, t.packId, t.effective),
  ],
);

/** Of each part of a workspace the last change: the id of its entry in the record of changes. */
export const layers = pgTable('layers', {
  name: text({ enum: ['catalogue', 'rules', 'posted'] }).primaryKey(),
  revision: integer().notNull(),
});

/** Who changed what, when, from what to what. */
export const auditEntries = pgTable(
  'audit_entries',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    at: timestamp({ withTimezone: true }).notNull(),
    personId: integer().references(() => people.id),
    action: text().notNull(),
    subject: text().notNull(),
    subjectId: text().notNull(),
    before: jsonb(),
    after: jsonb(),
  },
  (t) => [index('audit_entries_subject').on(t.subject, t.subjectId)],
);
