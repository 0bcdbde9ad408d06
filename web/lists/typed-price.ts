import { priceChange } from '#core/lists/price-change.ts';
import { dec, divide, roundHalfUp } from '#core/numbers/decimal.ts';
import { marginOf } from '#core/recipes/markup.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

/** The change from the posted price in per cent, of a typed price or else of the computed one. */
export const changeOf = (row: ListPriceRow, typed: string | undefined): string | null =>
  typed === undefined ? row.changePercent : priceChange(row.posted, typed);

/** The margin that a typed price leaves on the landed cost, or else that of the computed one; per cent on two decimals. */
export function marginOfRow(row: ListPriceRow, typed: string | undefined): string | null {
  if (typed === undefined) return row.marginAfter;
  if (row.cost === null || row.taxFactor === null || row.depositShown === null) return null;
  const net = divide(dec(typed).minus(row.depositShown), dec(row.taxFactor));
  const margin = marginOf(dec(row.cost), net);
  return margin && roundHalfUp(margin, 2).toFixed(2);
}
