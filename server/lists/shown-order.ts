import type { ToPost } from '#contract/lists.ts';
import { priceToPost } from '#core/lists/price-to-post.ts';
import { money } from '#core/numbers/decimal.ts';
import type { PricesOrder } from '../ledger/prices-order.ts';
import { refused } from '../platform/refused.ts';
import { turns } from '../platform/turns.ts';
import type { Loaded } from '../workspace/state.ts';
import { findList } from './build-up.ts';
import { ListComputation, bulkForSome } from './compute-rows.ts';

/** Prices of a list that are to be posted as they were seen. Plain data, small enough to be sent to another thread. */
export interface ShownPrices extends Pick<PricesOrder, 'effective' | 'lastDay' | 'reason'> {
  readonly list: number;
  /** The day they were seen as they are on, and the state. */
  readonly day: string;
  readonly revision: string;
  readonly what: ToPost['what'];
  /** Ids of items and packs, a place each. */
  readonly items: Uint32Array;
  readonly packs: Uint32Array;
  /** What was typed, by its place; the rest is posted as it is computed. */
  readonly typed: ReadonlyMap<number, string>;
  readonly typedReason: string;
}

/** The order to post them, exactly. Refuses where the state is not the one they were seen in. */
export async function orderOfShown(loaded: Loaded, shown: ShownPrices): Promise<PricesOrder> {
  if (loaded.revision !== shown.revision) throw refused('list_moved_on');
  const { ws, day } = loaded;
  const { effective, lastDay, reason, what, typed } = shown;
  const list = findList(ws, String(shown.list));
  const items = Array.from(shown.items, (id) => ws.items.get(String(id)));
  const computed = new ListComputation(loaded, list, bulkForSome(loaded, new Set(items.flatMap((i) => i ?? []))));
  const decimals = ws.decimalsOf(list);
  const afterOf = async (place: number, item: string, pack: string): Promise<string | null> => {
    if (what !== 'releases') return typed.get(place) ?? (await computed.row(item, pack)).proposed;
    const made = priceToPost(ws, { list: list.id, item, pack, day });
    return made.ok ? money(made.value.recipePrice, decimals) : null;
  };
  const handSet = { reason: shown.typedReason || reason, lastDay };
  const turn = turns();
  const lines: PricesOrder['lists'][number]['lines'] = [];
  for (const [place, item] of items.entries()) {
    await turn();
    const pack = String(shown.packs[place]);
    const after = item ? await afterOf(place, item.id, pack) : null;
    if (!item || after === null) continue;
    lines.push({
      item: item.id,
      pack,
      before: ws.postedFor(list.id, item, pack, day)?.price ?? null,
      after,
      release: what === 'releases',
      fall: false,
      handSet: what !== 'releases' && typed.has(place) ? handSet : null,
    });
  }
  return { effective, lastDay, reason, lists: [{ list: shown.list, lines }] };
}
