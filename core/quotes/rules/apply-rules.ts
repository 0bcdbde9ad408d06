import type { Operation, RuleRef } from '../../buildup/steps.ts';
import { onDay } from '../../lists/entries.ts';
import { type Dec, dec, plain, settle } from '../../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../../reasons.ts';
import type { Day } from '../../numbers/day.ts';
import type { Item, Pack } from '../../items/item.ts';
import { exactPriceOf, exactPriceReaches } from '../../lists/exact-price.ts';
import type { LineFigure } from '../line-figure.ts';
import type { FloorTerms } from '../floors.ts';
import { type FactOf, holds } from './condition.ts';
import { type AttributeRule, type Effect, type RuleSet, namesPack } from './rule.ts';

export interface RuleContext {
  readonly line: LineFigure;
  readonly item: Item;
  /** What the line is sold in, a pack of the item whose prices count. */
  readonly pack: Pack;
  readonly packs: Pick<Item, 'packs'>;
  readonly currency: string;
  /** The pack's deposit as the list shows it: never changed by a rule. */
  readonly deposit: Dec;
  readonly day: Day;
  /** Facts of the line at its present price. */
  readonly fact: FactOf;
  readonly inListCurrency: (value: string, currency: string | null | undefined) => Outcome<Dec>;
  readonly path: string;
}

export interface RuleCharge {
  readonly rule: string;
  readonly name: string;
  readonly amount: Dec;
  readonly taxClass: string;
}

/** What rules leave behind besides the price. */
export interface RuleResult {
  readonly touched: boolean;
  readonly free: { readonly buy: Dec; readonly free: Dec; readonly rule: RuleRef } | null;
  readonly asks: readonly string[];
  readonly refuses: readonly string[];
  readonly charges: readonly RuleCharge[];
  readonly floors: readonly FloorTerms[];
  /** An earlier price to be struck; `price` null: whatever the ledger knows. `began`: the rule's first day. */
  readonly struck: { readonly rule: string; readonly price: Dec | null; readonly began: Day | null } | null;
}

/** Applies the sets in their order to a line's price; the build-up says of every set which rule held, or that none did. */
export function applyRules(sets: readonly RuleSet[], c: RuleContext): Outcome<RuleResult> {
  const result = {
    touched: false,
    free: null as RuleResult['free'],
    asks: [] as string[],
    refuses: [] as string[],
    charges: [] as RuleCharge[],
    floors: [] as FloorTerms[],
    struck: null as RuleResult['struck'],
  };
  for (const set of sets) {
    if (!set.active) continue;
    let held = 0;
    const losers: { name: string; why: string }[] = [];
    for (const rule of set.rules) {
      if (held > 0 && set.mode === 'first') {
        losers.push({ name: rule.name, why: 'an earlier rule of the set held' });
        continue;
      }
      if (!onDay(rule, c.day)) losers.push({ name: rule.name, why: 'not valid on this day' });
      else if (!holds(rule.when, c.fact)) losers.push({ name: rule.name, why: 'its condition does not hold' });
      else {
        held++;
        const done = applyRule(set, rule, c, result);
        if (!done.ok) return done;
      }
    }
    if (held === 0) {
      c.line.apply({
        kind: 'rule',
        operation: { op: 'plus', value: '0' },
        currency: c.currency,
        per: 'pack',
        rule: { kind: 'rule', id: set.id, version: set.version, name: set.name },
        facts: { held: 'no rule of the set' },
        lost: losers,
      });
    }
  }
  return figure(result);
}

type Mutable = { -readonly [K in keyof RuleResult]: RuleResult[K] };

