import { type PriceQuestion, costOnList, marginAt } from '#core/lists/achieved.ts';
import { priceChange } from '#core/lists/price-change.ts';
import { dec, money, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import type { Item, Pack } from '#core/items/item.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import type { PriceList } from '#core/lists/price-list.ts';
import { lastDayOf } from '#core/lists/posted-price.ts';
import { turns } from '../platform/turns.ts';
import type { Loaded } from '../workspace/state.ts';
import { askedPrice } from './asked-price.ts';
import { type ComputedRow, ListComputation, bulkOfItems } from './compute-rows.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

/** The computed part of a row; nothing of it is shown to those who may not see costs. */
function computedPart(ws: Prepared, q: PriceQuestion, posted: string | null, row: ComputedRow) {
  const found = costOnList(ws, q);
  const known = found.ok && (posted !== null || row.proposed !== null) ? found.value : null;
  const margin = posted !== null && known ? marginAt(known, dec(posted)) : null;
  return {
    // what the page needs to work out the margin of a price while it is typed
    taxFactor: known ? plain(known.terms.taxFactor) : null,
    depositShown: known ? plain(known.terms.depositShown) : null,
    cost: known ? plain(known.cost) : null,
    changePercent: row.proposed === null ? null : priceChange(posted, row.proposed),
    marginBefore: margin && roundHalfUp(margin, 2).toFixed(2),
    ...row,
    bit: [...row.bit],
  };
}

export const HIDDEN = {
  proposed: null,
  reason: null,
  cost: null,
  taxFactor: null,
  depositShown: null,
  uplift: null,
  changePercent: null,
  marginBefore: null,
  marginAfter: null,
  flag: null,
  bit: [] as string[],
  wouldFallTo: null,
};

/** Rows of a list, posted beside computed, made one by one: of all items, or of some alone. */
export class ListRows {
  private readonly computation: ListComputation | null;
  private readonly decimals: number;
  private readonly turn = turns();

  constructor(
    private readonly loaded: Loaded,
    private readonly list: PriceList,
    showCost: boolean,
    private readonly items: readonly Item[] | null = null,
  ) {
    this.decimals = loaded.ws.decimalsOf(list);
    const bulk = items === null ? undefined : bulkOfItems(loaded, items);
    this.computation = showCost ? new ListComputation(loaded, list, bulk) : null;
  }

  async *all(): AsyncGenerator<ListPriceRow> {
    for (const item of this.items ?? this.loaded.ws.workspace.items)
      for (const pack of item.packs) yield await this.row(item, pack);
  }

  /** Others have their turn now and then. */
  async row(item: Item, pack: Pack): Promise<ListPriceRow> {
    await this.turn();
    const { ws, day } = this.loaded;
    const { list } = this;
    const posted = ws.postedFor(list.id, item, pack.id, day);
    const price = posted ? money(dec(posted.price!), this.decimals) : null;
    const q = { item: item.id, pack: pack.id, list: list.id, day };
    const part = this.computation ? computedPart(ws, q, price, await this.computation.row(item.id, pack.id)) : HIDDEN;
    return {
      item: item.id,
      pack: pack.id,
      sku: item.sku,
      name: item.name,
      category: ws.categories.get(item.category)?.name ?? '',
      packName: pack.name,
      posted: price,
      postedFrom: posted?.from ?? null,
      handSet: posted?.handSet?.reason ?? null,
      lastDay: posted && lastDayOf(posted),
      ...askedPrice(ws, list, item, pack, day, price),
      ...part,
    };
  }
}
