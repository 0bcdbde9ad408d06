import { type Dec, ONE, divide, percent, share } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';

/** Price net of tax and deposit at a markup in per cent of cost: p = c × (1 + m). docs/arithmetic.md, "Markup and margin". */
export function priceAtMarkup(cost: Dec, markupPercent: Dec): Outcome<Dec> {
  if (cost.isZero()) return refusal('markup_without_cost', 'cost', { item: 'The item', kind: 'markup' });
  return figure(cost.times(ONE.plus(share(markupPercent))));
}

/** Price net of tax and deposit at a margin in per cent of price: p = c ÷ (1 − g). Refuses 100 % and more. */
export function priceAtMargin(cost: Dec, marginPercent: Dec): Outcome<Dec> {
  if (marginPercent.gte(100)) return refusal('margin_too_high', 'uplift', { percent: marginPercent.toFixed() });
  if (cost.isZero()) return refusal('markup_without_cost', 'cost', { item: 'The item', kind: 'margin' });
  return figure(divide(cost, ONE.minus(share(marginPercent))));
}

/** Achieved markup in per cent of cost, or null where the cost is 0. Both figures net, same currency. */
export function markupOf(cost: Dec, price: Dec): Dec | null {
  return cost.isZero() ? null : percent(divide(price.minus(cost), cost));
}

/** Achieved margin in per cent of price, or null where the price is 0. Both figures net, same currency. */
export function marginOf(cost: Dec, price: Dec): Dec | null {
  return price.isZero() ? null : percent(divide(price.minus(cost), price));
}

/** The markup that is the same as a margin: m = g ÷ (1 − g), in per cent. Refuses 100 % and more. */
export function markupFromMargin(marginPercent: Dec): Outcome<Dec> {
  if (marginPercent.gte(100)) return refusal('margin_too_high', 'margin', { percent: marginPercent.toFixed() });
  const g = share(marginPercent);
  return figure(percent(divide(g, ONE.minus(g))));
}

/** The margin that is the same as a markup: g = m ÷ (1 + m), in per cent; null at −100 %. */
export function marginFromMarkup(markupPercent: Dec): Dec | null {
  const m = share(markupPercent);
  return m.eq(-1) ? null : percent(divide(m, ONE.plus(m)));
}

/** The net price a margin of this size would need: used by guards. Refuses 100 % and more. */
export function netAtMargin(cost: Dec, marginPercent: Dec): Dec | null {
  return marginPercent.gte(100) ? null : divide(cost, ONE.minus(share(marginPercent)));
}
