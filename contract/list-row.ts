/** What a list asks on the day, and where it is from. */
export interface AskedPrice {
  /** As the list shows it, per pack, before reductions of a buyer; null: it is not sold from this list. */
  asks: string | null;
  source: 'entry' | 'posted' | 'recipe' | 'parent' | null;
  /** The list it is inherited from, or the lead it follows. */
  from: string | null;
  /** Only for some days: the entry's first and last. */
  dated: { from: string | null; to: string | null } | null;
  /** What is asked otherwise, where a dated entry makes it another price. */
  usual: string | null;
}

/** One price of a list: what is posted and what the recipe computes now. Prices as the list shows them, per pack. */
export interface ListPriceRow extends AskedPrice {
  item: string;
  pack: string;
  sku: string;
  name: string;
  category: string;
  packName: string;
  posted: string | null;
  postedFrom: string | null;
  /** From here on only for those who may see costs. */
  proposed: string | null;
  reason: string | null;
  cost: string | null;
  uplift: string | null;
  /** Per cent, on two decimals. */
  changePercent: string | null;
  marginBefore: string | null;
  marginAfter: string | null;
  flag: PriceFlag | null;
  bit: string[];
  wouldFallTo: string | null;
  /** The last day of the posted price; null: it holds until it is changed. */
  lastDay: string | null;
  /** Why it was typed; null: it was not. */
  handSet: string | null;
  /** What the list puts on a net price, and the deposit as it shows it: the margin of a typed price is worked out with them. */
  taxFactor: string | null;
  depositShown: string | null;
}

export type PriceFlag = 'bit' | 'no_ending_fits' | 'floor_above_ceiling';

export const FLAG_TEXT: Record<PriceFlag, string> = {
  bit: 'a guard changed the price',
  no_ending_fits: 'no ending of the ladder fits between the guards',
  floor_above_ceiling: 'a floor lies above a ceiling: decide this price by hand',
};
