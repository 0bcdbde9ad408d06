import { asTyped } from '#contract/harmless.ts';
import { compareNumbers } from '#contract/filters.ts';
import { type NumberForm, read } from '../kit/number-form.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

/** Which columns of a table hold what; by their place. */
export interface PriceColumns {
  readonly sku: number;
  /** -1: there is none, and items of one pack alone are met. */
  readonly pack: number;
  readonly price: number;
}

/** What a row of the file comes to. */
export interface FilePrice {
  /** As counted in the file, the first row being 1. */
  readonly row: number;
  readonly sku: string;
  readonly pack: string;
  readonly typed: string;
  readonly outcome: 'differs' | 'same' | 'unknown' | 'unreadable' | 'twice' | 'empty';
  readonly why: string | null;
  readonly price: ListPriceRow | null;
  readonly value: string | null;
}

const word = (cell: string | undefined) => (cell ?? '').trim().toLowerCase();

/** The row that names the columns: the first in which one is called SKU. Null: none is. */
export function headOf(rows: readonly (readonly string[])[]): number | null {
  const at = rows.slice(0, 20).findIndex((r) => r.some((c) => word(c) === 'sku'));
  return at < 0 ? null : at;
}

/** Which columns are most likely meant: a typed or new price before a computed, asked or posted one. */
export function guessColumns(head: readonly string[]): PriceColumns {
  const find = (...starts: string[]) =>
    starts.map((s) => head.findIndex((c) => word(c).startsWith(s))).find((at) => at >= 0) ?? -1;
  return { sku: find('sku'), pack: find('pack'), price: find('new', 'typed', 'price', 'computed', 'asked', 'posted') };
}

/** Holds the prices of a file against those of a list; nothing is changed by it. */
export function matchPrices(
  rows: readonly (readonly string[])[],
  head: number,
  columns: PriceColumns,
  prices: readonly ListPriceRow[],
  { form, exact, decimals }: { form: NumberForm; exact: boolean; decimals: number },
): FilePrice[] {
  const bySku = new Map<string, ListPriceRow[]>();
  for (const p of prices) bySku.set(word(p.sku), [...(bySku.get(word(p.sku)) ?? []), p]);
  const seen = new Set<string>();
  return rows.slice(head + 1).map((cells, n): FilePrice => {
    const sku = asTyped(cells[columns.sku] ?? '').trim();
    const pack = columns.pack < 0 ? '' : asTyped(cells[columns.pack] ?? '').trim();
    const typed = (cells[columns.price] ?? '').trim();
    const row = head + n + 2;
    const ends = (outcome: FilePrice['outcome'], why: string | null, price: ListPriceRow | null = null): FilePrice => ({
      row,
      sku,
      pack,
      typed,
      outcome,
      why,
      price,
      value: null,
    });
    const known = bySku.get(word(sku)) ?? [];
    const found =
      columns.pack < 0
        ? known.length === 1
          ? known[0]
          : undefined
        : known.find((p) => word(p.packName) === word(pack));
    if (!found)
      return ends(
        'unknown',
        known.length === 0
          ? `no item has the SKU "${sku}"`
          : columns.pack < 0
            ? 'it has several packs: which is not said'
            : `it has no pack "${pack}"`,
      );
    if (typed === '') return ends('empty', null, found);
    const number = exact && /^\d+(\.\d+)?$/.test(typed) ? { ok: true as const, value: typed } : read(typed, form);
    if (!number.ok) return ends('unreadable', number.message, found);
    const value = number.value;
    if (value.startsWith('-') || /^0*(\.0*)?$/.test(value))
      return ends('unreadable', 'a price must be more than 0', found);
    if ((value.split('.')[1]?.replace(/0+$/, '').length ?? 0) > decimals)
      return ends('unreadable', `the list keeps ${decimals} decimals`, found);
    const key = `${found.item}-${found.pack}`;
    if (seen.has(key)) return ends('twice', 'stands in an earlier row already', found);
    seen.add(key);
    const now = found.posted;
    const same = now !== null && compareNumbers(now, value) === 0;
    return { ...ends(same ? 'same' : 'differs', null, found), value };
  });
}
