import { array, type InferType, object } from 'yup';
import { dayText, idText, text } from './fields.ts';
import type { PriceFlag } from './lists.ts';

export const WORKSHEET_STATES = ['waiting', 'computing', 'draft', 'failed', 'cancelled'] as const;
export type WorksheetState = (typeof WORKSHEET_STATES)[number];

export const WORKSHEET_STATE_NAMES: Record<WorksheetState, string> = {
  waiting: 'waiting to be computed',
  computing: 'being computed',
  draft: 'draft',
  failed: 'failed',
  cancelled: 'cancelled',
};

/** Proposes prices for a day: on the lists named, or on every active list with a recipe where none is. */
export const proposeBody = object({
  reason: text().required('Say why these prices are proposed').max(500),
  day: dayText().required(),
  lists: array(idText().required()).default([]),
}).noUnknown();
export type ProposeBody = InferType<typeof proposeBody>;

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

/** A page of a list's proposed prices, by item. */
export interface WorksheetPrices {
  rows: WorksheetPrice[];
  /** How many prices are shown in all. */
  count: number;
}
