import type { LadderTerms } from '../rounding/ladder.ts';
import type { Item } from '../items/item.ts';
import type { Prepared } from './prepared.ts';
import type { PriceList } from '../lists/price-list.ts';
import type { Workspace } from './workspace.ts';
import { BY_ITEM, type ByItem, changedCurrencies, changedIds, itemsReachedBy, names, sameText } from './item-reach.ts';
import { listsBehind } from '../lists/lists-behind.ts';

/** Which items' prices on a list a change may reach: those of the named ids, or all. */
export type Reach = 'all' | ReadonlySet<string>;

type Rules = Omit<Workspace, 'items' | 'costs' | 'posted'>;

/** What quotes are made of, and nothing that a list asks or that a recipe makes. */
const OF_QUOTES: ReadonlySet<keyof Rules> = new Set([
  'listChoice',
  'customers',
  'breaks',
  'floors',
  'reductions',
  'pools',
  'rules',
  'charges',
  'proofs',
]);
/** What each list uses of its own. */
const BY_LIST: ReadonlySet<keyof Rules> = new Set(['lists', 'recipes', 'ladders']);

function differing(before: Workspace, after: Workspace): (keyof Rules)[] {
  const { items: _, costs: __, posted: ___, ...rules } = after;
  return (Object.keys(rules) as (keyof Rules)[]).filter((member) => !sameText(before[member], after[member]));
}

/** Items of which anything differs: they themselves, a cost, a posted price; what is shared by both states is the very same object. `besides`: what else reaches them. */
function changedItems(before: Prepared, after: Prepared, besides: readonly ByItem[]): Set<string> {
  const out = new Set(itemsReachedBy(before, after, besides).map((i) => i.id));
  const look = ({ id }: Item) => {
    if (
      before.items.get(id) !== after.items.get(id) ||
      before.costsByItem.get(id) !== after.costsByItem.get(id) ||
      !before.samePosted(after, id)
    )
      out.add(id);
  };
  after.workspace.items.forEach(look);
  // who follows a lead has its prices
  for (const { lead, members } of after.workspace.lockstep) if (out.has(lead)) for (const id of members) out.add(id);
  return out;
}

/** A list with what decides its prices: its own parents, and the lists that its recipes start from with theirs. */
function decidingLists(ws: Prepared, id: string): PriceList[] {
  const found: PriceList[] = [];
  const look = (at: PriceList | undefined): void => {
    if (!at || found.includes(at)) return;
    found.push(at);
    look(ws.lists.get(at.parent?.list ?? ''));
    listsBehind(ws, at).forEach(look);
  };
  look(ws.lists.get(id));
  return found;
}

interface ChangedRules {
  readonly lists: ReadonlySet<string>;
  readonly recipes: ReadonlySet<string>;
  readonly ladders: ReadonlySet<string>;
}

/** Whether any rule that was changed may decide a price of a list, as one of both states has it. */
function touched(ws: Prepared, id: string, changed: ChangedRules): boolean {
  const mayRound = (list: PriceList, ladder: LadderTerms | undefined) =>
    ladder?.byDefault === true && ladder.currency === list.currency;
  return decidingLists(ws, id).some((list) => {
    if (changed.lists.has(list.id)) return true;
    const recipes = [list.recipe, ...(list.recipes ?? []).map((t) => t.recipe)].filter((r) => r !== null);
    if (recipes.some((r) => changed.recipes.has(r))) return true;
    const ladders = [
      list.ladder,
      ...(list.ladders ?? []).map((t) => t.ladder),
      ...recipes.flatMap((r) => {
        const terms = ws.recipes.get(r);
        return terms ? [terms.ladder, ...(terms.ladders ?? []).map((t) => t.ladder)] : [];
      }),
    ];
    return (
      ladders.some((l) => changed.ladders.has(l ?? '')) ||
      [...changed.ladders].some((l) => mayRound(list, ws.ladders.get(l)))
    );
  });
}

/** Whether what decides the prices of a list, beside its items, has an amount in one of these currencies. */
const inCurrency = (ws: Prepared, id: string, currencies: ReadonlySet<string>): boolean =>
  decidingLists(ws, id).some((list) => {
    const recipes = [list.recipe, ...(list.recipes ?? []).map((t) => t.recipe)].map((r) => ws.recipes.get(r ?? ''));
    return names([list, recipes], currencies);
  });

/**
 * Which prices of a list on a day may differ between two states of a workspace: what is outside of it is the same in both,
 * posted and computed. Of rules it is told list by list or item by item, of items, costs and posted prices item by item. What is the very
 * same object in both is the same; so a state that was read anew reaches everything.
 */
export function reachBetween(before: Prepared, after: Prepared): (list: string) => Reach {
  const members = differing(before.workspace, after.workspace).filter((m) => !OF_QUOTES.has(m));
  const byItem = BY_ITEM.filter((m) => members.includes(m));
  const byList = members.filter((m) => !byItem.some((other) => other === m));
  if (byList.some((m) => !BY_LIST.has(m))) return () => 'all';
  const items = changedItems(before, after, byItem);
  const changed: ChangedRules = {
    lists: members.includes('lists') ? changedIds(before.lists, after.lists) : new Set(),
    recipes: members.includes('recipes') ? changedIds(before.recipes, after.recipes) : new Set(),
    ladders: members.includes('ladders') ? changedIds(before.ladders, after.ladders) : new Set(),
  };
  const currencies = members.includes('rates') ? changedCurrencies(before, after) : new Set<string>();
  return (list) =>
    (byList.length > 0 && (touched(before, list, changed) || touched(after, list, changed))) ||
    (currencies.size > 0 && inCurrency(after, list, currencies))
      ? 'all'
      : items;
}

/** Whether two states have the same packs in the same order, under the same names. */
export function samePacks(before: Prepared, after: Prepared): boolean {
  const [a, b] = [before.workspace.items, after.workspace.items];
  const same = (x: Item, y: Item) =>
    x === y ||
    (x.id === y.id &&
      x.sku === y.sku &&
      x.name === y.name &&
      sameText(
        x.packs.map((p) => [p.id, p.name]),
        y.packs.map((p) => [p.id, p.name]),
      ));
  return a === b || (a.length === b.length && a.every((x, n) => same(x, b[n]!)));
}
