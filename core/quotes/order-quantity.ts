import { type Dec, dec, plain } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { BuyerLimits, Item, OrderLimits } from '../items/item.ts';
import type { QuotesView } from './view.ts';

/** Who orders, as far as limits care. */
export interface Orderer {
  readonly customer: string | null;
  readonly groups: readonly string[];
}

/**
 * The limits of a quantity, whole: those of the entry that stands, else the customer's own, else those of the
 * best-ranked group, else the item's.
 */
export function limitsFor(
  ws: QuotesView,
  item: Item,
  buyer: Orderer | null,
  entry: { readonly order?: OrderLimits | null } | null = null,
): OrderLimits {
  if (entry?.order) return entry.order;
  const special = item.order?.for;
  if (!special?.length || !buyer) return item.order ?? {};
  const own = special.find((l) => l.customer && l.customer === buyer.customer);
  const rank = (l: BuyerLimits) => ws.groups.get(l.group ?? '')?.rank ?? 0;
  const ofGroup = special.filter((l) => l.group && buyer.groups.includes(l.group)).sort((a, b) => rank(a) - rank(b));
  return own ?? ofGroup[0] ?? item.order ?? {};
}

/**
 * Refuses a quantity that the item's least, most or step does not allow, naming the nearest allowed ones.
 * A step counts from 0: with step 6 and least 10 the smallest allowed quantity is 12.
 */
export function allowedQuantity(item: Item, quantity: Dec, limits: OrderLimits = item.order ?? {}): Outcome<Dec> {
  const path = `items/${item.id}/order`;
  if (quantity.lte(0)) return refusal('quantity_not_positive', path, { quantity: plain(quantity) });
  const { least, most, step } = limits;
  const low = lowest(least, step);
  const high = highest(most, step);
  const allowed = (): string => {
    const near = new Set<string>();
    const stepped = step
      ? [quantity.divToInt(step).times(step), quantity.divToInt(step).plus(1).times(step)]
      : [quantity];
    for (let q of stepped) {
      if (low && q.lt(low)) q = low;
      if (high && q.gt(high)) q = high;
      if (q.gt(0)) near.add(plain(q));
    }
    return [...near].join(' and ');
  };
  if (least && quantity.lt(least)) return refusal('quantity_below_least', path, { least, allowed: allowed() });
  if (most && quantity.gt(most)) return refusal('quantity_above_most', path, { most, allowed: allowed() });
  if (step && !quantity.mod(step).isZero()) return refusal('quantity_off_step', path, { step, allowed: allowed() });
  return figure(quantity);
}

/** The smallest quantity that can be ordered; where a least, most and step leave none, the least or the step itself. */
export function leastQuantity(item: Item, limits: OrderLimits = item.order ?? {}): Dec {
  return lowest(limits.least, limits.step) ?? dec(1);
}

/** Whether any quantity from `from` on can be ordered, and the first of them. */
export function firstAllowedFrom(item: Item, from: Dec, limits: OrderLimits = item.order ?? {}): Dec | null {
  const { step } = limits;
  const low = leastQuantity(item, limits);
  let first = from.gt(low) ? from : low;
  if (step && !first.mod(step).isZero()) first = first.divToInt(step).plus(1).times(step);
  const high = highest(limits.most, step);
  return high && first.gt(high) ? null : first;
}

function lowest(least?: string | null, step?: string | null): Dec | null {
  if (!step) return least ? dec(least) : null;
  const wanted = dec(least ?? step);
  const whole = wanted.divToInt(step).times(step);
  return whole.eq(wanted) ? whole : whole.plus(step);
}

function highest(most?: string | null, step?: string | null): Dec | null {
  if (!most) return null;
  return step ? dec(most).divToInt(step).times(step) : dec(most);
}
