import type { Buyer } from '../lists/choose-list.ts';
import { minorUnits } from '../numbers/currency.ts';
import { type Dec, divide, roundHalfUp } from '../numbers/decimal.ts';
import type { QuotesView } from './view.ts';
import { ascending, reachedBreak } from './breaks.ts';
import type { PriceWays } from './lowest-price.ts';
import { firstAllowedFrom, limitsFor } from './order-quantity.ts';
import type { ResolvedLine } from './resolved-line.ts';

/**
 * "Buy 3 more and pay less in all" (whole breaks): at the buyer's own prices, in quantities that can be ordered.
 * `capped`: what all that counts together costs at most, where "never more than the next break" holds it.
 * Of a pool or a section only the line itself is held against: what the others save comes on top.
 * `floored`: the unit price that the floors allow for a line of a quantity; null: they refuse it. Totals are to the minor unit.
 */
export function buyMore(
  ws: QuotesView,
  { item, quantity, breaks, price }: ResolvedLine,
  buyer: Buyer,
  ways: PriceWays,
  capped: Dec | null,
  decimals: number,
  floored: (unitPrice: Dec, quantity: Dec) => Dec | null,
): { buy: Dec; saves: Dec } | null {
  const { table, counted, per } = breaks!;
  const unitAt = (measure: Dec): Dec | null => {
    const found = ways.at(reachedBreak(table.rows, measure));
    return found.ok ? roundHalfUp(found.value.d.figure, decimals) : null;
  };
  const packs = table.count === 'item' ? divide(counted, per) : quantity;
  const unit = unitAt(counted);
  if (!unit) return null;
  const digits = minorUnits(price.listPrice.list.currency);
  const now = capped ?? roundHalfUp(unit.times(packs), digits);
  const limits = limitsFor(ws, item, buyer, price.listPrice.entry);
  for (const row of ascending(table.rows)) {
    if (counted.gte(row.from)) continue;
    const reached = firstAllowedFrom(item, quantity.plus(divide(counted.negated().plus(row.from), per)), limits);
    if (!reached) return null;
    const buy = reached.minus(quantity);
    const asked = unitAt(counted.plus(buy.times(per)));
    const allowed = asked && floored(asked, reached);
    const then = allowed && roundHalfUp(allowed.times(packs.plus(buy)), digits);
    if (then?.lt(now)) return { buy, saves: now.minus(then) };
  }
  return null;
}
