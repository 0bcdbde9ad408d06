import { exchangeOn } from '../costs/exchange.ts';
import type { LandedCost } from '../costs/landed-cost.ts';
import { type ShownTerms, toNet, toShown } from '../lists/terms.ts';
import { type Dec, ZERO, dec } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { RecipeTerms } from '../recipes/recipe.ts';
import {
  type Day,
  type Item,
  type Pack,
  type Prepared,
  type PriceList,
  type Recommended,
  taxFactor,
} from '../workspace/index.ts';
import { type Limit, limitsOf } from './guards.ts';

/** What is priced, and by which recipe. */
export interface Priced {
  readonly recipe: RecipeTerms;
  readonly list: PriceList;
  readonly item: Item;
  readonly pack: Pack;
  readonly day: Day;
}

/** Every guard of the recipe in the list's own terms, and the landed cost of the pack in its currency (null: unknown). */
export function priceLimits(
  ws: Prepared,
  priced: Priced,
  landed: Outcome<LandedCost>,
  terms: ShownTerms,
): Outcome<{ limits: Limit[]; cost: Dec | null }> {
  const { recipe, list, item, pack, day } = priced;
  const rateDay = ws.rateDay(list, day);
  const inListCurrency = (value: string, currency: string): Dec | null => {
    const x = exchangeOn(ws, currency, list.currency, rateDay);
    return x ? dec(value).times(x.factor) : null;
  };
  let cost: Dec | null = null;
  if (landed.ok) {
    const own = ws.workspace.currency;
    const x = exchangeOn(ws, own, list.currency, rateDay);
    if (!x) return refusal('no_exchange_rate', `lists/${list.id}`, { from: own, to: list.currency, day: rateDay });
    const unit = own === list.currency ? landed.value.landed : landed.value.landed.times(x.factor);
    cost = pack.units === '1' ? unit : unit.times(pack.units);
  }
  const rrp = shownOf(ws, priced, item.rrp, terms, inListCurrency);
  if (!rrp.ok) return rrp;
  const map = shownOf(ws, priced, item.map, terms, inListCurrency);
  if (!map.ok) return map;
  const posted = ws.postedOn(list.id, item.id, pack.id, day);
  const limits = limitsOf(recipe.guards, {
    item: item.sku,
    day,
    cost,
    rrp: rrp.value,
    map: map.value,
    advertised: list.advertised,
    posted: posted?.price ? dec(posted.price) : null,
    toShown: (net) => toShown(terms, net),
    inListCurrency,
  });
  return limits.ok ? figure({ limits: limits.value, cost }) : limits;
}

/** A recommended price per unit, as the list would show it for the pack; its deposit comes on top. */
function shownOf(
  ws: Prepared,
  { list, item, pack, day }: Priced,
  recommended: Recommended | null | undefined,
  terms: ShownTerms,
  inListCurrency: (value: string, currency: string) => Dec | null,
): Outcome<Dec | null> {
  if (!recommended) return figure(null);
  const perUnit = inListCurrency(recommended.amount, recommended.currency);
  if (!perUnit) {
    return refusal('no_exchange_rate', `items/${item.id}`, { from: recommended.currency, to: list.currency, day });
  }
  const goods = perUnit.times(pack.units);
  if (!recommended.taxIn) return figure(toShown(terms, goods));
  if (list.taxIn) return figure(goods.plus(terms.deposit.times(terms.depositTaxFactor)));
  const tax = ws.taxOn(item.taxClass, day, ws.taxRegion(list));
  if (!tax) return refusal('no_tax_rate', `items/${item.id}`, { taxClass: item.taxClass, day });
  return figure(toShown(terms, toNet({ ...terms, taxFactor: taxFactor(tax.percent), deposit: ZERO }, goods)));
}
