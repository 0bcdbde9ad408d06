import { type Dec, ONE, dec, settle, share } from '../numbers/decimal.ts';
import { netAtMargin } from '../recipes/markup.ts';
import type { Item, Prepared } from '../workspace/index.ts';
import { fits } from '../workspace/scope.ts';

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
  readonly group?: string | null;
  /** Quantities of the line: from inclusive, up to exclusive. */
  readonly quantity?: { readonly from: string; readonly upTo: string | null } | null;
  readonly outcome: FloorOutcome;
  readonly active: boolean;
}

export interface FloorFacts {
  readonly item: Item;
  readonly groups: readonly string[];
  readonly quantity: Dec;
  /** Landed per pack in the quote's currency; null: unknown. */
  readonly cost: Dec | null;
  /** Net list price per pack before breaks and reductions. */
  readonly listNet: Dec;
  /** MAP net per pack in the quote's currency. */
  readonly mapNet: Dec | null;
  readonly inQuoteCurrency: (value: string, currency: string) => Dec | null;
}

export interface FloorFigure {
  readonly floor: FloorTerms;
  /** Net unit price per pack, quote's currency. */
  readonly at: Dec;
}

/** Every floor that reaches a line, as a net unit price, the highest first. Of two equally high the stricter outcome comes first. */
export function floorsFor(ws: Prepared, floors: readonly FloorTerms[], facts: FloorFacts): FloorFigure[] {
  const out: FloorFigure[] = [];
  for (const floor of floors) {
    if (!floor.active || !floorReaches(ws, floor, facts)) continue;
    const at = floorFigure(floor, facts);
    if (at) out.push({ floor, at: settle(at) });
  }
  const strict = (f: FloorFigure) => FLOOR_OUTCOMES.indexOf(f.floor.outcome);
  return out.sort((a, b) => b.at.cmp(a.at) || strict(b) - strict(a));
}

function floorReaches(ws: Prepared, floor: FloorTerms, { item, groups, quantity }: FloorFacts): boolean {
  if (floor.group && !groups.includes(floor.group)) return false;
  if (floor.quantity) {
    if (quantity.lt(floor.quantity.from)) return false;
    if (floor.quantity.upTo !== null && quantity.gte(floor.quantity.upTo)) return false;
  }
  return fits(ws, floor, item, null);
}

function floorFigure(floor: FloorTerms, facts: FloorFacts): Dec | null {
  const value = dec(floor.value);
  switch (floor.kind) {
    case 'margin':
      return facts.cost ? netAtMargin(facts.cost, value) : null;
    case 'markup':
      return facts.cost ? facts.cost.times(ONE.plus(share(value))) : null;
    case 'amount':
      return facts.inQuoteCurrency(floor.value, floor.currency ?? '');
    case 'percent_of_list':
      return facts.listNet.times(share(value));
    case 'map':
      return facts.mapNet;
  }
}
