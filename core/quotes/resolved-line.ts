import type { Dec } from '../numbers/decimal.ts';
import type { Item, Pack } from '../items/item.ts';
import type { LinePrice } from './line-list.ts';
import type { BreakCounting } from './lowest-price.ts';
import type { QuoteLineQuestion } from './questions.ts';

/** A line whose item, pack, quantity and list price are found. */
export interface ResolvedLine {
  readonly line: QuoteLineQuestion;
  /** As asked for; in a lockstep group its lead gives the prices. */
  readonly item: Item;
  readonly pack: Pack;
  readonly quantity: Dec;
  readonly price: LinePrice;
  readonly breaks: BreakCounting | null;
}
