import { date, index, integer, jsonb, pgTable, text, timestamp } from 'drizzle-orm/pg-core';
import { REQUEST_STATES } from '../../contract/posting-requests.ts';
import type { PostWorksheetBody } from '../../contract/worksheets.ts';
import type { PricesOrder } from '../ledger/prices-order.ts';
import { people } from '../people/tables.ts';

export interface RequestedList {
  readonly list: string;
  readonly prices: number;
  readonly beyond: string | null;
}

/** Postings that a second person has to agree to; what was decided of them stays. */
export const postingRequests = pgTable(
  'posting_requests',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    reason: text().notNull(),
    effective: date().notNull(),
    lastDay: date(),
    askedBy: integer()
      .notNull()
      .references(() => people.id),
    askedAt: timestamp({ withTimezone: true }).notNull(),
    state: text({ enum: REQUEST_STATES }).notNull().default('waiting'),
    /** Who agreed, refused or withdrew. */
    decidedBy: integer().references(() => people.id),
    decidedAt: timestamp({ withTimezone: true }),
    why: text(),
    /** It may be discarded: then nobody asks any more. */
    worksheetId: integer(),
    /** What is posted once somebody agrees: prices of lists, or those of the worksheet. */
    prices: jsonb().$type<PricesOrder>(),
    worksheet: jsonb().$type<PostWorksheetBody>(),
    /** Achieved, in per cent, when it was asked for, by "list/item/pack". */
    margins: jsonb().$type<Readonly<Record<string, string>>>().notNull().default({}),
    lists: jsonb().$type<readonly RequestedList[]>().notNull(),
    postings: integer().array().notNull().default([]),
  },
  (t) => [index('posting_requests_state').on(t.state)],
);
