import type { ShownPrices } from '../lists/shown-order.ts';
import type { PricesOrder } from './prices-order.ts';

/** A posting of prices: of those that are named, of rows as they were seen, or of what a second person has agreed to. */
export type PostingAsked = {
  readonly today: string;
} & (
  | { readonly of: 'order'; readonly order: PricesOrder; readonly person: number }
  | { readonly of: 'shown'; readonly shown: ShownPrices; readonly person: number }
  | { readonly of: 'request'; readonly agreed: { readonly request: number; readonly by: number } }
);
