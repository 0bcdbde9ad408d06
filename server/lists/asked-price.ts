import { dec, money } from '#core/numbers/decimal.ts';
import { entriesFor } from '#core/lists/entries.ts';
import { priceOnList } from '#core/lists/list-price.ts';
import { leastQuantity } from '#core/quotes/order-quantity.ts';
import { channelsOf } from '#core/items/scope.ts';
import type { Item, Pack } from '#core/items/item.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import type { PriceList } from '#core/lists/price-list.ts';
import type { AskedPrice } from '#contract/list-row.ts';

export const NOTHING_ASKED: AskedPrice = { asks: null, source: null, from: null, dated: null, usual: null };

/**
 * What a list asks for a pack on a day, for whoever comes without a reduction of their own, and where it is from; per
 * pack, as the list shows it. A posted price that no entry touches is taken as it stands: it needs no working out.
 */
export function askedPrice(
  ws: Prepared,
  list: PriceList,
  item: Item,
  pack: Pack,
  day: string,
  posted: string | null,
): AskedPrice {
  const decimals = ws.decimalsOf(list);
  const alone = ws.followed(item) === item;
  const entries = entriesFor(ws, list.id, item, {
    day,
    pack,
    channels: channelsOf(list, null),
    quantity: leastQuantity(item),
  });
  if (alone && entries.length === 0) {
    if (posted !== null) return { ...NOTHING_ASKED, asks: posted, source: 'posted' };
    if (!list.parent) return NOTHING_ASKED;
  }
  const found = priceOnList(ws, { item: item.id, pack: pack.id, list: list.id, day }, 'refuse');
  if (!found.ok) return NOTHING_ASKED;
  const p = found.value;
  const entry = p.dated?.entry ?? null;
  const usual = money(p.regular, decimals);
  const asks = money(p.price, decimals);
  return {
    asks,
    source: p.source,
    from: p.source === 'parent' ? (ws.lists.get(list.parent?.list ?? '')?.name ?? null) : alone ? null : p.item.sku,
    dated: entry && { from: entry.from ?? null, to: entry.to ?? null },
    usual: entry && !dec(usual).eq(asks) ? usual : null,
  };
}
