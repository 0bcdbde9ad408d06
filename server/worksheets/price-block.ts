import { move, transferableSymbol, valueSymbol } from 'piscina';
import type { ItemFigures } from '#core/bulk/columns.ts';
import type { BulkList } from '#core/bulk/prepare-list.ts';
import { type BulkPrices, emptyPrices, priceRows } from '#core/bulk/price-rows.ts';
import { type PricedBlock, type RowNames, encodePrices } from './encode-prices.ts';

/** Rows `start` to `end` (exclusive) of a list, to be priced and written down. */
export interface Block {
  readonly figures: ItemFigures;
  readonly list: BulkList;
  readonly names: RowNames;
  readonly start: number;
  readonly end: number;
}

/** Kept between blocks: clearing it costs less than making it. */
let kept: BulkPrices | null = null;

/** Runs in a worker thread. */
export default function priceBlock({ figures, list, names, start, end }: Block): PricedBlock {
  const rows = figures.cost.length;
  if (kept?.price.length !== rows) kept = emptyPrices(rows, 1);
  const out = { ...kept, scale: list.ladder.scale };
  priceRows(figures, list, out, start, end);
  const block = encodePrices(out, list.posted, names, start, end);
  // handed over, not copied
  const handed = {
    [transferableSymbol]: [block.text.buffer, block.open.buffer],
    [valueSymbol]: block,
  };
  return move(handed as never) as unknown as PricedBlock;
}
