import type { AmountText } from '../numbers/amount.ts';
import { type Dec, dec, max, min, share } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { Item } from '../items/item.ts';
import type { ItemsView } from '../items/view.ts';
import { type Scope, fits } from '../items/scope.ts';

export const CHARGE_PERIODS = ['month', 'year'] as const;
export type ChargePeriod = (typeof CHARGE_PERIODS)[number];

/** A line priced as a share of the net total of the lines it covers, with a least and a most. */
export interface ProportionalCharge {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  /** Of the net total of the covered lines after reductions, without tax and deposit. */
  readonly percent: string;
  readonly least?: AmountText | null;
  readonly most?: AmountText | null;
  readonly taxClass: string;
  /** Rate, least and most are for a month or a year; absent: once. */
  readonly period?: ChargePeriod | null;
  /** The items whose lines are covered: those that any of these holds. Empty, without other charges either: all lines. */
  readonly covers: readonly Scope[];
  /** Other charges that are covered too; never itself. */
  readonly coversCharges?: readonly string[];
}

export function covers(
  ws: ItemsView,
  charge: ProportionalCharge,
  item: Item,
  pack: string,
  channels: readonly string[],
): boolean {
  if (charge.covers.length === 0) return !charge.coversCharges?.length;
  return charge.covers.some((scope) => fits(ws, scope, item, pack, channels));
}

/** Net, unrounded: `percent` of what is covered, not under the least and not over the most; the most wins a conflict. */
export function chargeOn(percent: string, covered: Dec, least: Dec | null, most: Dec | null): Dec {
  const asked = covered.times(share(dec(percent)));
  const lifted = least ? max(asked, least) : asked;
  return most ? min(lifted, most) : lifted;
}

/** Charges so that each comes after those it covers; refuses a circle. */
export function inOrder<T extends Pick<ProportionalCharge, 'id' | 'name' | 'coversCharges'>>(
  charges: readonly T[],
): Outcome<readonly T[]> {
  const out: T[] = [];
  const waiting: T[] = [];
  const visit = (charge: T): Outcome<void> => {
    if (out.includes(charge)) return figure(undefined);
    if (waiting.includes(charge)) {
      const circle = [...waiting.slice(waiting.indexOf(charge)), charge];
      return refusal('charges_in_a_circle', `charges/${charge.id}`, { charges: circle.map((c) => c.name).join(' → ') });
    }
    waiting.push(charge);
    for (const other of charges) {
      if (!charge.coversCharges?.includes(other.id)) continue;
      const found = visit(other);
      if (!found.ok) return found;
    }
    waiting.pop();
    out.push(charge);
    return figure(undefined);
  };
  for (const charge of charges) {
    const found = visit(charge);
    if (!found.ok) return found;
  }
  return figure(out);
}
