import type { Cost } from '../costs/cost.ts';
import type { Day } from '../numbers/day.ts';
import type { Item } from '../items/item.ts';
import type { PriceList } from '../lists/price-list.ts';
import { Prepared } from '../workspace/prepared.ts';
import { BulkWorkspace, bulkPrices } from './bulk-prices.ts';
import { FLAGS } from './price-rows.ts';

/** One computed price that other costs would move. */
export interface PriceMove {
  readonly list: string;
  /** The item whose cost is its own: of a lockstep group the lead. */
  readonly of: string;
  readonly item: string;
  readonly pack: string;
  /** Per cent, as a double: to be shown, nothing is made of it. Infinite: there was no price, or there is none any more. */
  readonly percent: number;
}

/** The items whose prices hang on the cost of others among them: of a lockstep group all of it. */
export function reachedBy(ws: Prepared, items: Iterable<string>): Item[] {
  const found = new Set<string>();
  for (const id of items) {
    const group = ws.lockstepOf(id);
    for (const member of group ? [group.lead, ...group.members] : [id]) found.add(member);
  }
  return [...found].flatMap((id) => ws.items.get(id) ?? []);
}

/** The workspace with these items alone, and all that their prices are made from. */
export function itemsAlone(ws: Prepared, items: readonly Item[]): Prepared {
  const { lists } = ws.workspace;
  return new Prepared({
    ...ws.workspace,
    items,
    costs: items.flatMap((i) => ws.costsByItem.get(i.id) ?? []),
    posted: items.flatMap((i) => i.packs.flatMap((p) => lists.flatMap((l) => ws.postings(l.id, i.id, p.id)))),
  });
}

const isPriced = (list: PriceList): boolean => list.active && Boolean(list.recipe || list.recipes?.length);

/**
 * Which computed prices costs that come to those known would move on a day, list by list: what recipes make with them beside
 * what they make without. Only items that the costs can reach are computed, so a short bill costs little of a large
 * catalogue.
 */
export function costMoves(ws: Prepared, arriving: readonly Cost[], day: Day): Generator<PriceMove> {
  const before = itemsAlone(ws, reachedBy(ws, new Set(arriving.map((c) => c.item))));
  const after = new Prepared({ ...before.workspace, costs: [...before.workspace.costs, ...arriving] });
  return priceMoves(before, after, day);
}

/** Which computed prices other rules would move, list by list; where it is an item that changes, those it can reach alone. */
export function ruleMoves(ws: Prepared, then: Prepared, day: Day, item: string | null): Generator<PriceMove> {
  if (item === null) return priceMoves(ws, then, day);
  return priceMoves(itemsAlone(ws, reachedBy(ws, [item])), itemsAlone(then, reachedBy(then, [item])), day);
}

/** What recipes make of the items of `then`, beside what they make of them in `ws`, on lists that are priced in either. */
function* priceMoves(ws: Prepared, then: Prepared, day: Day): Generator<PriceMove> {
  const [was, is] = [new BulkWorkspace(ws, day), new BulkWorkspace(then, day)];
  const refused = FLAGS.indexOf('refused');
  const pricesOf = (bulk: BulkWorkspace, id: string) => {
    const list = bulk.ws.lists.get(id);
    return list && isPriced(list) ? bulkPrices(bulk, list) : null;
  };
  const priced = [...then.workspace.lists, ...ws.workspace.lists].filter(isPriced);
  for (const list of new Set(priced.map((l) => l.id))) {
    const [old, next] = [pricesOf(was, list), pricesOf(is, list)];
    for (const [i, { item, pack }] of is.columns.rows.entries()) {
      const at = was.rowOf(item, pack);
      const a = !old || at === undefined || old.flag[at] === refused ? NaN : old.price[at]! / old.scale;
      const b = !next || next.flag[i] === refused ? NaN : next.price[i]! / next.scale;
      if (a === b || (Number.isNaN(a) && Number.isNaN(b))) continue;
      const percent = Number.isNaN(a) || a === 0 ? Infinity : Number.isNaN(b) ? -Infinity : (b / a - 1) * 100;
      yield { list, of: then.followed(then.items.get(item)!).id, item, pack, percent };
    }
  }
}
