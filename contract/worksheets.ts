import { array, boolean, type InferType, object, string } from 'yup';
import { dayText, idText, optional, positiveText, text } from './fields.ts';
import type { Window } from './windows.ts';
import { FLAG_TEXT, type PriceFlag } from './list-row.ts';

export const WORKSHEET_STATES = [
  'waiting',
  'computing',
  'draft',
  'posting',
  'posted',
  'reversing',
  'reversed',
  'failed',
  'cancelled',
] as const;
export type WorksheetState = (typeof WORKSHEET_STATES)[number];

export const WORKSHEET_STATE_NAMES: Record<WorksheetState, string> = {
  waiting: 'waiting to be computed',
  computing: 'being computed',
  draft: 'draft',
  posting: 'being posted',
  posted: 'posted',
  reversing: 'being reversed',
  reversed: 'reversed',
  failed: 'failed',
  cancelled: 'cancelled',
};

/**
 * Proposes prices for a day: on the lists named, or on every active list with a recipe where none is; of all items, or of
 * those alone that costs taken in from a sheet or a bill reach.
 */
export const proposeBody = object({
  reason: text().required('Say why these prices are proposed').max(500),
  day: dayText().required(),
  lists: array(idText().required()).default([]),
  costSheet: idText().nullable().default(null),
  bill: idText().nullable().default(null),
})
  .noUnknown()
  .test('one', 'Name a cost sheet or a bill', (b) => !(b.costSheet && b.bill));
export type ProposeBody = InferType<typeof proposeBody>;

/** Which of a list's changes are posted. */
export const POSTED_SHARES = ['changed', 'rises', 'falls', 'first'] as const;
export type PostedShare = (typeof POSTED_SHARES)[number];

/** Posts proposed prices for the worksheet's day: of the lists named, in one transaction. */
export const postWorksheetBody = object({
  reason: text().required('Say why these prices are posted').max(500),
  lists: array(idText().required()).required().min(1, 'Choose at least one list'),
  share: string().oneOf(POSTED_SHARES).required(),
  /** After it comes back what is due without them; null: they hold until others begin. */
  lastDay: optional(dayText()),
  /** Though something that prices are made from has changed since they were computed. */
  asComputed: boolean().default(false),
}).noUnknown();
export type PostWorksheetBody = InferType<typeof postWorksheetBody>;

/** Reverses everything that was posted of a worksheet, in one transaction. */
export const reverseWorksheetBody = object({
  reason: text().required('Say why').max(400),
  /** Leaves the prices that a later posting has changed as they are, instead of refusing the whole. */
  leaveChanged: boolean().default(false),
}).noUnknown();
export type ReverseWorksheetBody = InferType<typeof reverseWorksheetBody>;

const mostText = () =>
  positiveText().matches(/^\d{1,3}(\.\d{1,2})?$/, 'must be a percentage with at most two decimals');

/** Lists whose prices post themselves once costs of a supplier are taken in, and how far each may move. */
export const selfPostingBody = object({
  lists: array(object({ list: idText().required(), most: mostText().required() }).noUnknown())
    .max(500)
    .required()
    .test('once', 'Name each list once', (lists) => new Set(lists.map((l) => l.list)).size === lists.length),
}).noUnknown();
export type SelfPostingBody = InferType<typeof selfPostingBody>;

/** Prices that are to post themselves. */
export interface SelfPosted {
  /** Whether it has been looked at: then what is not left is posted. */
  decided: boolean;
  lists: {
    list: string;
    /** No price may move further, in per cent. */
    most: string;
    /** Why its prices wait for a person. */
    left: string | null;
  }[];
}

/** What became of a number of prices. */
export interface WorksheetCounts {
  rises: number;
  falls: number;
  unchanged: number;
  /** Nothing was posted before. */
  first: number;
  /** No price could be computed. */
  without: number;
  /** A guard changed the price. */
  guarded: number;
  /** A person has to decide. */
  held: number;
}

export interface WorksheetList extends WorksheetCounts {
  list: string;
  name: string;
  currency: string;
  decimals: number;
  /** The postings that were made of it, and whether each stands, wholly or in part. */
  postings: { id: string; stands: boolean }[];
}

export interface Worksheet {
  id: string;
  reason: string;
  day: string;
  state: WorksheetState;
  total: number;
  done: number;
  trouble: string | null;
  madeBy: string;
  madeAt: string;
  endedAt: string | null;
  /** Something that prices are made from has changed since it was computed. */
  outdated: boolean;
  /** It is about the items alone whose costs came with this sheet. */
  costSheet: { id: string; fileName: string } | null;
  /** Or with this bill. */
  bill: { id: string; number: string } | null;
  byItself: SelfPosted | null;
  /** A posting of it that waits for a second person. */
  request: string | null;
  /** While it is posted or reversed: how many postings that makes, and how many are written. Nothing is in force before all are. */
  underWay: { postings: number; written: number } | null;
  lists: WorksheetList[];
}

export const WORKSHEET_SHOWS = ['changed', 'rises', 'falls', 'first', 'guarded', 'held', 'without', 'all'] as const;
export type WorksheetShows = (typeof WORKSHEET_SHOWS)[number];

/** A proposed price, per pack, in the list's currency, as the list shows it. */
export interface WorksheetPrice {
  item: string;
  pack: string;
  sku: string;
  name: string;
  packName: string;
  before: string | null;
  after: string | null;
  changePercent: string | null;
  /** Achieved, per cent, on two decimals. */
  markup: string | null;
  margin: string | null;
  flag: PriceFlag | null;
  guards: string[];
  wouldFallTo: string | null;
  reason: string | null;
}

/** What there is to say of a proposed price. */
export const remarkOf = (p: WorksheetPrice): string =>
  [
    p.reason,
    p.guards.join(', '),
    p.flag && p.flag !== 'bit' ? FLAG_TEXT[p.flag] : null,
    p.wouldFallTo ? `would fall to ${p.wouldFallTo}` : null,
  ]
    .filter((t) => t !== null && t !== '')
    .join('; ');

/** A stretch of a list's proposed prices. */
export interface WorksheetPrices extends Window<WorksheetPrice> {
  rows: WorksheetPrice[];
}
