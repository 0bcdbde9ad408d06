import type { Derivation, RuleRef } from '../../buildup/steps.ts';
import { onDay } from '../../lists/entries.ts';
import { type Dec, ONE, dec, divide, plain, share } from '../../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../../reasons.ts';
import type { Day } from '../../workspace/index.ts';
import type { FloorTerms } from '../floors.ts';
import { type FactOf, holds } from './condition.ts';
import type { AttributeRule, Effect, RuleSet } from './rule.ts';

export interface RuleContext {
  readonly d: Derivation;
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
      c.d.add({
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
  const ref: RuleRef = { kind: 'rule', id: set.id, version: set.version, name: set.name, part: rule.id };
  const add = (after: Dec | null, effect: Effect, flag?: 'asks_approval' | 'refused') =>
    c.d.add({
      kind: 'rule',
      operation: after ? { op: 'set', value: plain(after) } : { op: 'plus', value: '0' },
      currency: c.currency,
      per: 'pack',
      rule: ref,
      facts: { rule: rule.name, effect: describeEffect(effect) },
      ...(flag ? { flag } : {}),
    });
  for (const effect of rule.effects) {
    const goods = c.d.figure.minus(c.deposit);
    const price = newGoods(effect, goods, rule, c);
    if (!price.ok) return price;
    if (price.value) {
      if (price.value.lt(0)) return refusal('price_not_positive', c.path, { price: plain(price.value) });
      out.touched = true;
      add(price.value.plus(c.deposit), effect);
      continue;
    }
    switch (effect.kind) {
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
        out.charges = [
          ...out.charges,
          { rule: rule.id, name: effect.name, amount: amount.value, taxClass: effect.taxClass },
        ];
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

/** What an effect makes of the price of the goods; null: it is not about the price. */
function newGoods(effect: Effect, goods: Dec, rule: AttributeRule, c: RuleContext): Outcome<Dec | null> {
  switch (effect.kind) {
    case 'percent':
      return figure(goods.times(ONE.plus(share(dec(effect.value)))));
    case 'multiply':
      return figure(goods.times(effect.value));
    case 'divide': {
      const by = dec(effect.value);
      return by.isZero() ? refusal('divide_by_zero', c.path, { rule: rule.name }) : figure(divide(goods, by));
    }
    case 'amount': {
      const amount = c.inListCurrency(effect.value, effect.currency);
      return amount.ok ? figure(goods.plus(amount.value)) : amount;
    }
    case 'set_price': {
      const price = c.inListCurrency(effect.value, effect.currency);
      return price.ok ? figure(price.value.minus(c.deposit)) : price;
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
      return `price set to ${effect.value} ${effect.currency ?? ''}`.trim();
    case 'charge':
      return `charge line "${effect.name}" of ${effect.value} ${effect.currency ?? ''}`.trim();
    case 'floor':
      return `floor: ${effect.floor.replaceAll('_', ' ')} ${effect.value}, ${effect.outcome}`;
    case 'free_units':
      return `of every ${dec(effect.buy).plus(effect.free).toFixed()} units ${effect.free} free`;
    case 'ask':
      return 'asks approval';
    case 'refuse':
      return 'refuses the line';
  }
}
