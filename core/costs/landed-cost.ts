import { Derivation, type Lost, type RuleRef, type Step } from '../buildup/steps.ts';
import type { AmountText } from '../numbers/amount.ts';
import { type Dec, dec, divide, plain, settle, share } from '../numbers/decimal.ts';
import { type Outcome, type Reason, figure, refusal, wording } from '../reasons.ts';
import type { Cost, CostSide, LandedTerms, QuantityPrice, Supplier, SupplierChoice } from './cost.ts';
import type { Day } from '../numbers/day.ts';
import type { Item } from '../items/item.ts';
import type { CostsView } from './view.ts';
import { exchangeOn } from './exchange.ts';
import { landedTermsOf } from './landed-terms.ts';

/** What one unit of an item costs, in the workspace's currency, tax out. */
export interface LandedCost {
  /** Bare cost per unit. */
  readonly unit: Dec;
  /** With freight, duty, handling, overhead and its share of an order's fee. Never rounded. */
  readonly landed: Dec;
  readonly cost: Cost;
  readonly supplier: Supplier;
  readonly steps: readonly Step[];
}

/** The later by its day; of one day the later entered. */
function later(a: Cost | null, b: Cost): Cost {
  return a === null || b.from > a.from || (b.from === a.from && b.entry > a.entry) ? b : a;
}

/**
 * The cost that counts on a day among those of one supplier: the one whose day has begun last, of one day the later
 * entered. A typed one holds, until it is released, against files and connections entered after it; a later day that was
 * known already, a bill or another typed cost displaces it by its day, and then it holds no longer.
 */
export function costOn(costs: readonly Cost[], day: Day): Cost | null {
  const begun = costs.filter((c) => c.from <= day && (!c.to || c.to >= day || Boolean(c.reduced)));
  const typed = begun.filter((c) => c.origin === 'typed').reduce(later, null);
  if (typed && !typed.released) {
    const held = (c: Cost) => (c.origin === 'file' || c.origin === 'connection') && c.entry > typed.entry;
    if (begun.filter((c) => !held(c)).reduce(later, null) === typed) return typed;
  }
  return begun.reduce(later, null);
}

/** The supplier's price for as many cost packs as are ordered at once; null: none begins at so few. */
export function quantityPriceOf({ quantityPrices }: Pick<Cost, 'quantityPrices'>, ordered: string | null | undefined) {
  if (!ordered || !quantityPrices) return null;
  const reached = quantityPrices.filter((q) => dec(q.from).lte(ordered));
  return reached.reduce<QuantityPrice | null>((best, q) => (best && dec(best.from).gte(q.from) ? best : q), null);
}

type Asked = Pick<Cost, 'cost' | 'reduced' | 'to' | 'quantityPrices'>;

/**
 * What a cost pack costs on a day where so many are ordered at once. The usual cost is the supplier's price for that
 * quantity; what is paid is the reduced one until its last day, unless the quantity alone makes it cheaper in its currency.
 */
export function askedOn(cost: Asked, day: Day, side: CostSide, ordered: string | null | undefined): AmountText {
  const forMore = quantityPriceOf(cost, ordered);
  const usual = forMore ? { amount: forMore.cost, currency: cost.cost.currency } : cost.cost;
  const { reduced, to } = cost;
  if (side === 'usual' || !reduced || (to && to < day)) return usual;
  return forMore && reduced.currency === usual.currency && dec(usual.amount).lt(reduced.amount) ? usual : reduced;
}

interface Part {
  readonly d: Derivation;
  readonly rule: RuleRef;
  readonly currency: string;
}

function addPart({ d, rule, currency }: Part, kind: Step['kind'], value: Dec, facts: Record<string, string>): void {
  if (!value.isZero())
    d.add({ kind, operation: { op: 'plus', value: plain(value) }, currency, per: 'unit', rule, facts }, value);
}

function inOwnCurrency(
  ws: CostsView,
  a: AmountText,
  day: Day,
  path: string,
): Outcome<{ value: Dec; facts: Readonly<Record<string, string>> }> {
  const own = ws.workspace.currency;
  if (a.currency === own) return figure({ value: dec(a.amount), facts: {} });
  const x = exchangeOn(ws, a.currency, own, day);
  return x
    ? figure({ value: dec(a.amount).times(x.factor), facts: x.facts })
    : refusal('no_exchange_rate', path, { from: a.currency, to: own, day });
}

