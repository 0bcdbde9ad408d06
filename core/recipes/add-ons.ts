import type { Derivation, RuleRef } from '../buildup/steps.ts';
import { exchangeOn } from '../costs/exchange.ts';
import { type Dec, dec, plain, settle, share } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { Day } from '../numbers/day.ts';
import type { Item, Pack } from '../items/item.ts';
import type { ListsView } from '../lists/view.ts';
import type { PriceList } from '../lists/price-list.ts';
import { fits } from '../items/scope.ts';
import type { AddOn, RecipeTerms } from './recipe.ts';

export interface AddOnContext {
  readonly ws: ListsView;
  readonly list: PriceList;
  readonly item: Item;
  readonly pack: Pack;
  readonly recipe: RecipeTerms;
  readonly channels: readonly string[];
  readonly day: Day;
  /** Of the pack, before any add-on, in the list's currency. */
  readonly basis: Dec;
}

/** Adds the recipe's add-ons that come before or after the uplift, a step each. An attribute that is missing is a reason, never a zero. */
export function addAddOns(d: Derivation, c: AddOnContext, when: 'before' | 'after'): Outcome<void> {
  for (const addOn of c.recipe.addOns ?? []) {
    if ((addOn.when ?? 'after') !== when) continue;
    if (addOn.scope && !fits(c.ws, addOn.scope, c.item, c.pack.name, c.channels)) continue;
    const amount = amountOf(addOn, c);
    if (!amount.ok) return amount;
    const { recipe } = c;
    const { id, version, name } = recipe;
    const rule: RuleRef = { kind: 'recipe', id, version, name, part: addOn.id, partName: addOn.name };
    d.add({
      kind: 'add_on',
      operation: { op: 'plus', value: plain(amount.value.value) },
      currency: c.list.currency,
      per: 'pack',
      rule,
      facts: { 'add-on': addOn.name, when: `${when} the uplift`, ...amount.value.facts },
    });
  }
  return figure(undefined);
}

function amountOf(addOn: AddOn, c: AddOnContext): Outcome<{ value: Dec; facts: Record<string, string> }> {
  const { item, pack, list } = c;
  const path = `recipes/${c.recipe.id}/addOns/${addOn.id}`;
  const inList = (value: string, facts: Record<string, string>) => {
    const currency = addOn.currency ?? list.currency;
    const day = c.ws.rateDay(list, c.day);
    const x = exchangeOn(c.ws, currency, list.currency, day);
    return x
      ? figure({ value: dec(value).times(x.factor), facts: { ...facts, ...x.facts } })
      : refusal('no_exchange_rate', path, { from: currency, to: list.currency, day });
  };
  switch (addOn.kind) {
    case 'percent_of_basis': {
      const percent = addOn.value ?? '0';
      return figure({
        value: c.basis.times(share(dec(percent))),
        facts: { 'per cent of the basis': percent, basis: plain(c.basis) },
      });
    }
    case 'by_weight': {
      if (item.weightKg === null || item.weightKg === undefined)
        return refusal('no_weight_for_add_on', path, { item: item.sku, addOn: addOn.name });
      const weight = dec(item.weightKg).times(pack.units);
      const at = settle(weight);
      const band = addOn.bands?.find((b) => at.gte(b.from) && (b.to === null || at.lt(b.to)));
      if (!band) return refusal('no_weight_band', path, { item: item.sku, addOn: addOn.name, weight: plain(weight) });
      return inList(band.value, { 'weight kg': plain(weight), band: `${band.from} to ${band.to ?? 'any'} kg` });
    }
    case 'amount':
    case 'fee': {
      const value = addOn.value ?? '0';
      const times = addOn.per === 'unit' ? pack.units : '1';
      return inList(plain(dec(value).times(times)), addOn.per === 'unit' ? { 'per unit': value } : {});
    }
  }
}
