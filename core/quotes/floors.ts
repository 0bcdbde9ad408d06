import { type Dec, ONE, dec, settle, share } from '../numbers/decimal.ts';
import { type Outcome, wording } from '../reasons.ts';
import { netAtMargin } from '../recipes/markup.ts';
import type { Item } from '../items/item.ts';
import type { ItemsView } from '../items/view.ts';
import { fits } from '../items/scope.ts';

export const FLOOR_KINDS = ['margin', 'markup', 'amount', 'percent_of_list', 'map'] as const;
export type FloorKind = (typeof FLOOR_KINDS)[number];
export const FLOOR_OUTCOMES = ['lift', 'ask', 'refuse'] as const;
export type FloorOutcome = (typeof FLOOR_OUTCOMES)[number];

/** The least a quote line may be sold for. */
export interface FloorTerms {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  readonly kind: FloorKind;
  /** Per cent, or an amount net per pack in `currency`; not used for MAP. */
  readonly value: string;
  readonly currency?: string | null;
  readonly item?: string | null;
  readonly category?: string | null;
  readonly brand?: string | null;
  readonly attributes?: Readonly<Record<string, string>> | null;
  /** Only where the line is sold through this channel. */
  readonly channel?: string | null;
  readonly group?: string | null;
  /** Quantities of the line: from inclusive, up to exclusive. */
  readonly quantity?: { readonly from: string; readonly upTo?: string | null } | null;
  readonly outcome: FloorOutcome;
  readonly active: boolean;
}

export interface FloorFacts {
  readonly item: Item;
  readonly buyer: { readonly groups: readonly string[]; readonly channel: string | null };
  readonly quantity: Dec;
  /** Landed per pack in the quote's currency, or why it is not known. */
  readonly cost: Outcome<Dec>;
  /** Net list price per pack before breaks and reductions. */
  readonly listNet: Dec;
  /** MAP net per pack in the quote's currency. */
  readonly mapNet: Dec | null;
  readonly inQuoteCurrency: (value: string, currency: string) => Dec | null;
}

export interface FloorFigure {
  readonly floor: FloorTerms;
  /** Net unit price per pack, quote's currency; as exact as it comes: it is settled where it decides. */
  readonly at: Dec;
  /** Whether cost could be worked out from it. */
  readonly fromCost: boolean;
}

/**
 * Every floor that reaches a line, as a net unit price, the highest first (of two equally high the stricter outcome); and
 * those that cannot be worked out, with why.
 */
export function floorsFor(
  ws: ItemsView,
  floors: readonly FloorTerms[],
  facts: FloorFacts,
): { figures: FloorFigure[]; notApplied: { id: string; name: string; why: string }[] } {
  const figures: FloorFigure[] = [];
  const notApplied: { id: string; name: string; why: string }[] = [];
  for (const floor of floors) {
    if (!floor.active || !floorReaches(ws, floor, facts)) continue;
    const at = floorFigure(floor, facts);
    const fromCost = floor.kind === 'margin' || floor.kind === 'markup';
    if (typeof at === 'string') notApplied.push({ id: floor.id, name: floor.name, why: at });
    else figures.push({ floor, at, fromCost });
  }
  const strict = (f: FloorFigure) => FLOOR_OUTCOMES.indexOf(f.floor.outcome);
  figures.sort((a, b) => settle(b.at).cmp(settle(a.at)) || strict(b) - strict(a));
  return { figures, notApplied };
}

function floorReaches(ws: ItemsView, floor: FloorTerms, { item, buyer, quantity }: FloorFacts): boolean {
  if (floor.group && !buyer.groups.includes(floor.group)) return false;
  if (floor.quantity) {
    const { from, upTo = null } = floor.quantity;
    if (quantity.lt(from) || (upTo !== null && quantity.gte(upTo))) return false;
  }
  return fits(ws, floor, item, null, buyer.channel ? [buyer.channel] : []);
}

/** A figure, or why there is none. */
function floorFigure(floor: FloorTerms, facts: FloorFacts): Dec | string {
  const value = dec(floor.value);
  switch (floor.kind) {
    case 'margin':
    case 'markup': {
      if (!facts.cost.ok) return wording(facts.cost.reason);
      if (floor.kind === 'markup') return facts.cost.value.times(ONE.plus(share(value)));
      return netAtMargin(facts.cost.value, value) ?? 'a margin of 100 % or more is not possible';
    }
    case 'amount':
      return facts.inQuoteCurrency(floor.value, floor.currency ?? '') ?? `no exchange rate for ${floor.currency}`;
    case 'percent_of_list':
      return facts.listNet.times(share(value));
    case 'map':
      return facts.mapNet ?? 'the item has no MAP';
  }
}