/** Landed cost of one unit from one supplier: docs/arithmetic.md, "Landed cost". */
export function landedFrom(
  ws: CostsView,
  item: Item,
  supplier: Supplier,
  cost: Cost,
  day: Day,
  side: CostSide = 'paid',
): Outcome<LandedCost> {
  const own = ws.workspace.currency;
  const path = `items/${item.id}/cost`;
  const d = new Derivation();
  const { terms, by } = landedTermsOf(ws, item, supplier, day);
  const ordered = terms.usualOrder;
  const counts = askedOn(cost, day, side, ordered);
  const other = askedOn(cost, day, side === 'paid' ? 'usual' : 'paid', ordered);
  const forMore = quantityPriceOf(cost, ordered);
  const differs = other.amount !== counts.amount || other.currency !== counts.currency;
  d.add({
    kind: 'cost',
    operation: { op: 'start', value: counts.amount },
    currency: counts.currency,
    per: 'cost pack',
    rule: { kind: 'cost', id: cost.id, name: supplier.name },
    facts: {
      from: cost.from,
      ...(cost.to ? { [cost.reduced ? 'reduced until' : 'until']: cost.to } : {}),
      origin: cost.origin,
      'units in the cost pack': cost.packUnits,
      ...(differs ? { [side === 'paid' ? 'usual cost' : 'reduced cost']: `${other.amount} ${other.currency}` } : {}),
      ...(forMore
        ? {
            'cost packs ordered at once': ordered!,
            [`from ${forMore.from} cost packs`]: `${forMore.cost} ${cost.cost.currency}`,
            'for fewer': `${cost.cost.amount} ${cost.cost.currency}`,
          }
        : {}),
    },
  });
  if (!dec(cost.packUnits).eq(1)) {
    d.add({
      kind: 'unit_cost',
      operation: { op: 'divide', value: cost.packUnits },
      currency: counts.currency,
      per: 'unit',
      rule: { kind: 'cost', id: cost.id, name: supplier.name },
    });
  }
  if (counts.currency !== own) {
    const x = exchangeOn(ws, counts.currency, own, day);
    if (!x) return refusal('no_exchange_rate', path, { from: counts.currency, to: own, day });
    d.add(
      {
        kind: 'exchange',
        operation: { op: 'times', value: x.text },
        currency: own,
        per: 'unit',
        rule: { kind: 'rate', id: `${counts.currency}/${own}`, name: `${counts.currency} → ${own}` },
        facts: x.facts,
      },
      x.factor,
    );
  }
  const unit = d.figure;
  const unitText = plain(unit);
  const part = (of: keyof typeof by): Part => ({ d, rule: by[of], currency: own });
  const { freight, dutyPercent, handling, overheadPercent } = terms;
  // 0 says that there is none, so neither a weight nor a rate is missing
  if (freight && !dec(freight.amount.amount).isZero()) {
    const each = inOwnCurrency(ws, freight.amount, day, path);
    if (!each.ok) return each;
    if (freight.per === 'kg') {
      if (item.weightKg === null || item.weightKg === undefined) return refusal('no_weight', path, { item: item.sku });
      addPart(part('freight'), 'freight', dec(item.weightKg).times(each.value.value), {
        'weight kg': item.weightKg,
        [`${freight.amount.currency} per kg`]: freight.amount.amount,
        ...each.value.facts,
      });
    } else {
      addPart(part('freight'), 'freight', each.value.value, {
        [`${freight.amount.currency} per unit`]: freight.amount.amount,
        ...each.value.facts,
      });
    }
  }
  if (dutyPercent)
    addPart(part('dutyPercent'), 'duty', unit.times(share(dec(dutyPercent))), {
      'per cent of the unit cost': dutyPercent,
      'unit cost': unitText,
    });
  if (handling) {
    const each = inOwnCurrency(ws, handling, day, path);
    if (!each.ok) return each;
    addPart(part('handling'), 'handling', each.value.value, {
      [`${handling.currency} per unit`]: handling.amount,
      ...each.value.facts,
    });
  }
  if (overheadPercent) {
    addPart(part('overheadPercent'), 'overhead', unit.times(share(dec(overheadPercent))), {
      'per cent of the unit cost': overheadPercent,
      'unit cost': unitText,
    });
  }
  const fee = feeOf(cost, terms);
  if (fee) {
    const rule: RuleRef = cost.fee ? { kind: 'cost', id: cost.id, name: `bill of ${supplier.name}` } : by.orderFee;
    addPart({ d, rule, currency: own }, 'order_fee', unit.times(divide(dec(fee.amount), dec(fee.of))), {
      [cost.fee ? 'fee of the bill' : 'fee of an order']: `${fee.amount} ${fee.currency}`,
      'over goods of': `${fee.of} ${fee.currency}`,
      'unit cost': unitText,
    });
  }
  return figure({ unit, landed: d.figure, cost, supplier, steps: d.steps });
}

