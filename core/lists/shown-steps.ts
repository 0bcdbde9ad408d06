import type { Derivation, RuleRef } from '../buildup/steps.ts';
import { exchangeOn } from '../costs/exchange.ts';
import { dec, plain } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import { type Ladder, rungFor } from '../rounding/ladder.ts';
import type { Day } from '../numbers/day.ts';
import type { Item, Pack } from '../items/item.ts';
import type { ListsView } from './view.ts';
import type { PriceList } from './price-list.ts';
import type { RecipeTerms } from '../recipes/recipe.ts';
import type { ShownTerms } from './terms.ts';

// The steps of a derivation between a net figure and the price that a list shows.

const fromList = (list: PriceList): RuleRef => ({ kind: 'list', id: list.id, version: list.version, name: list.name });

const depositFacts = (terms: ShownTerms): Record<string, string> =>
  Object.fromEntries(
    terms.deposits.map((p) => [
      p.of === 'pack' ? 'deposit of the pack' : 'deposit of the units in it',
      `${plain(p.amount)}, tax ${p.taxPercent} %`,
    ]),
  );

/** Takes deposit and tax out of a price as a list shows it. */
export function takeOut(d: Derivation, terms: ShownTerms, list: PriceList): void {
  const rule = fromList(list);
  if (!terms.depositShown.isZero()) {
    d.add({
      kind: 'deposit',
      operation: { op: 'plus', value: plain(terms.depositShown.negated()) },
      currency: list.currency,
      per: 'pack',
      rule,
      facts: depositFacts(terms),
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
      ...(terms.deposits.length > 1 ? { facts: depositFacts(terms) } : {}),
    });
  }
  if (!list.taxIn) return;
  const sameRate = terms.deposits.every((p) => dec(p.taxPercent).eq(terms.taxPercent));
  const taxes = () => net.times(terms.taxFactor.minus(1)).plus(terms.depositShown.minus(terms.deposit));
  d.add(
    {
      kind: 'tax',
      currency: list.currency,
      per: 'pack',
      rule: { kind: 'tax', id: item.taxClass, name: item.taxClass },
      operation: sameRate ? { op: 'times', value: plain(terms.taxFactor) } : { op: 'plus', value: plain(taxes()) },
      facts: {
        'per cent': terms.taxPercent,
        ...(sameRate ? {} : { 'per cent on the deposit': terms.deposits.map((p) => p.taxPercent).join(', ') }),
      },
    },
    sameRate ? terms.taxFactor : undefined,
  );
}

/** Brings a figure to the list's currency at the rates the list follows on the day. */
export function exchangeTo(
  ws: ListsView,
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
export function roundToDecimals(ws: ListsView, d: Derivation, list: PriceList, rule: RuleRef = fromList(list)): void {
  d.add({
    kind: 'decimals',
    operation: { op: 'round', decimals: ws.decimalsOf(list), way: 'half_up' },
    currency: list.currency,
    per: 'pack',
    rule,
  });
}

/** Rounds by the ladder that counts for the list, the item and the pack, which the step names; without one to the list's decimals. */
export function roundByLadder(
  ws: ListsView,
  d: Derivation,
  list: PriceList,
  recipe: RecipeTerms | null,
  of: { readonly item: Item; readonly pack: Pack },
): Outcome<Ladder> {
  const chosen = ws.ladderFor(list, recipe, of.item, of.pack.name);
  if (chosen) return roundBy(ws, d, list, chosen);
  roundToDecimals(ws, d, list);
  return figure({ decimals: ws.decimalsOf(list), rungs: [] });
}

/** Rounds by one ladder; `why` names what made it count. */
export function roundBy(
  ws: ListsView,
  d: Derivation,
  list: PriceList,
  chosen: { readonly id: string; readonly why: string | null },
): Outcome<Ladder> {
  const decimals = ws.decimalsOf(list);
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
    ...(chosen.why ? { facts: { 'ladder of': chosen.why } } : {}),
  });
  return figure(ladder);
}
