import type { Day } from '../../numbers/day.ts';
import type { FloorKind, FloorOutcome } from '../floors.ts';

export const OPERATORS = [
  'is',
  'is_not',
  'one_of',
  'at_least',
  'more_than',
  'at_most',
  'less_than',
  'from_up_to',
  'contains',
  'is_empty',
] as const;
export type Operator = (typeof OPERATORS)[number];

/** The facts a condition can ask for besides `item.attributes.NAME` and the same of customer, quote and line. */
export const FACTS = [
  'item.sku',
  'item.name',
  'item.unit',
  'item.category',
  'item.brand',
  'item.model',
  'item.supplier',
  'item.weight',
  'customer.id',
  'customer.group',
  'customer.country',
  'quote.day',
  'quote.list',
  'quote.region',
  'quote.country',
  'quote.channel',
  'line.quantity',
  'line.weight',
  'line.pack',
  'line.section',
  'line.list_price',
  'line.price',
  'line.margin',
  'line.markup',
] as const;

/** One fact held against a value. A fact that is missing fulfils only "is empty" and "is not". */
export interface Test {
  readonly fact: string;
  readonly operator: Operator;
  /** Numbers as exact decimals, days as ISO 8601. Not used by "one of", "from … up to" and "is empty". */
  readonly value?: string | null;
  readonly values?: readonly string[] | null;
  /** Inclusive. */
  readonly from?: string | null;
  /** Exclusive. */
  readonly upTo?: string | null;
}

export type Condition =
  | Test
  | { readonly all: readonly Condition[] }
  | { readonly any: readonly Condition[] }
  | { readonly none: readonly Condition[] };

export const EFFECT_KINDS = [
  'percent',
  'amount',
  'multiply',
  'divide',
  'set_price',
  'charge',
  'floor',
  'free_units',
  'struck_price',
  'ask',
  'refuse',
] as const;

/** What a rule does to a line. Prices and amounts: of the goods, per pack, as the list shows prices; the deposit is left alone. */
export type Effect =
  /** Per cent added; −5 takes off 5 %. */
  | { readonly kind: 'percent'; readonly value: string }
  | { readonly kind: 'amount'; readonly value: string; readonly currency?: string | null }
  | { readonly kind: 'multiply' | 'divide'; readonly value: string }
  /** For the pack that the rule's condition names, per unit for every pack (times its units), else for the base pack alone. */
  | {
      readonly kind: 'set_price';
      readonly value: string;
      readonly currency?: string | null;
      readonly perUnit?: boolean;
    }
  /** A line of its own on the quote; the amount as the list shows prices. */
  | {
      readonly kind: 'charge';
      readonly name: string;
      readonly value: string;
      readonly currency?: string | null;
      readonly taxClass: string;
    }
  | {
      readonly kind: 'floor';
      readonly floor: FloorKind;
      readonly value: string;
      readonly currency?: string | null;
      readonly outcome: FloorOutcome;
    }
  /** Of every `buy` + `free` units on the line, `free` cost nothing but their deposit. */
  | { readonly kind: 'free_units'; readonly buy: string; readonly free: string }
  /** Proposes an earlier price to be struck; the ledger decides. `value`: an announced one; absent: the lowest it knows. */
  | { readonly kind: 'struck_price'; readonly value?: string | null; readonly currency?: string | null }
  | { readonly kind: 'ask' | 'refuse' };

export interface AttributeRule {
  readonly id: string;
  readonly name: string;
  /** Absent: always. */
  readonly when?: Condition | null;
  readonly effects: readonly Effect[];
  /** Goods for nothing are meant. */
  readonly zeroConfirmed?: boolean;
  readonly from?: Day | null;
  readonly to?: Day | null;
}

export const RULE_MODES = ['first', 'every'] as const;

/** Rules in their order. `first`: the first that holds wins; `every`: all that hold, in order, each on what the one before left. */
export interface RuleSet {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  readonly active: boolean;
  readonly mode: (typeof RULE_MODES)[number];
  readonly rules: readonly AttributeRule[];
}

/** Whether a condition holds for packs of named kinds only. */
export function namesPack(when: Condition | null | undefined): boolean {
  if (!when) return false;
  if ('all' in when) return when.all.some(namesPack);
  if ('any' in when) return when.any.length > 0 && when.any.every(namesPack);
  if ('none' in when) return false;
  return when.fact === 'line.pack' && (when.operator === 'is' || when.operator === 'one_of');
}