function applyRule(set: RuleSet, rule: AttributeRule, c: RuleContext, out: Mutable): Outcome<void> {
  const { id, version, name } = set;
  const ref: RuleRef = { kind: 'rule', id, version, name, part: rule.id, partName: rule.name };
  const add = (
    operation: Operation | null,
    effect: Effect,
    flag?: 'asks_approval' | 'refused',
    more: Readonly<Record<string, string>> = {},
  ) =>
    c.line.apply({
      kind: 'rule',
      operation: operation ?? { op: 'plus', value: '0' },
      currency: c.currency,
      per: 'pack',
      rule: ref,
      facts: { rule: rule.name, effect: describeEffect(effect), ...more },
      ...(flag ? { flag } : {}),
    });
  for (const effect of rule.effects) {
    const operation = operationOf(effect, rule, c);
    if (!operation.ok) return operation;
    if (operation.value) {
      out.touched = true;
      add(operation.value, effect);
      const sold = c.line.prices.map((p) => p.minus(c.deposit));
      if (sold.some((goods) => goods.lt(0)))
        return refusal('price_not_positive', c.path, { price: plain(settle(c.line.d.figure.minus(c.deposit))) });
      if (sold.some((goods) => goods.isZero()) && !rule.zeroConfirmed)
        return refusal('zero_not_confirmed', c.path, { item: c.item.sku });
      continue;
    }
    switch (effect.kind) {
      case 'set_price':
        add(null, effect, undefined, { 'not applied': 'the price is for another pack' });
        break;
      case 'ask':
        out.asks = [...out.asks, rule.name];
        add(null, effect, 'asks_approval');
        break;
      case 'refuse':
        out.refuses = [...out.refuses, rule.name];
        add(null, effect, 'refused');
        break;
      case 'free_units':
        out.free = { buy: dec(effect.buy), free: dec(effect.free), rule: ref };
        add(null, effect);
        break;
      case 'charge': {
        const amount = c.inListCurrency(effect.value, effect.currency);
        if (!amount.ok) return amount;
        const nth = out.charges.filter((o) => o.rule === rule.id || o.rule.startsWith(`${rule.id}-`)).length;
        out.charges = [
          ...out.charges,
          {
            rule: nth === 0 ? rule.id : `${rule.id}-${nth + 1}`,
            name: effect.name,
            amount: amount.value,
            taxClass: effect.taxClass,
          },
        ];
        add(null, effect);
        break;
      }
      case 'struck_price': {
        const price = effect.value ? c.inListCurrency(effect.value, effect.currency) : figure(null);
        if (!price.ok) return price;
        out.struck = { rule: rule.name, price: price.value, began: rule.from ?? null };
        add(null, effect);
        break;
      }
      case 'floor':
        out.floors = [
          ...out.floors,
          {
            id: rule.id,
            version: set.version,
            name: rule.name,
            kind: effect.floor,
            value: effect.value,
            currency: effect.currency ?? null,
            outcome: effect.outcome,
            active: true,
          },
        ];
        add(null, effect);
    }
  }
  return figure(undefined);
}

/** Whether a price that a rule sets is for the line's pack. A rule that names packs in its condition means those. */
const reachesPack = (effect: SetPrice, rule: AttributeRule, c: RuleContext): boolean =>
  namesPack(rule.when) || exactPriceReaches({ perUnit: effect.perUnit }, c.packs, c.pack);

type SetPrice = Extract<Effect, { kind: 'set_price' }>;

/** What an effect does to the price of the goods; null: it is not about the price. */
function operationOf(effect: Effect, rule: AttributeRule, c: RuleContext): Outcome<Operation | null> {
  const deposit = plain(c.deposit);
  switch (effect.kind) {
    case 'percent':
      return figure({ op: 'goods', change: 'percent_more', value: effect.value, deposit });
    case 'multiply':
      return figure({ op: 'goods', change: 'multiply', value: effect.value, deposit });
    case 'divide':
      return dec(effect.value).isZero()
        ? refusal('divide_by_zero', c.path, { rule: rule.name })
        : figure({ op: 'goods', change: 'divide', value: effect.value, deposit });
    case 'amount': {
      const amount = c.inListCurrency(effect.value, effect.currency);
      return amount.ok ? figure({ op: 'goods', change: 'amount_more', value: plain(amount.value), deposit }) : amount;
    }
    case 'set_price': {
      if (!reachesPack(effect, rule, c)) return figure(null);
      const price = c.inListCurrency(plain(exactPriceOf(effect.value, effect.perUnit, c.pack)), effect.currency);
      return price.ok ? figure({ op: 'set', value: plain(price.value.plus(c.deposit)) }) : price;
    }
    default:
      return figure(null);
  }
}

/** An effect in words. */
export function describeEffect(effect: Effect): string {
  switch (effect.kind) {
    case 'percent':
      return `${effect.value} %`;
    case 'amount':
      return `${effect.value} ${effect.currency ?? ''} added`.replace('  ', ' ');
    case 'multiply':
      return `multiplied by ${effect.value}`;
    case 'divide':
      return `divided by ${effect.value}`;
    case 'set_price':
      return `price set to ${[effect.value, effect.currency, effect.perUnit ? 'per unit' : null].filter(Boolean).join(' ')}`;
    case 'charge':
      return `charge line "${effect.name}" of ${effect.value} ${effect.currency ?? ''}`.trim();
    case 'floor':
      return `floor: ${effect.floor.replaceAll('_', ' ')} ${effect.value}, ${effect.outcome}`;
    case 'free_units':
      return `of every ${dec(effect.buy).plus(effect.free).toFixed()} units ${effect.free} free`;
    case 'struck_price':
      return `earlier price struck: ${effect.value ? `${effect.value} ${effect.currency ?? ''}`.trim() : 'the lowest of the ledger'}`;
    case 'ask':
      return 'asks approval';
    case 'refuse':
      return 'refuses the line';
  }
}
