import { exchangeOn } from '../costs/exchange.ts';
import { type Dec, ONE, ZERO, dec, divide, share } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { Day, Item, Pack, Prepared, PriceList } from '../workspace/index.ts';

/** How a list shows a pack of an item: what is added to the net price before the buyer sees it. */
export interface ShownTerms {
  /** 1 + tax where the list has tax in, else 1. */
  readonly taxFactor: Dec;
  readonly taxPercent: string;
  /** The pack's deposit in the list's currency, without its tax. */
  readonly deposit: Dec;
  readonly depositTaxFactor: Dec;
  readonly depositTaxPercent: string;
}

/** The terms of a list for a pack on a day; refuses an unknown tax class or exchange rate. */
export function shownTerms(ws: Prepared, list: PriceList, item: Item, pack: Pack, day: Day): Outcome<ShownTerms> {
  if (pack.deposit) return findTerms(ws, list, item, pack, day);
  return ws.remember(`terms ${day}`, `${list.id}>${item.taxClass}`, () => findTerms(ws, list, item, pack, day));
}

function findTerms(ws: Prepared, list: PriceList, item: Item, pack: Pack, day: Day): Outcome<ShownTerms> {
  const path = `lists/${list.id}`;
  let taxPercent = '0';
  let depositTaxPercent = '0';
  if (list.taxIn) {
    const region = ws.taxRegion(list);
    const tax = ws.taxOn(item.taxClass, day, region);
    if (!tax) return refusal('no_tax_rate', path, { taxClass: item.taxClass, day });
    taxPercent = tax.percent;
    const depositClass = pack.depositTaxClass ?? item.taxClass;
    const depositTax = pack.deposit ? ws.taxOn(depositClass, day, region) : tax;
    if (!depositTax) return refusal('no_tax_rate', path, { taxClass: depositClass, day });
    depositTaxPercent = depositTax.percent;
  }
  let deposit = ZERO;
  if (pack.deposit) {
    const rateDay = ws.rateDay(list, day);
    const x = exchangeOn(ws, pack.deposit.currency, list.currency, rateDay);
    if (!x) return refusal('no_exchange_rate', path, { from: pack.deposit.currency, to: list.currency, day: rateDay });
    deposit = dec(pack.deposit.amount).times(x.factor);
  }
  return figure({
    taxFactor: ONE.plus(share(dec(taxPercent))),
    taxPercent,
    deposit,
    depositTaxFactor: ONE.plus(share(dec(depositTaxPercent))),
    depositTaxPercent,
  });
}

/** Net price → price as the list shows it. */
export function toShown(terms: ShownTerms, net: Dec): Dec {
  return net.times(terms.taxFactor).plus(terms.deposit.times(terms.depositTaxFactor));
}

/** Price as the list shows it → net of tax and deposit. */
export function toNet(terms: ShownTerms, shown: Dec): Dec {
  const goods = shown.minus(terms.deposit.times(terms.depositTaxFactor));
  return terms.taxFactor.eq(1) ? goods : divide(goods, terms.taxFactor);
}
