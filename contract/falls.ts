/** A computed price that "raise only" keeps from falling; amounts per pack, as the list shows them. */
export interface Fall {
  list: string;
  item: string;
  sku: string;
  name: string;
  pack: string;
  packName: string;
  posted: string;
  to: string;
  changePercent: string | null;
  marginNow: string | null;
  /** What the price would then leave. */
  marginThen: string | null;
  /** Packs on quotes accepted in the days that are looked at. */
  sold: string;
  /** What those would have asked less, in the workspace's currency; null: no exchange rate. */
  money: string | null;
}

/** What would fall, the most money first. */
export interface Falls {
  day: string;
  /** The state of the books it was computed from. */
  revision: string;
  currency: string;
  /** Quotes accepted in so many days before are counted. */
  days: number;
  lists: { list: string; name: string; currency: string; decimals: number; prices: number; money: string }[];
  /** The first 1,000. */
  rows: Fall[];
}
