import type { GoodsChange } from '#core/buildup/goods-change.ts';
import type { Operation, RuleRef, Step, StepKind } from '#core/buildup/steps.ts';
import { type NumberForm, show, shorten } from '../kit/number-form.ts';

export const STEP_NAMES: Record<StepKind, string> = {
  cost: 'cost',
  unit_cost: 'per unit',
  exchange: 'exchanged',
  freight: 'freight',
  duty: 'duty',
  handling: 'handling',
  overhead: 'overhead',
  order_fee: 'share of the order’s fee',
  basis: 'basis',
  pack: 'pack',
  uplift: 'uplift',
  add_on: 'add-on',
  deposit: 'deposit',
  tax: 'tax',
  ladder: 'ladder',
  decimals: 'rounded',
  guard: 'guard',
  hand_set: 'typed price',
  list_price: 'list price',
  entry: 'entry of the list',
  fall_back: 'from the parent list',
  reduction: 'reduction',
  break: 'quantity break',
  rule: 'attribute rule',
  free_units: 'free units',
  manual_reduction: 'reduced by hand',
  quote_reduction: 'share of the reduction',
  floor: 'floor',
  line_total: 'line total',
  charge: 'charge',
  charged_before: 'charged before',
};

const GOODS_WORDS: Record<GoodsChange, (value: string) => string> = {
  percent_off: (v) => `− ${v} %`,
  amount_off: (v) => `− ${v}`,
  percent_more: (v) => `+ ${v} %`.replace('+ -', '− '),
  amount_more: (v) => `+ ${v}`.replace('+ -', '− '),
  multiply: (v) => `× ${v}`,
  divide: (v) => `÷ ${v}`,
};

const signed = (value: string, n: (text: string) => string): string =>
  value.startsWith('-') ? `− ${n(value.slice(1))}` : `+ ${n(value)}`;

/** What the step does, as a bookkeeper would write it in the margin. */
export function operationWords(operation: Operation, form: NumberForm): string {
  const n = (text: string) => show(shorten(text, 6), form);
  switch (operation.op) {
    case 'start':
      return '';
    case 'plus':
      return operation.value.startsWith('-')
        ? `− ${n(operation.value.slice(1))}`
        : operation.value === '0'
          ? ''
          : `+ ${n(operation.value)}`;
    case 'times':
      return `× ${n(operation.value)}`;
    case 'divide':
      return `÷ ${n(operation.value)}`;
    case 'set':
      return '';
    case 'round':
      return `to ${operation.decimals} decimals`;
    case 'ladder': {
      const { rung } = operation;
      const ends = rung.endings.map((e) => n(e)).join(' or ');
      const direction = {
        nearest: 'nearest',
        up: 'up',
        down: 'down',
        cuts: `down before ${n(rung.downUntil ?? '0')}, up from ${n(rung.upFrom ?? '0')}`,
      }[rung.direction];
      const offset = rung.offset && !/^-?0(\.0+)?$/.test(rung.offset) ? `, then ${signed(rung.offset, n)}` : '';
      return `${direction}: ends ${ends} in steps of ${n(rung.step)}${offset}`;
    }
    case 'goods':
      return GOODS_WORDS[operation.change](n(operation.value));
    case 'slices':
      return operation.slices.map((s) => `${n(s.quantity)} at ${n(s.price)}`).join(', ');
    case 'total':
      return `× ${n(operation.quantity)}`;
    case 'total_of_slices':
      return 'sum of the slices';
  }
}

export const FLAG_WORDS: Record<NonNullable<Step['flag']>, string> = {
  bit: 'changed the price',
  no_ending_fits: 'no ending fits between the guards',
  floor_above_ceiling: 'a floor lies above a ceiling: decide by hand',
  hand_set: 'typed price',
  asks_approval: 'needs approval',
  refused: 'refused',
  dated_above_regular: 'above the price without a date',
};

/** Where a rule can be opened. */
export function ruleAddress({ kind, rule }: Step): string | null {
  if (!rule) return null;
  if (kind === 'entry' && rule.part) return `/setup/entries?open=${rule.part}`;
  return ADDRESSES[rule.kind]?.(rule.id) ?? null;
}

const inSetup = (register: string) => (id: string) => `/setup/${register}?open=${id}`;
/** Where the record is opened that a step names. */
const ADDRESSES: Partial<Record<RuleRef['kind'], (id: string) => string>> = {
  recipe: (id) => `/recipes/${id}`,
  ladder: (id) => `/ladders/${id}`,
  list: (id) => `/lists/${id}`,
  posting: (id) => `/ledger/${id}`,
  item: (id) => `/items/${id}`,
  supplier: inSetup('suppliers'),
  landed: inSetup('landed'),
  rate: () => '/setup/exchange-rates',
  tax: () => '/setup/tax-rates',
  break: inSetup('breaks'),
  floor: inSetup('floors'),
  reduction: inSetup('reductions'),
  rule: inSetup('rules'),
  charge: inSetup('charges'),
  lockstep: inSetup('lockstep'),
};
