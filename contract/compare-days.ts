/** What happened to a price between two days. */
export const DAY_CHANGES = ['up', 'down', 'new', 'gone'] as const;
export type DayChange = (typeof DAY_CHANGES)[number];
export const DAY_SHOWS = ['all', ...DAY_CHANGES] as const;

/** What a list asks on a day, and where it is from; per pack, as the list shows it, before reductions of a buyer. */
export interface AskedThen {
  price: string | null;
  source: 'entry' | 'posted' | 'recipe' | 'parent' | null;
}

/** A price that differs between two days. */
export interface DayDifference {
  item: string;
  pack: string;
  sku: string;
  name: string;
  packName: string;
  kind: DayChange;
  before: AskedThen;
  after: AskedThen;
  /** Per cent, on two decimals; null: there is nothing to compare. */
  changePercent: string | null;
}

/** A list on two days: how many prices differ, and a page of them, those that moved furthest first. */
export interface ComparedDays {
  list: { id: string; name: string; currency: string; taxIn: boolean; decimals: number };
  from: string;
  to: string;
  counts: { [K in DayChange]: number } & { same: number };
  /** Of those asked for. */
  count: number;
  rows: DayDifference[];
}

/** Rows of a page. */
export const DAYS_PAGE = 100;
