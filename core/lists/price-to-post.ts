import type { Outcome } from '../reasons.ts';
import type { PriceQuestion } from './achieved.ts';
import type { ComputedPrice, Falls } from '../recipes/compute-price.ts';
import { computePrice } from './list-price.ts';
import type { ListsView } from './view.ts';

/**
 * Whose price is posted where one is asked about: of a lockstep group there is one for all, the lead's. What another list asks
 * of a member alone, by an entry of its own, counts where nothing is posted; it is never posted for the others.
 */
export function postedAs(ws: ListsView, item: string, pack: string): { readonly item: string; readonly pack: string } {
  const asked = ws.items.get(item);
  if (!asked) return { item, pack };
  return { item: ws.followed(asked).id, pack: ws.packOf(asked, pack)?.id ?? pack };
}

/** The price that is to be posted: what the recipe makes of the item, or of the lead that it follows. */
export const priceToPost = (ws: ListsView, q: PriceQuestion, falls: Falls = 'keep'): Outcome<ComputedPrice> =>
  computePrice(ws, { ...q, ...postedAs(ws, q.item, q.pack) }, falls);
