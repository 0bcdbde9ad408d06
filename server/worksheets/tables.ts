import {
  boolean,
  date,
  integer,
  jsonb,
  numeric,
  pgTable,
  primaryKey,
  smallint,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';
import { bills, costSheets } from '../costs/tables.ts';
import { priceLists } from '../lists/tables.ts';
import { WORKSHEET_STATES } from '../../contract/worksheets.ts';
import type { PostWorksheetBody, ReverseWorksheetBody, SelfPosted } from '../../contract/worksheets.ts';
import { people } from '../people/tables.ts';
import { suppliers } from '../setup/tables.ts';

interface Ordered {
  readonly person: number;
  /** Postings that are written so far. */
  readonly written?: number;
}
/** `agreed`: the second person who agreed, and to which request. */
export type PostOrder = PostWorksheetBody &
  Ordered & { readonly agreed?: { readonly by: number; readonly request: number } };
/** `was`: what it is again when it is not reversed after all; `postings`: how many are to be. */
export type ReverseOrder = ReverseWorksheetBody &
  Ordered & { readonly was: 'draft' | 'posted'; readonly postings: number };
export const isReversal = (order: PostOrder | ReverseOrder): order is ReverseOrder => 'was' in order;

/** Of PostgreSQL's advisory locks, with a worksheet's id: held while somebody computes it. */
export const COMPUTING_LOCK = 7303;

/** A batch of proposed prices: for a day, over some lists, from one state of the workspace. */
export const worksheets = pgTable('worksheets', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  reason: text().notNull(),
  day: date().notNull(),
  state: text({ enum: WORKSHEET_STATES }).notNull().default('waiting'),
  cancelAsked: boolean().notNull().default(false),
  /** The state of the workspace it was computed from: the highest id of the audit entries. */
  revision: text(),
  /** While it is computed: names the state of the database that every process reads which takes part. */
  snapshot: text(),
  /** Prices to compute, and computed so far. */
  total: integer().notNull().default(0),
  done: integer().notNull().default(0),
  /** What went wrong, in words. */
  trouble: text(),
  madeBy: integer()
    .notNull()
    .references(() => people.id),
  madeAt: timestamp({ withTimezone: true }).notNull(),
  endedAt: timestamp({ withTimezone: true }),
  /** The cost sheet whose items alone it is about, and which these are; empty: all items. */
  costSheetId: integer().references(() => costSheets.id),
  onlyItems: integer().array(),
  /** The bill, where it is one. */
  billId: integer().references(() => bills.id),
  /** Lists whose prices post themselves once they are computed, and what became of that. */
  byItself: jsonb().$type<SelfPosted>(),
  /** While it is being posted or reversed: what of it, why, by whom. */
  order: jsonb().$type<PostOrder | ReverseOrder>(),
});

/** Lists whose prices post themselves once costs of a supplier are taken in. */
export const selfPostings = pgTable(
  'self_postings',
  {
    supplierId: integer()
      .notNull()
      .references(() => suppliers.id),
    listId: integer()
      .notNull()
      .references(() => priceLists.id),
    /** No price may move further, in per cent of the posted one. */
    most: numeric().notNull(),
    saidBy: integer()
      .notNull()
      .references(() => people.id),
    saidAt: timestamp({ withTimezone: true }).notNull(),
  },
  (t) => [primaryKey({ columns: [t.supplierId, t.listId] })],
);

/** A list on a worksheet, with what became of its prices. */
export const worksheetLists = pgTable(
  'worksheet_lists',
  {
    worksheetId: integer()
      .notNull()
      .references(() => worksheets.id),
    listId: integer()
      .notNull()
      .references(() => priceLists.id),
    rises: integer().notNull().default(0),
    falls: integer().notNull().default(0),
    unchanged: integer().notNull().default(0),
    /** Nothing was posted before. */
    first: integer().notNull().default(0),
    /** No price could be computed. */
    without: integer().notNull().default(0),
    guarded: integer().notNull().default(0),
    held: integer().notNull().default(0),
    explained: integer().notNull().default(0),
    /** Its prices are written down; whole once those of all lists are. */
    computed: boolean().notNull().default(false),
    /** The lists of the worksheet whose prices decided its own. */
    madeFrom: jsonb().$type<readonly string[]>().notNull().default([]),
  },
  (t) => [primaryKey({ columns: [t.worksheetId, t.listId] })],
);

/**
 * A proposed price per pack, in the list's currency, as the list shows it. Written by the million in one COPY: it has no
 * foreign keys, which would be looked up row by row; what it names is read in the transaction that writes it.
 */
export const worksheetPrices = pgTable(
  'worksheet_prices',
  {
    worksheetId: integer().notNull(),
    listId: integer().notNull(),
    itemId: integer().notNull(),
    packId: integer().notNull(),
    /** Posted; null: nothing was. */
    before: numeric(),
    /** Proposed; null: none could be computed, and `reason` says why. */
    after: numeric(),
    /** Achieved, in per cent. */
    markup: numeric(),
    margin: numeric(),
    /** Of the core's FLAGS. */
    flag: smallint().notNull(),
    /** Bit n: the guard GUARD_KINDS[n] was crossed or binds. */
    guards: smallint().notNull(),
    /** The place of the uplift row that won in its recipe; −1: none. */
    upliftRow: smallint().notNull(),
    wouldFallTo: numeric(),
    reason: text(),
  },
  (t) => [primaryKey({ columns: [t.worksheetId, t.listId, t.itemId, t.packId] })],
);
