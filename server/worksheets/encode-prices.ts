import type { WorksheetCounts } from '#contract/worksheets.ts';
import { type BulkPrices, FLAGS, PERCENT_PLACES } from '#core/bulk/price-rows.ts';

/** What stands before the figures of each row. */
export interface RowNames {
  readonly worksheet: number;
  readonly list: number;
  readonly items: Int32Array;
  readonly packs: Int32Array;
}

export interface PricedBlock {
  /** Rows of COPY's text format. */
  readonly text: Uint8Array;
  /** Rows left to the explained way: not in the text. */
  readonly open: Int32Array;
  readonly counts: WorksheetCounts;
  /** What the rows would be posted at, in whole units of the prices' scale; NaN: nothing, or a person decides. Null: not asked for. */
  readonly become: Float64Array | null;
}

const OPEN = FLAGS.indexOf('open');
const BIT = FLAGS.indexOf('bit');
const TAB = 9;
const NEWLINE = 10;
const MINUS = 45;
const POINT = 46;
const ZERO = 48;

/** The longest row: four ids, four figures of 18 digits and their signs, three short numbers. */
const MOST_BYTES = 200;

export const noCounts = (): WorksheetCounts => ({
  rises: 0,
  falls: 0,
  unchanged: 0,
  first: 0,
  without: 0,
  guarded: 0,
  held: 0,
});

/**
 * Writes rows of COPY's text format digit by digit: no text is made, and no figure is rounded.
 * `posted`: in whole units of the prices' scale.
 */
export function encodePrices(
  prices: BulkPrices,
  posted: Float64Array,
  names: RowNames,
  start: number,
  end: number,
): PricedBlock {
  const writer = new Writer((end - start) * MOST_BYTES);
  const places = Math.round(Math.log10(prices.scale));
  const open: number[] = [];
  const counts = noCounts();
  for (let i = start; i < end; i++) {
    if (prices.flag[i] === OPEN) {
      open.push(i);
      continue;
    }
    const before = posted[i]!;
    const after = prices.price[i]!;
    if (Number.isNaN(before)) counts.first++;
    else if (after > before) counts.rises++;
    else if (after < before) counts.falls++;
    else counts.unchanged++;
    if (prices.flag[i] === BIT) counts.guarded++;
    writer.whole(names.worksheet, TAB);
    writer.whole(names.list, TAB);
    writer.whole(names.items[i]!, TAB);
    writer.whole(names.packs[i]!, TAB);
    writer.figure(before, places);
    writer.figure(after, places);
    writer.figure(prices.markup[i]!, PERCENT_PLACES);
    writer.figure(prices.margin[i]!, PERCENT_PLACES);
    writer.whole(prices.flag[i]!, TAB);
    writer.whole(prices.guards[i]!, TAB);
    writer.whole(prices.row[i]!, TAB);
    writer.figure(prices.wouldFallTo[i]!, places);
    writer.none(NEWLINE);
  }
  return { text: writer.written(), open: Int32Array.from(open), counts, become: null };
}

class Writer {
  private readonly bytes: Uint8Array;
  private at = 0;
  private readonly digits = new Uint8Array(24);

  constructor(most: number) {
    this.bytes = new Uint8Array(most);
  }

  none(after: number): void {
    this.bytes[this.at++] = 92;
    this.bytes[this.at++] = 78;
    this.bytes[this.at++] = after;
  }

  whole(value: number, after: number): void {
    this.number(value, 0);
    this.bytes[this.at++] = after;
  }

  /** A whole number of the last decimal place; not a number: none. */
  figure(value: number, places: number): void {
    if (value !== value) {
      this.none(TAB);
      return;
    }
    this.number(value, places);
    this.bytes[this.at++] = TAB;
  }

  private number(value: number, places: number): void {
    const { bytes, digits } = this;
    let rest = value;
    if (rest < 0) {
      bytes[this.at++] = MINUS;
      rest = -rest;
    }
    let count = 0;
    // whole doubles beyond 32 bits are taken apart once, then in integers
    while (rest > 0x7fffffff) {
      const next = Math.floor(rest / 10);
      digits[count++] = rest - next * 10;
      rest = next;
    }
    let small = rest | 0;
    do {
      const next = (small / 10) | 0;
      digits[count++] = small - next * 10;
      small = next;
    } while (small > 0);
    while (count <= places) digits[count++] = 0;
    while (count > 0) {
      bytes[this.at++] = ZERO + digits[--count]!;
      if (count === places && places > 0) bytes[this.at++] = POINT;
    }
  }

  written(): Uint8Array {
    return this.bytes.slice(0, this.at);
  }
}
