/** Everything the check can find, each with its wording. */
export const FINDINGS = {
  rungs_overlap: 'Two rungs of the ladder hold the same prices.',
  rungs_leave_hole: 'No rung of the ladder holds these prices: they are only rounded to the decimals of the list.',
  result_leaves_rung: 'A rung rounds a price out of its own band.',
  uplift_row_never_wins: 'The uplift row decides no price.',
  uplift_rows_equally_specific: 'Two uplift rows are equally specific for the same items: there is no price.',
  uplift_row_missing: 'No uplift row reaches these items: there is no price.',
  price_inversion: 'At the edge of a band an item that costs more sells for less.',
  more_costs_less: 'Where the break begins, more units cost less in all.',
  break_never_reached: 'No quantity that can be ordered reaches the break.',
  rule_conditions_leave_hole: 'Between two rules of the set lies a value that neither holds.',
  rule_conditions_overlap: 'Two rules of the set hold for the same values: the earlier wins.',
  rule_never_wins: 'The rule can never win.',
  floor_above_ceiling: 'A floor of the recipe lies above a ceiling.',
  lists_in_a_circle: 'Lists fall back on, or are priced from, each other in a circle.',
  entries_tie: 'Two entries of the list are equally specific for the same item on the same days.',
  reductions_tie: 'Two reductions are equally specific for the same item on the same days.',
  dated_above_regular: 'A dated price lies above the price without a date.',
  country_in_no_region: 'The country of customers is in no region.',
  country_in_two_regions: 'The country is in two regions of which neither lies in the other.',
  equal_rank_groups: 'Two groups of equal rank share customers.',
  item_without_cost: 'Items have no cost where a recipe needs one.',
  item_without_weight: 'Items have no weight, or none that a band holds, where something goes by weight.',
  item_without_rrp: 'Items have no recommended retail price where a recipe needs one.',
  cost_far_from_siblings: 'The cost of an item stands far from that of the others of its model.',
  charges_in_a_circle: 'Proportional charges cover each other in a circle.',
  currency_without_rate: 'No exchange rate of the currency is known.',
  currency_without_ladder: 'No ladder rounds the prices of the list.',
  tax_class_without_rate: 'No tax rate of the class is known.',
  values_alike: 'Values of items differ only in case, space or unit: a rule that is tied to one misses the others.',
  value_not_declared: 'Items say what is not declared: an attribute, a value, a brand or a tax class.',
  breaks_tie: 'Tables of breaks are equally specific: only one of them counts.',
  default_ladders_tie: 'Ladders are the default of the same currency: only one of them counts.',
  exchange_rates_tie: 'Exchange rates of the same pair begin on the same day: only one of them counts.',
  tax_rates_tie: 'Tax rates of the same class begin on the same day: only one of them counts.',
  categories_in_a_circle: 'Categories lie below each other in a circle.',
  ends_before_it_begins: 'The last day comes before the first: it never applies.',
  rung_holds_nothing: 'The rung ends where it begins, or before: it rounds no price.',
  currency_unknown: 'This currency does not exist.',
  sku_twice: 'Items have the same SKU.',
  pack_names_twice: 'An item has packs of the same name.',
  exact_price_without_pack:
    'An exact price names neither a pack nor the unit: it counts for the base pack alone, and other packs keep their price.',
  hand_set_squeezed: 'A typed price leaves less than its recipe aims at.',
} as const;

export type FindingCode = keyof typeof FINDINGS;
export const FINDING_CODES = Object.keys(FINDINGS) as FindingCode[];

/** One thing that is wrong with a set-up. */
export interface Finding {
  readonly code: FindingCode;
  readonly message: string;
  /** What it is about, as paths into the workspace: `recipes/trade/uplift/7`. */
  readonly places: readonly string[];
  /** How many items it touches. */
  readonly items: number;
  /** How many customers it touches, where it is about them. */
  readonly customers?: number;
  /** One case with its figures; amounts as exact decimals. */
  readonly example: Readonly<Record<string, string>>;
}

export function finding(
  code: FindingCode,
  places: readonly string[],
  items: number,
  example: Record<string, string>,
  customers?: number,
): Finding {
  return { code, message: FINDINGS[code], places, items, example, ...(customers === undefined ? {} : { customers }) };
}
