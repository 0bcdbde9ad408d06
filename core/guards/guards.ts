import { type Dec, ONE, dec, roundDown, roundUp, settle, share } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { GuardKind, GuardTerms } from '../recipes/recipe.ts';
import { netAtMargin } from '../recipes/markup.ts';
import type { Ladder } from '../rounding/ladder.ts';
import { largestRestingPrice, smallestRestingPrice } from '../rounding/resting-prices.ts';

const FLOORS: ReadonlySet<GuardKind> = new Set([
  'not_below_cost',
  'least_markup',
  'least_margin',
  'least_price',
  'map',
  'raise_only',
]);

export const GUARD_NAMES: Readonly<Record<GuardKind, string>> = {
  not_below_cost: 'not below cost',
  least_markup: 'least markup',
  least_margin: 'least margin',
  least_price: 'least price',
  map: 'minimum advertised price',
  raise_only: 'raise only',
  rrp: 'not above RRP',
  most_markup: 'most markup',
  most_margin: 'most margin',
  most_price: 'most price',
};

/** What the guards need to know, everything per pack and in the list's currency. */
export interface GuardFacts {
  readonly item: string;
  readonly day: string;
  /** Landed, net; or why it is not known. */
  readonly cost: Outcome<Dec>;
  /** RRP, MAP: as the buyer sees them on this list, or null where the item has none. */
  readonly rrp: Dec | null;
  readonly map: Dec | null;
  /** The posted price now in force on the list. */
  readonly posted: Dec | null;
  readonly advertised: boolean;
  /** Brings a net price to the list's terms: adds deposit and tax. */
  readonly toShown: (net: Dec) => Dec;
  /** Brings an amount to the list's currency; null: no exchange rate. */
  readonly inListCurrency: (value: string, currency: string) => Dec | null;
}

/** A guard brought to the list's own terms. */
export interface Limit {
  /** Unique among the guards of a recipe. */
  readonly id: string;
  readonly kind: GuardKind;
  readonly side: 'floor' | 'ceiling';
  /** As the buyer sees it on the list. */
  readonly at: Dec;
}

/** A guard that cannot be applied to an item, and why. */
export interface NotApplied {
  readonly id: string;
  readonly name: string;
  readonly why: 'no RRP' | 'no MAP';
}

/** The guards of a recipe with ids that are unique among them: their own, else their kind. */
export function withIds(guards: readonly GuardTerms[]): (GuardTerms & { readonly id: string })[] {
  const used = new Set<string>();
  return guards.map((g) => {
    const wanted = g.id ?? g.kind;
    let id = wanted;
    for (let n = 2; used.has(id); n++) id = `${wanted}-${n}`;
    used.add(id);
    return { ...g, id };
  });
}

/** Brings every guard of a recipe to the list's terms. MAP is left out on a list that is not advertised; what an item lacks is named. */
export function limitsOf(
  guards: readonly GuardTerms[],
  facts: GuardFacts,
): Outcome<{ limits: Limit[]; notApplied: NotApplied[] }> {
  const limits: Limit[] = [];
  const notApplied: NotApplied[] = [];
  for (const guard of withIds(guards)) {
    const { id, kind } = guard;
    const at = limitOf(guard, facts);
    if (!at.ok) return at;
    if (at.value !== null)
      limits.push({ id, kind, side: FLOORS.has(kind) ? 'floor' : 'ceiling', at: settle(at.value) });
    else if (kind === 'rrp' || (kind === 'map' && facts.advertised))
      notApplied.push({ id, name: GUARD_NAMES[kind], why: kind === 'rrp' ? 'no RRP' : 'no MAP' });
  }
  return figure({ limits, notApplied });
}

