import { exchangeOn } from '../costs/exchange.ts';
import { type Dec, ONE, ZERO, dec, divide, share } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { Day } from '../numbers/day.ts';
import type { Item, Pack } from '../items/item.ts';
import type { ListsView } from './view.ts';
import type { PriceList } from './price-list.ts';

/** A deposit of a pack in the list's currency: of the pack itself, or of all the units in it. */
export interface DepositPart {
  readonly of: 'pack' | 'units';
  /** Without its tax. */
  readonly amount: Dec;
  readonly taxClass: string;
  /** Of its own tax class; 0 on a list with tax out. */
  readonly taxPercent: string;
}

/** How a list shows a pack of an item: what is added to the net price before the buyer sees it. */
export interface ShownTerms {
  /** 1 + tax where the list has tax in, else 1. */
  readonly taxFactor: Dec;
  readonly taxPercent: string;
  readonly deposits: readonly DepositPart[];
  /** The pack's whole deposit in the list's currency, without tax. */
  readonly deposit: Dec;
  /** The same as the list shows it: with its tax where the list has tax in. */
  readonly depositShown: Dec;
}

/** The deposits of a pack, each with its tax class: of the pack itself, and of the units in it. Amounts per pack. */
export function depositsOf(
  item: Item,
  pack: Pack,
): { of: DepositPart['of']; amount: Dec; currency: string; taxClass: string }[] {
  const out = [];
  const { deposit, unitDeposit } = pack;
  if (deposit) {
    const taxClass = pack.depositTaxClass ?? item.taxClass;
    out.push({ of: 'pack' as const, amount: dec(deposit.amount), currency: deposit.currency, taxClass });
  }
  if (unitDeposit) {
    const taxClass = pack.unitDepositTaxClass ?? item.taxClass;
    const amount = dec(unitDeposit.amount).times(pack.units);
    out.push({ of: 'units' as const, amount, currency: unitDeposit.currency, taxClass });
  }
  return out;
}

/** The terms of a list for a pack on a day; refuses an unknown tax class or exchange rate. */
export function shownTerms(ws: ListsView, list: PriceList, item: Item, pack: Pack, day: Day): Outcome<ShownTerms> {
  if (pack.deposit || pack.unitDeposit) return findTerms(ws, list, item, pack, day);
  return ws.remember(`terms ${day}`, `${list.id}>${item.taxClass}`, () => findTerms(ws, list, item, pack, day));
}

function findTerms(ws: ListsView, list: PriceList, item: Item, pack: Pack, day: Day): Outcome<ShownTerms> {
  const path = `lists/${list.id}`;
  const percentOf = (taxClass: string): Outcome<string> => {
    if (!list.taxIn) return figure('0');
    const tax = ws.taxOn(taxClass, day, ws.taxRegion(list));
    return tax ? figure(tax.percent) : refusal('no_tax_rate', path, { taxClass, day });
  };
  const tax = percentOf(item.taxClass);
  if (!tax.ok) return tax;
  const deposits: DepositPart[] = [];
  const rateDay = ws.rateDay(list, day);
  for (const { of, amount, currency, taxClass } of depositsOf(item, pack)) {
    const taxPercent = percentOf(taxClass);
    if (!taxPercent.ok) return taxPercent;
    const x = exchangeOn(ws, currency, list.currency, rateDay);
    if (!x) return refusal('no_exchange_rate', path, { from: currency, to: list.currency, day: rateDay });
    deposits.push({ of, amount: amount.times(x.factor), taxClass, taxPercent: taxPercent.value });
  }
  return figure({
    taxFactor: factor(tax.value),
    taxPercent: tax.value,
    deposits,
    deposit: deposits.reduce((sum, p) => sum.plus(p.amount), ZERO),
    depositShown: deposits.reduce((sum, p) => sum.plus(depositPartShown(p)), ZERO),
  });
}

const factor = (percent: string): Dec => ONE.plus(share(dec(percent)));

/** A deposit as the list shows it. */
export const depositPartShown = (part: DepositPart): Dec => part.amount.times(factor(part.taxPercent));

/** Terms of goods that carry a tax and no deposit. */
export const untaxing = (taxPercent: string): ShownTerms => ({
  taxFactor: factor(taxPercent),
  taxPercent,
  deposits: [],
  deposit: ZERO,
  depositShown: ZERO,
});

/** The same terms without the deposit: for goods by themselves. */
export const withoutDeposit = (terms: ShownTerms): ShownTerms => ({
  ...terms,
  deposits: [],
  deposit: ZERO,
  depositShown: ZERO,
});

/** Net price → price as the list shows it. */
export function toShown(terms: ShownTerms, net: Dec): Dec {
  return net.times(terms.taxFactor).plus(terms.depositShown);
}

/** Price as the list shows it → net of tax and deposit. */
export function toNet(terms: ShownTerms, shown: Dec): Dec {
  const goods = shown.minus(terms.depositShown);
  return terms.taxFactor.eq(1) ? goods : divide(goods, terms.taxFactor);
}
