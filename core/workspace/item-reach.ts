import { fits } from '../items/scope.ts';
import type { Item } from '../items/item.ts';
import type { Rate } from '../costs/cost.ts';
import type { Prepared } from './prepared.ts';

/** Ids of records that are in one of two and not in the other, or not the same in both. */
export function changedIds<T extends { readonly id: string }>(
  before: ReadonlyMap<string, T>,
  after: ReadonlyMap<string, T>,
): Set<string> {
  const ids = new Set([...before.keys(), ...after.keys()]);
  for (const id of ids) if (sameText(before.get(id), after.get(id))) ids.delete(id);
  return ids;
}

export const sameText = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

type OfItem = (item: Item) => boolean;

/** Items in a category of which anything differs, or below one. */
function byCategory(before: Prepared, after: Prepared): OfItem {
  const changed = changedIds(before.categories, after.categories);
  const known = new Map<string, boolean>();
  return ({ category }) => {
    let found = known.get(category);
    if (found === undefined) {
      found = [before, after].some((ws) => ws.lineage(category).some((id) => changed.has(id)));
      known.set(category, found);
    }
    return found;
  };
}

const suppliersOf = (ws: Prepared, item: Item): readonly string[] => [
  ...(item.supplier ? [item.supplier] : []),
  ...(ws.costsByItem.get(item.id) ?? []).map((c) => c.supplier),
];

function bySupplier(before: Prepared, after: Prepared): OfItem {
  const changed = changedIds(before.suppliers, after.suppliers);
  return (item) => suppliersOf(after, item).some((id) => changed.has(id));
}

/** Items that terms of bringing goods in are for, before or after. */
function byTerms(before: Prepared, after: Prepared): OfItem {
  const [was, is] = [before, after].map((ws) => new Map(ws.workspace.landed.map((t) => [t.id, t])));
  const changed = changedIds(was!, is!);
  const terms = [before, after].flatMap((ws) =>
    ws.workspace.landed.filter((t) => changed.has(t.id)).map((t) => ({ ws, t })),
  );
  return (item) => {
    const suppliers = suppliersOf(after, item);
    return terms.some(({ ws, t }) => suppliers.includes(t.supplier) && fits(ws, t.scope, item, null, null));
  };
}

/** Currencies of which a rate differs: of every pair the one that is not the workspace's own, over which others are reached. */
export function changedCurrencies(before: Prepared, after: Prepared): ReadonlySet<string> {
  const key = (r: Rate) => `${r.from}>${r.to} ${r.day} ${r.rate}`;
  const [was, is] = [before, after].map((ws) => new Map(ws.workspace.rates.map((r) => [key(r), r])));
  const changed = [...was!, ...is!].filter(([k]) => !(was!.has(k) && is!.has(k)));
  const { currency } = after.workspace;
  return new Set(changed.flatMap(([, r]) => [r.from, r.to]).filter((c) => c !== currency));
}

/** Whether a record names one of these currencies, wherever in it. */
export const names = (record: unknown, currencies: ReadonlySet<string>): boolean => {
  const text = JSON.stringify(record) ?? '';
  return [...currencies].some((c) => text.includes(`"${c}"`));
};

/** Items that bear an amount in a currency of which a rate differs; in which their supplier's terms are, too. */
function byRate(after: Prepared, changed: ReadonlySet<string>): OfItem {
  const termsIn = new Set(
    [...after.suppliers.values()]
      .filter((s) => names([s, after.landedTerms.get(s.id) ?? []], changed))
      .map((s) => s.id),
  );
  const bears = (...amounts: readonly ({ readonly currency: string } | null | undefined)[]) =>
    amounts.some((a) => a && changed.has(a.currency));
  return (item) =>
    bears(item.rrp, item.map) ||
    item.packs.some((p) => bears(p.deposit, p.unitDeposit)) ||
    (after.costsByItem.get(item.id) ?? []).some((c) => bears(c.cost, c.reduced)) ||
    suppliersOf(after, item).some((id) => termsIn.has(id));
}

/** Members of a workspace whose changes reach prices item by item. */
export const BY_ITEM = ['categories', 'suppliers', 'landed', 'rates'] as const;
export type ByItem = (typeof BY_ITEM)[number];

/** Items that changes of these members may reach, on whatever list. */
export function itemsReachedBy(before: Prepared, after: Prepared, members: readonly ByItem[]): Item[] {
  const of: Record<ByItem, () => OfItem> = {
    categories: () => byCategory(before, after),
    suppliers: () => bySupplier(before, after),
    landed: () => byTerms(before, after),
    rates: () => byRate(after, changedCurrencies(before, after)),
  };
  const tests = members.map((m) => of[m]());
  return tests.length === 0 ? [] : after.workspace.items.filter((item) => tests.some((t) => t(item)));
}