function limitOf(guard: GuardTerms, facts: GuardFacts): Outcome<Dec | null> {
  const path = `guards/${guard.kind}`;
  const percentage = dec(guard.percent ?? '0');
  switch (guard.kind) {
    case 'least_price':
    case 'most_price': {
      if (!guard.amount) return figure(null);
      const at = facts.inListCurrency(guard.amount.amount, guard.amount.currency);
      return at
        ? figure(at)
        : refusal('no_exchange_rate', path, { from: guard.amount.currency, to: 'the list', day: facts.day });
    }
    case 'raise_only':
      return figure(facts.posted);
    case 'map':
      return figure(facts.advertised ? facts.map : null);
    case 'rrp':
      return figure(facts.rrp);
    default: {
      if (!facts.cost.ok) {
        // a cost that is there and cannot be worked out has a reason of its own
        if (facts.cost.reason.code !== 'no_cost') return facts.cost;
        return refusal('guard_without_cost', path, {
          guard: GUARD_NAMES[guard.kind],
          item: facts.item,
          day: facts.day,
        });
      }
      const cost = facts.cost.value;
      if (guard.kind === 'not_below_cost') return figure(facts.toShown(cost));
      if (guard.kind === 'least_markup' || guard.kind === 'most_markup') {
        return figure(facts.toShown(cost.times(ONE.plus(share(percentage)))));
      }
      const net = netAtMargin(cost, percentage);
      return net ? figure(facts.toShown(net)) : refusal('margin_too_high', path, { percent: percentage.toFixed() });
    }
  }
}

export interface Guarded {
  readonly price: Dec;
  /** Every guard the price had crossed, the binding ones first. */
  readonly bit: readonly Limit[];
  readonly flag: 'bit' | 'no_ending_fits' | 'floor_above_ceiling' | null;
  /** With raise only: the price that the posted one would fall to. */
  readonly wouldFallTo: Dec | null;
}

/**
 * Of the floors the highest counts, of the ceilings the lowest; raise only comes last and keeps the posted price
 * itself. docs/arithmetic.md, "Guards".
 */
export function applyGuards(ladder: Ladder, price: Dec, limits: readonly Limit[]): Guarded {
  const floors = limits.filter((l) => l.side === 'floor' && l.kind !== 'raise_only').sort((a, b) => b.at.cmp(a.at));
  const ceilings = limits.filter((l) => l.side === 'ceiling').sort((a, b) => a.at.cmp(b.at));
  const [floor, ceiling] = [floors[0], ceilings[0]];
  const found = between(ladder, price, floor, ceiling);
  const crossed = [...floors.filter((l) => price.lt(l.at)), ...ceilings.filter((l) => price.gt(l.at))];
  const binding = found.flag === null ? [] : found.binding;
  const bit = [...binding, ...crossed.filter((l) => !binding.includes(l))];
  const raise = limits.find((l) => l.kind === 'raise_only');
  if (raise && found.price.lt(raise.at)) {
    const conflict = ceiling && raise.at.gt(ceiling.at);
    return {
      price: raise.at,
      bit: [raise, ...(conflict ? [ceiling] : []), ...bit.filter((l) => l !== ceiling)],
      flag: conflict ? 'floor_above_ceiling' : 'bit',
      wouldFallTo: found.price,
    };
  }
  return { price: found.price, bit, flag: found.flag, wouldFallTo: null };
}

function between(
  ladder: Ladder,
  price: Dec,
  floor: Limit | undefined,
  ceiling: Limit | undefined,
): { price: Dec; flag: Guarded['flag']; binding: Limit[] } {
  const both = [floor, ceiling].filter((l) => l !== undefined);
  if (floor && ceiling && floor.at.gt(ceiling.at)) {
    const resting = smallestRestingPrice(ladder, floor.at) ?? roundUp(floor.at, ladder.decimals);
    return { price: resting, flag: 'floor_above_ceiling', binding: both };
  }
  const noEndingFits = { flag: 'no_ending_fits' as const, binding: both };
  if (floor && price.lt(floor.at)) {
    const resting = smallestRestingPrice(ladder, floor.at);
    if (resting && (!ceiling || resting.lte(ceiling.at))) return { price: resting, flag: 'bit', binding: [floor] };
    return { price: roundUp(floor.at, ladder.decimals), ...noEndingFits };
  }
  if (ceiling && price.gt(ceiling.at)) {
    const resting = largestRestingPrice(ladder, ceiling.at);
    if (resting && (!floor || resting.gte(floor.at))) return { price: resting, flag: 'bit', binding: [ceiling] };
    return {
      price: floor ? roundUp(floor.at, ladder.decimals) : roundDown(ceiling.at, ladder.decimals),
      ...noEndingFits,
    };
  }
  return { price, flag: null, binding: [] };
}
