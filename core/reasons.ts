import { dec, plain } from './numbers/decimal.ts';

/** Every reason why there is no figure, each with its wording and the names of its parameters. */
export const REASONS = {
  no_cost: 'No cost is known for {item} on {day}.',
  no_exchange_rate: 'No exchange rate from {from} to {to} is known for {day}.',
  no_weight: 'Freight goes by weight, and {item} has no weight.',
  no_weight_for_add_on: 'The add-on "{addOn}" goes by weight, and {item} has no weight.',
  no_weight_band: 'No weight band of the add-on "{addOn}" holds {item} with {weight} kg.',
  no_weight_for_break: 'The breaks "{table}" count weight, and {item} has none.',
  no_rrp: '{item} has no recommended retail price.',
  no_recipe: 'No recipe of the list {list} reaches {item}.',
  no_uplift_row: 'No row of the uplift table of {recipe} reaches {item}.',
  uplift_rows_tie: 'Two rows of the uplift table of {recipe} are equally specific for {item}: {rows}.',
  no_ladder: 'The ladder {ladder} does not exist.',
  margin_too_high: 'A margin of {percent} % is not possible: it must be less than 100 %.',
  markup_without_cost: '{item} costs 0: a {kind} gives no price.',
  guard_without_cost: 'The guard "{guard}" needs a cost, and {item} has none on {day}.',
  price_not_positive: 'Without its deposit the price comes to {price}: it must be more than 0.',
  no_price_on_list: '{item} has no price on the list {list} on {day}.',
  no_current_price: '{item} has no posted price on {list} yet.',
  lists_in_a_circle: 'The lists {lists} are priced from each other in a circle.',
  no_list: 'No price list is meant for {customer} on {day}.',
  not_sold_to: '{item} is not sold from the list {list}, which comes first for this buyer.',
  zero_not_confirmed: 'The price of 0 for {item} is not confirmed.',
  unknown_item: 'The item {item} does not exist.',
  unknown_pack: '{item} has no pack {pack}.',
  unknown_list: 'The list {list} does not exist.',
  no_was_price: 'No price of {item} was posted on {list} in the 30 days before {day}.',
  unknown_customer: 'The customer {customer} does not exist.',
  unknown_group: 'The customer group {group} does not exist.',
  unknown_region: 'The region {region} does not exist.',
  unknown_charge: 'The proportional charge {charge} does not exist.',
  country_in_two_regions: 'The country {country} is in two regions of which neither lies in the other: {regions}.',
  no_reason_for_region: 'Another region than that of the country needs a reason.',
  no_tax_rate: 'No tax rate of the class {taxClass} is known for {day}.',
  quantity_not_positive: 'The quantity {quantity} must be more than 0.',
  quantity_below_least: 'At least {least} must be ordered; the nearest allowed quantities are {allowed}.',
  quantity_above_most: 'At most {most} can be ordered; the nearest allowed quantities are {allowed}.',
  quantity_off_step: 'The quantity goes in steps of {step}; the nearest allowed quantities are {allowed}.',
  rule_refuses: 'The rule "{rule}" refuses the line.',
  divide_by_zero: 'The rule "{rule}" divides by 0.',
  reduction_too_high: 'The lines can give {possible} in all without breaking a floor; {asked} was asked.',
  charges_in_a_circle: 'The charges {charges} cover each other in a circle.',
  goal_out_of_reach: 'There is no way to {goal}: {best}.',
  floor_refuses: 'The floor "{floor}" refuses {price}: the least is {least}.',
} as const;

export type ReasonCode = keyof typeof REASONS;

/** What a reason may add: since when, or what would count without what is in the way. */
export const OTHERWISE = {
  taken_off: 'It was taken off the list from {day} on.',
  next_supplier: 'Without {supplier} the landed cost of {next} would count: {landed} a unit.',
} as const;

/** Why there is no figure: what is wrong, where, and with which values. */
export interface Reason {
  readonly code: ReasonCode;
  readonly path: string;
  readonly params: Readonly<Record<string, string>>;
  readonly otherwise?: { readonly code: keyof typeof OTHERWISE; readonly params: Readonly<Record<string, string>> };
}

export type Outcome<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly reason: Reason };

export function figure<T>(value: T): Outcome<T> {
  return { ok: true, value };
}

export function refusal(
  code: ReasonCode,
  path: string,
  params: Record<string, string> = {},
): { ok: false; reason: Reason } {
  return { ok: false, reason: { code, path, params } };
}

/** Digits that a message shows at most: what was divided has fifty, and nobody reads them. */
const MOST_DIGITS = 12;

/** A figure of a message, rounded to twelve digits where it has a fraction and more of them. */
function readable(text: string): string {
  return text.replace(/\d+\.\d+/g, (number) => {
    if (number.length - 1 <= MOST_DIGITS) return number;
    return plain(dec(number).toSignificantDigits(MOST_DIGITS));
  });
}

const fill = (sentence: string, params: Readonly<Record<string, string>>): string =>
  sentence.replace(/\{(\w+)\}/g, (_, name: string) => readable(params[name] ?? '?'));

/** A reason as a sentence; no figure in it has more than twelve digits. */
export function wording(reason: Reason): string {
  const sentence = fill(REASONS[reason.code], reason.params);
  const { otherwise } = reason;
  return otherwise ? `${sentence} ${fill(OTHERWISE[otherwise.code], otherwise.params)}` : sentence;
}
