import type { Derivation, RuleRef } from '../buildup/steps.ts';
import { exchangeOn } from '../costs/exchange.ts';
import { dec, plain } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import { type Ladder, rungFor } from '../rounding/ladder.ts';
import type { Day, Item, Pack, Prepared, PriceList } from '../workspace/index.ts';
import type { ShownTerms } from './terms.ts';

// The steps of a derivation between a net figure and the price that a list shows.

const fromList = (list: PriceList): RuleRef => ({ kind: 'list', id: list.id, version: list.version, name: list.name });

/** Takes deposit and tax out of a price as a list shows it. */
export function takeOut(d: Derivation, terms: ShownTerms, list: PriceList): void {
  const rule = fromList(list);
  const deposit = terms.deposit.times(terms.depositTaxFactor);
  if (!deposit.isZero()) {
    d.add({
      kind: 'deposit',
      operation: { op: 'plus', value: plain(deposit.negated()) },
      currency: list.currency,
      per: 'pack',
      rule,
      facts: { deposit: plain(terms.deposit), 'tax per cent': terms.depositTaxPercent },
    });
  }
  if (!terms.taxFactor.eq(1)) {
    d.add({
      kind: 'tax',
      operation: { op: 'divide', value: plain(terms.taxFactor) },
      currency: list.currency,
      per: 'pack',
      rule,
      facts: { 'per cent': terms.taxPercent },
    });
  }
}

/** Puts the pack's deposit and, on a list with tax in, the tax on a net price. */
export function putOn(d: Derivation, terms: ShownTerms, list: PriceList, item: Item, pack: Pack): void {
  const net = d.figure;
  if (!terms.deposit.isZero()) {
    d.add({
      kind: 'deposit',
      operation: { op: 'plus', value: plain(terms.deposit) },
      currency: list.currency,
      per: 'pack',
      rule: { kind: 'item', id: item.id, name: pack.name },
    });
  }
  if (!list.taxIn) return;
  const sameRate = terms.deposit.isZero() || terms.depositTaxFactor.eq(terms.taxFactor);
  const taxes = () => net.times(terms.taxFactor.minus(1)).plus(terms.deposit.times(terms.depositTaxFactor.minus(1)));
  d.add(
    {
      kind: 'tax',
      currency: list.currency,
      per: 'pack',
      rule: { kind: 'tax', id: item.taxClass, name: item.taxClass },
      operation: sameRate ? { op: 'times', value: plain(terms.taxFactor) } : { op: 'plus', value: plain(taxes()) },
      facts: {
        'per cent': terms.taxPercent,
        ...(sameRate ? {} : { 'per cent on the deposit': terms.depositTaxPercent }),
      },
    },
    sameRate ? terms.taxFactor : undefined,
  );
}

/** Brings a figure to the list's currency at the rates the list follows on the day. */
export function exchangeTo(
  ws: Prepared,
  d: Derivation,
  from: string,
  list: PriceList,
  day: Day,
  per: 'unit' | 'pack',
): Outcome<void> {
  if (from === list.currency) return figure(undefined);
  const rateDay = ws.rateDay(list, day);
  const x = exchangeOn(ws, from, list.currency, rateDay);
  if (!x) return refusal('no_exchange_rate', `lists/${list.id}`, { from, to: list.currency, day: rateDay });
  d.add(
    {
      kind: 'exchange',
      operation: { op: 'times', value: x.text },
      currency: list.currency,
      per,
      rule: { kind: 'rate', id: `${from}/${list.currency}`, name: `${from} → ${list.currency}` },
      facts: rateDay === day ? x.facts : { ...x.facts, 'rates pinned to': rateDay },
    },
    x.factor,
  );
  return figure(undefined);
}

/** From a unit to the pack. */
export function toPack(d: Derivation, pack: Pack, item: Item, currency: string): void {
  if (dec(pack.units).eq(1)) return;
  d.add({
    kind: 'pack',
    operation: { op: 'times', value: pack.units },
    currency,
    per: 'pack',
    rule: { kind: 'item', id: item.id, name: pack.name },
    facts: { [`${item.unit} in the pack`]: pack.units },
  });
}

/** Rounds to the list's decimals, half up. */
export function roundToDecimals(ws: Prepared, d: Derivation, list: PriceList, rule: RuleRef = fromList(list)): void {
  d.add({
    kind: 'decimals',
    operation: { op: 'round', decimals: ws.decimalsOf(list), way: 'half_up' },
    currency: list.currency,
    per: 'pack',
    rule,
  });
}

/** Rounds by the ladder that counts for the list: its own, the recipe's, or the currency's default; else to its decimals. */
export function roundByLadder(ws: Prepared, d: Derivation, list: PriceList, recipe: string | null): Outcome<Ladder> {
  const decimals = ws.decimalsOf(list);
  const chosen = ws.ladderFor(list, recipe);
  if (!chosen) {
    roundToDecimals(ws, d, list);
    return figure({ decimals, rungs: [] });
  }
  const ladder = ws.ladder(chosen.id, decimals);
  const terms = ws.ladders.get(chosen.id);
  if (!ladder || !terms) return refusal('no_ladder', `lists/${list.id}/ladder`, { ladder: chosen.id });
  const rung = rungFor(ladder, d.figure);
  const rule: RuleRef = { kind: 'ladder', id: terms.id, version: terms.version, name: terms.name };
  if (!rung) {
    roundToDecimals(ws, d, list, { ...rule, part: 'no rung holds the price' });
    return figure(ladder);
  }
  d.add({
    kind: 'ladder',
    operation: { op: 'ladder', decimals, rung: rung.terms },
    currency: list.currency,
    per: 'pack',
    rule: { ...rule, part: `${rung.terms.from} to ${rung.terms.to ?? 'any'}` },
    ...(chosen.byDefault ? { facts: { 'default ladder of': list.currency } } : {}),
  });
  return figure(ladder);
}
