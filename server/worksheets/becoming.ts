import type { BulkWorkspace } from '#core/bulk/bulk-prices.ts';
import { type PostedColumns, emptyPosted, putPosted } from '#core/bulk/posted-columns.ts';
import { type Dec, dec, plain } from '#core/numbers/decimal.ts';
import type { PostedPrice } from '#core/lists/posted-price.ts';

/** After every posting there is. */
const LAST = Number.MAX_SAFE_INTEGER;

interface Kept {
  readonly columns: PostedColumns;
  /** By row, what its price becomes; null: what its digits say, which are exact. */
  readonly changed: Map<number, string | null>;
}

/** Whole digits and how many stand behind the point; a price that stays is no change. */
function put({ columns, changed }: Kept, row: number, digits: number, places: number, exact: string | null): void {
  if (exact === null && columns.digits[row] === digits && columns.places[row] === places) return;
  columns.digits[row] = digits;
  columns.places[row] = places;
  changed.set(row, exact);
}

/** What the lists of a worksheet are posted at once it is: lists that are made from them are computed from that. */
export class Becoming {
  /** By list that others on the worksheet are made from; by row. */
  private readonly lists = new Map<string, Kept>();
  /** Those that are computed to their end. */
  private readonly ready = new Set<string>();

  /** Has a list remembered, from what is posted on it. */
  begin(list: string, { digits, places, handSet }: PostedColumns): void {
    const columns = { digits: digits.slice(), places: places.slice(), handSet: handSet.slice() };
    this.lists.set(list, { columns, changed: new Map() });
  }

  /** Prices of rows from `start` on, in whole units of 1 ÷ scale; NaN: as posted. */
  block(list: string, start: number, prices: Float64Array, scale: number): void {
    const kept = this.lists.get(list)!;
    const decimals = Math.round(Math.log10(scale));
    prices.forEach((units, i) => {
      if (Number.isNaN(units)) return;
      let [digits, places] = [units, decimals];
      while (places > 0 && digits % 10 === 0) {
        digits /= 10;
        places -= 1;
      }
      put(kept, start + i, digits, places, null);
    });
  }

  /** One that the explained way decided; null: as posted. */
  decided(list: string, row: number, price: Dec | null): void {
    const kept = this.lists.get(list);
    if (!kept || !price) return;
    const one = emptyPosted(1);
    putPosted(one, 0, plain(price), false);
    // more digits than a double holds stand in the text alone
    put(kept, row, one.digits[0]!, one.places[0]!, plain(price));
  }

  /** One that another process has written down, as its text. */
  written(list: string, row: number, price: string): void {
    const one = emptyPosted(1);
    putPosted(one, 0, price, false);
    put(this.lists.get(list)!, row, one.digits[0]!, one.places[0]!, Number.isFinite(one.digits[0]) ? null : price);
  }

  end(list: string): void {
    if (this.lists.has(list)) this.ready.add(list);
  }

  columns(list: string): PostedColumns | undefined {
    return this.ready.has(list) ? this.lists.get(list)!.columns : undefined;
  }

  /** Posted prices with those of the lists that are ready in the place of what they change. */
  over(
    posted: readonly PostedPrice[],
    bulk: BulkWorkspace,
    rows: readonly { readonly row: number; readonly item: string; readonly pack: string }[],
  ): readonly PostedPrice[] {
    const now: PostedPrice[] = [];
    for (const list of this.ready) {
      const { columns, changed } = this.lists.get(list)!;
      for (const { row, item, pack } of rows) {
        if (!changed.has(row)) continue;
        const price =
          changed.get(row) ?? plain(dec(String(columns.digits[row])).div(dec(10).pow(columns.places[row]!)));
        const followed = bulk.ws.followed(bulk.ws.items.get(item)!).id;
        now.push({ list, item: followed, pack, price, from: bulk.day, posting: '', entry: LAST, handSet: null });
      }
    }
    if (now.length === 0) return posted;
    const replaced = new Set(now.map((p) => `${p.list}/${p.pack}`));
    return [...posted.filter((p) => !replaced.has(`${p.list}/${p.pack}`)), ...now];
  }
}