/** A fee that a line bears its share of: that of the bill which brought the cost, else that of a usual order. */
export function feeOf(cost: Cost, terms: LandedTerms): { amount: string; of: string; currency: string } | null {
  if (cost.fee) return { ...cost.fee, currency: cost.cost.currency };
  const usual = terms.orderFee;
  return usual ? { amount: usual.fee.amount, of: usual.order, currency: usual.fee.currency } : null;
}

/**
 * Of so many items it is remembered: one price asks for it several times over. More of them, each with its steps, would grow
 * old in memory only to be thrown away, a quarter of what price checks leave behind.
 */
const ITEMS_REMEMBERED = 5;

/** The landed cost that counts for an item on a day, with the suppliers that lost. Per unit, in the workspace's currency. */
export function landedCost(ws: CostsView, item: Item, day: Day, side: CostSide = 'paid'): Outcome<LandedCost> {
  return ws.remember(`landed ${side} ${day}`, item.id, () => findLanded(ws, item, day, side), ITEMS_REMEMBERED);
}

const WHY_LOST = {
  preferred: 'not the preferred supplier',
  lowest_landed: 'its landed cost is higher',
  latest: 'its cost is older',
} as const;

/** A supplier with a cost on the day, and what bringing its goods in comes to. */
export interface Offer {
  readonly supplier: Supplier;
  readonly cost: Cost;
  readonly landed: Outcome<LandedCost>;
}

/** Below 0: `a` counts before `b`. A cost that cannot be worked out loses by its figure, never by its place. */
function compareOffers(choice: SupplierChoice, item: Item, a: Offer, b: Offer): number {
  if (choice === 'preferred') {
    const preferred = Number(b.supplier.id === item.supplier) - Number(a.supplier.id === item.supplier);
    if (preferred !== 0) return preferred;
  }
  if (choice === 'latest' && a.cost.from !== b.cost.from) return a.cost.from < b.cost.from ? 1 : -1;
  const [x, y] = [a.landed, b.landed];
  if (x.ok !== y.ok) return x.ok ? -1 : 1;
  return (
    (x.ok && y.ok ? settle(x.value.landed).cmp(settle(y.value.landed)) : 0) || (a.supplier.id < b.supplier.id ? -1 : 1)
  );
}

/** What every supplier of an item offers on a day, the one that counts under a choice first. */
export function offersOf(
  ws: CostsView,
  item: Item,
  day: Day,
  { side = 'paid', choice = ws.workspace.supplierChoice }: { side?: CostSide; choice?: SupplierChoice } = {},
): readonly Offer[] {
  const perSupplier = new Map<string, Cost[]>();
  for (const c of ws.costsByItem.get(item.id) ?? [])
    perSupplier.set(c.supplier, [...(perSupplier.get(c.supplier) ?? []), c]);
  const offers: Offer[] = [];
  for (const [id, costs] of perSupplier) {
    const supplier = ws.suppliers.get(id);
    const cost = costOn(costs, day);
    if (supplier && cost) offers.push({ supplier, cost, landed: landedFrom(ws, item, supplier, cost, day, side) });
  }
  return offers.sort((a, b) => compareOffers(choice, item, a, b));
}

function findLanded(ws: CostsView, item: Item, day: Day, side: CostSide): Outcome<LandedCost> {
  const [first, ...rest] = offersOf(ws, item, day, { side });
  if (!first) return refusal('no_cost', `items/${item.id}/cost`, { item: item.sku, day });
  if (!first.landed.ok) return { ok: false, reason: withNext(ws, first, rest) };
  const lost = rest.map(({ supplier, landed }): Lost =>
    landed.ok
      ? { name: supplier.name, why: WHY_LOST[ws.workspace.supplierChoice], figure: plain(landed.value.landed) }
      : { name: supplier.name, why: wording(landed.reason) },
  );
  const winner = first.landed.value;
  if (lost.length === 0) return figure(winner);
  const [start, ...steps] = winner.steps;
  return figure({ ...winner, steps: [{ ...start!, lost }, ...steps] });
}

/** Why the supplier that counts has no landed cost, with whose would count without it: another is never taken silently. */
function withNext(ws: CostsView, first: Offer, rest: readonly Offer[]): Reason {
  const { reason } = first.landed as { reason: Reason };
  const next = rest.find((o) => o.landed.ok);
  if (!next?.landed.ok) return reason;
  const landed = `${plain(settle(next.landed.value.landed))} ${ws.workspace.currency}`;
  return {
    ...reason,
    otherwise: { code: 'next_supplier', params: { supplier: first.supplier.name, next: next.supplier.name, landed } },
  };
}
