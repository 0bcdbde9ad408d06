import { move, transferableSymbol, valueSymbol } from 'piscina';
import type { ItemFigures } from '#core/bulk/columns.ts';
import type { BulkList } from '#core/bulk/prepare-list.ts';
import { type BulkPrices, FLAGS, emptyPrices, priceRows } from '#core/bulk/price-rows.ts';
import { type PricedBlock, type RowNames, encodePrices } from './encode-prices.ts';

/** Rows `start` to `end` (exclusive) of a list, to be priced and written down. */
export interface Block {
  readonly figures: ItemFigures;
  readonly list: BulkList;
  readonly names: RowNames;
  readonly start: number;
  readonly end: number;
  /** Other lists are made from this one: what its prices become is answered too. */
  readonly become: boolean;
}

/** Kept between blocks: clearing it costs less than making it. */
let kept: BulkPrices | null = null;

/** Runs in a worker thread. */
export default function priceBlock({ figures, list, names, start, end, become }: Block): PricedBlock {
  const rows = figures.landed.length;
  if (kept?.price.length !== rows) kept = emptyPrices(rows, 1);
  const out = { ...kept, scale: list.ladder.scale };
  priceRows(figures, list, out, start, end);
  const encoded = encodePrices(out, list.posted, names, start, end);
  const block = become ? { ...encoded, become: becoming(out, start, end) } : encoded;
  // handed over, not copied
  const handed = {
    [transferableSymbol]: [block.text.buffer, block.open.buffer, ...(block.become ? [block.become.buffer] : [])],
    [valueSymbol]: block,
  };
  return move(handed as never) as unknown as PricedBlock;
}

const LEFT = (['open', 'refused', 'floor_above_ceiling'] as const).map((flag) => FLAGS.indexOf(flag));

const becoming = (out: BulkPrices, start: number, end: number): Float64Array =>
  Float64Array.from({ length: end - start }, (_, i) =>
    LEFT.includes(out.flag[start + i]!) ? NaN : out.price[start + i]!,
  );
