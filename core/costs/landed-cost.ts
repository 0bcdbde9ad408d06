import { Derivation, type Lost, type RuleRef, type Step } from '../buildup/steps.ts';
import type { AmountText } from '../numbers/amount.ts';
import { type Dec, dec, plain, share } from '../numbers/decimal.ts';
import { type Outcome, type Reason, figure, refusal, wording } from '../reasons.ts';
import type { Cost, Day, Item, Prepared, Supplier } from '../workspace/index.ts';
import { exchangeOn } from './exchange.ts';

/** What one unit of an item costs, in the workspace's currency, tax out. */
export interface LandedCost {
  /** Bare cost per unit. */
  readonly unit: Dec;
  /** With freight, duty, handling and overhead. Never rounded. */
  readonly landed: Dec;
  readonly cost: Cost;
  readonly supplier: Supplier;
  readonly steps: readonly Step[];
}

/**
 * The cost that counts on a day among those of one supplier: the one whose day has begun last; of two for the
 * same day the later entered. A typed one holds against later files and connections until it is released.
 */
export function costOn(costs: readonly Cost[], day: Day): Cost | null {
  const later = (a: Cost | null, b: Cost): Cost =>
    a === null || b.from > a.from || (b.from === a.from && b.entry > a.entry) ? b : a;
  let best: Cost | null = null;
  let held: Cost | null = null;
  for (const c of costs) {
    if (c.from > day) continue;
    best = later(best, c);
    if (c.origin === 'typed' && !c.released) held = later(held, c);
  }
  return held ?? best;
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
  ws: Prepared,
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
export function landedFrom(ws: Prepared, item: Item, supplier: Supplier, cost: Cost, day: Day): Outcome<LandedCost> {
  const own = ws.workspace.currency;
  const path = `items/${item.id}/cost`;
  const d = new Derivation();
  const bySupplier: RuleRef = { kind: 'supplier', id: supplier.id, version: supplier.version, name: supplier.name };
  d.add({
    kind: 'cost',
    operation: { op: 'start', value: cost.cost.amount },
    currency: cost.cost.currency,
    per: 'cost pack',
    rule: { kind: 'cost', id: cost.id, name: supplier.name },
    facts: { from: cost.from, origin: cost.origin, 'units in the cost pack': cost.packUnits },
  });
  if (!dec(cost.packUnits).eq(1)) {
    d.add({
      kind: 'unit_cost',
      operation: { op: 'divide', value: cost.packUnits },
      currency: cost.cost.currency,
      per: 'unit',
      rule: { kind: 'cost', id: cost.id, name: supplier.name },
    });
  }
  if (cost.cost.currency !== own) {
    const x = exchangeOn(ws, cost.cost.currency, own, day);
    if (!x) return refusal('no_exchange_rate', path, { from: cost.cost.currency, to: own, day });
    d.add(
      {
        kind: 'exchange',
        operation: { op: 'times', value: x.text },
        currency: own,
        per: 'unit',
        rule: { kind: 'rate', id: `${cost.cost.currency}/${own}`, name: `${cost.cost.currency} → ${own}` },
        facts: x.facts,
      },
      x.factor,
    );
  }
  const unit = d.figure;
  const unitText = plain(unit);
  const part: Part = { d, rule: bySupplier, currency: own };
  const { freight, dutyPercent, handling, overheadPercent } = supplier.landed;
  if (freight) {
    const each = inOwnCurrency(ws, freight.amount, day, path);
    if (!each.ok) return each;
    if (freight.per === 'kg') {
      if (item.weightKg === null || item.weightKg === undefined) return refusal('no_weight', path, { item: item.sku });
      addPart(part, 'freight', dec(item.weightKg).times(each.value.value), {
        'weight kg': item.weightKg,
        [`${freight.amount.currency} per kg`]: freight.amount.amount,
        ...each.value.facts,
      });
    } else {
      addPart(part, 'freight', each.value.value, {
        [`${freight.amount.currency} per unit`]: freight.amount.amount,
        ...each.value.facts,
      });
    }
  }
  if (dutyPercent)
    addPart(part, 'duty', unit.times(share(dec(dutyPercent))), {
      'per cent of the unit cost': dutyPercent,
      'unit cost': unitText,
    });
  if (handling) {
    const each = inOwnCurrency(ws, handling, day, path);
    if (!each.ok) return each;
    addPart(part, 'handling', each.value.value, {
      [`${handling.currency} per unit`]: handling.amount,
      ...each.value.facts,
    });
  }
  if (overheadPercent) {
    addPart(part, 'overhead', unit.times(share(dec(overheadPercent))), {
      'per cent of the unit cost': overheadPercent,
      'unit cost': unitText,
    });
  }
  return figure({ unit, landed: d.figure, cost, supplier, steps: d.steps });
}

/** The landed cost that counts for an item on a day, with the suppliers that lost. Per unit, in the workspace's currency. */
export function landedCost(ws: Prepared, item: Item, day: Day): Outcome<LandedCost> {
  return ws.remember(`landed ${day}`, item.id, () => findLanded(ws, item, day));
}

function findLanded(ws: Prepared, item: Item, day: Day): Outcome<LandedCost> {
  const perSupplier = new Map<string, Cost[]>();
  for (const c of ws.costsByItem.get(item.id) ?? [])
    perSupplier.set(c.supplier, [...(perSupplier.get(c.supplier) ?? []), c]);
  const found: LandedCost[] = [];
  const lost: Lost[] = [];
  let firstReason: Reason | null = null;
  for (const [id, costs] of perSupplier) {
    const supplier = ws.suppliers.get(id);
    const cost = costOn(costs, day);
    if (!supplier || !cost) continue;
    const landed = landedFrom(ws, item, supplier, cost, day);
    if (landed.ok) found.push(landed.value);
    else {
      firstReason ??= landed.reason;
      lost.push({ name: supplier.name, why: wording(landed.reason) });
    }
  }
  if (found.length === 1 && lost.length === 0) return figure(found[0]!);
  const choice = ws.workspace.supplierChoice;
  const ranked = [...found].sort((a, b) => {
    if (choice === 'preferred') {
      const preferred = Number(b.supplier.id === item.supplier) - Number(a.supplier.id === item.supplier);
      if (preferred !== 0) return preferred;
    }
    if (choice === 'latest' && a.cost.from !== b.cost.from) return a.cost.from < b.cost.from ? 1 : -1;
    return a.landed.cmp(b.landed) || (a.supplier.id < b.supplier.id ? -1 : 1);
  });
  const winner = ranked[0];
  if (!winner) {
    return firstReason
      ? { ok: false, reason: firstReason }
      : refusal('no_cost', `items/${item.id}/cost`, { item: item.sku, day });
  }
  const why = {
    preferred: 'not the preferred supplier',
    lowest_landed: 'its landed cost is higher',
    latest: 'its cost is older',
  }[choice];
  for (const other of ranked.slice(1)) lost.push({ name: other.supplier.name, why, figure: plain(other.landed) });
  if (lost.length === 0) return figure(winner);
  const [first, ...rest] = winner.steps;
  return figure({ ...winner, steps: [{ ...first!, lost }, ...rest] });
}
