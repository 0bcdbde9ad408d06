import { exchangeOn } from '../costs/exchange.ts';
import type { LandedCost } from '../costs/landed-cost.ts';
import { type ShownTerms, toNet, toShown, withoutDeposit } from '../lists/terms.ts';
import { type Dec, dec } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { RecipeTerms } from '../recipes/recipe.ts';
import type { Day } from '../numbers/day.ts';
import type { Item, Pack, Recommended } from '../items/item.ts';
import type { ListsView } from '../lists/view.ts';
import type { PriceList } from '../lists/price-list.ts';
import { taxFactor } from '../regions/tax.ts';
import { type Limit, type NotApplied, limitsOf } from './guards.ts';

/** What is priced, and by which guards. */
export interface Priced {
  readonly recipe: Pick<RecipeTerms, 'guards'>;
  readonly list: PriceList;
  readonly item: Item;
  readonly pack: Pack;
  readonly day: Day;
}

/** Every guard of the recipe in the list's own terms, and the landed cost of the pack in its currency (null: unknown). */
export function priceLimits(
  ws: ListsView,
  priced: Priced,
  landed: Outcome<LandedCost>,
  terms: ShownTerms,
): Outcome<{ limits: Limit[]; notApplied: NotApplied[]; cost: Dec | null }> {
  const { recipe, list, item, pack, day } = priced;
  const rateDay = ws.rateDay(list, day);
  const inListCurrency = (value: string, currency: string): Dec | null => {
    const x = exchangeOn(ws, currency, list.currency, rateDay);
    return x ? dec(value).times(x.factor) : null;
  };
  const own = ws.workspace.currency;
  const x = exchangeOn(ws, own, list.currency, rateDay);
  if (landed.ok && !x)
    return refusal('no_exchange_rate', `lists/${list.id}`, { from: own, to: list.currency, day: rateDay });
  const cost: Outcome<Dec> = landed.ok ? figure(perPack(landed.value.landed, x!.factor, pack)) : landed;
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
  return limits.ok ? figure({ ...limits.value, cost: cost.ok ? cost.value : null }) : limits;
}

/** Nothing is multiplied by 1: the figures of a step stay as short as they are. */
function perPack(landed: Dec, rate: Dec, pack: Pack): Dec {
  const unit = rate.eq(1) ? landed : landed.times(rate);
  return pack.units === '1' ? unit : unit.times(pack.units);
}

/** A recommended price per unit, as the list would show it for the pack; its deposit comes on top. */
function shownOf(
  ws: ListsView,
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
  if (list.taxIn) return figure(goods.plus(terms.depositShown));
  const tax = ws.taxOn(item.taxClass, day, ws.taxRegion(list));
  if (!tax) return refusal('no_tax_rate', `items/${item.id}`, { taxClass: item.taxClass, day });
  return figure(toShown(terms, toNet({ ...withoutDeposit(terms), taxFactor: taxFactor(tax.percent) }, goods)));
}
