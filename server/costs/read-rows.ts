import { type RowFault, type RowFaultCode, type SheetCorrections } from '#contract/costs.ts';
import { SHEET_FIELD_NAMES, type SheetField, type SheetMatch } from '#contract/sheet-match.ts';
import { asTyped } from '#contract/harmless.ts';
import { isCurrencyCode } from '#core/numbers/currency.ts';
import { dec } from '#core/numbers/decimal.ts';
import { parseNumber } from '#core/numbers/parse-number.ts';
import type { Table } from './read-table.ts';

/** A day in the chosen order, as ISO; null where it is not one. */
export function parseDay(text: string, order: SheetMatch['dates']): string | null {
  const iso = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text);
  const other = /^(\d{1,2})[./-](\d{1,2})[./-](\d{4})$/.exec(text);
  const [y, m, d] = iso
    ? [iso[1], iso[2], iso[3]]
    : other && order !== 'iso'
      ? order === 'day_first'
        ? [other[3], other[2], other[1]]
        : [other[3], other[1], other[2]]
      : [];
  if (!y || !m || !d) return null;
  const day = `${y}-${m.padStart(2, '0')}-${d.padStart(2, '0')}`;
  const real = new Date(`${day}T00:00:00Z`);
  return !Number.isNaN(real.getTime()) && real.toISOString().startsWith(day) ? day : null;
}

export interface SheetRow {
  readonly row: number;
  /** The barcode where the file has no code in this row. */
  readonly code: string;
  readonly barcode: string | null;
  readonly cost: string;
  /** Paid instead for the time being; null: no such column, or nothing in it. */
  readonly reduced: string | null;
  readonly currency: string;
  readonly packUnits: string;
  /** The file says how many units are in the cost pack; else it is one. */
  readonly packSaid: boolean;
  readonly validFrom: string;
  readonly validTo: string | null;
  readonly name: string;
  readonly unit: string | null;
  readonly weightKg: string | null;
  readonly rrp: string | null;
  readonly map: string | null;
  /** The row stands a second time in the file, word for word. */
  readonly listedTwice: boolean;
}

const sameCost = (a: SheetRow, b: SheetRow): boolean =>
  dec(a.cost).eq(b.cost) &&
  a.currency === b.currency &&
  a.validTo === b.validTo &&
  dec(a.packUnits).eq(b.packUnits) &&
  (a.reduced === null) === (b.reduced === null) &&
  dec(a.reduced ?? 0).eq(b.reduced ?? 0);

export interface ReadSheet {
  readonly rows: SheetRow[];
  readonly faults: RowFault[];
  /** What a person left out: not read, and no fault. */
  readonly leftOut: number[];
}

/**
 * Reads every row as the match says, with what a person corrected in it. A row with a fault is left out and told of;
 * nothing is guessed.
 */
export function readRows(
  table: Table,
  match: SheetMatch,
  supplierCurrency: string,
  corrections: SheetCorrections = {},
): ReadSheet {
  const rows: SheetRow[] = [];
  const faults: RowFault[] = [];
  const leftOut: number[] = [];
  /** Where in `rows` the first of a code and day stands. */
  const seen = new Map<string, number>();
  // of two that disagree neither is taken: which one is meant only a person can say
  const disputed = new Set<number>();
  for (const { row, cells } of table.rows) {
    const corrected = corrections[row];
    if (corrected?.decision === 'left_out') {
      leftOut.push(row);
      continue;
    }
    const wrong: RowFault[] = [];
    const column = (field: SheetField) =>
      match.columns[field] === undefined
        ? SHEET_FIELD_NAMES[field]
        : (table.header[match.columns[field]] ?? SHEET_FIELD_NAMES[field]);
    const say = (field: SheetField, value: string, code: RowFaultCode) =>
      wrong.push({ row, column: column(field), value, code, field });
    const cell = (field: SheetField): string | null =>
      corrected?.cells?.[field] ??
      (match.columns[field] === undefined ? null : asTyped(cells[match.columns[field]] ?? ''));
    const number = (field: SheetField, absent: string | null, atLeast: 'zero' | 'above zero'): string | null => {
      const text = cell(field);
      if (text === null || (text === '' && absent !== null)) return absent;
      const read = parseNumber(text, match);
      const why = !read.ok
        ? read.why
        : dec(read.value).lt(0)
          ? 'negative'
          : atLeast === 'above zero' && dec(read.value).isZero()
            ? 'zero'
            : null;
      if (why !== null) say(field, text, why);
      return read.ok && why === null ? read.value : null;
    };
    // a delimiter too many has shifted the cells behind it; a person who corrected the row has looked at it
    const surplus = cells.slice(table.header.length).filter((c) => c !== '');
    if (surplus.length > 0 && !corrected?.cells)
      wrong.push({
        row,
        column: `column ${table.header.length + 1}`,
        value: surplus.join(' · '),
        code: 'too_many_columns',
        field: null,
      });
    const barcode = cell('barcode')?.replace(/[\s-]/g, '') || null;
    const code = cell('code') || barcode || '';
    if (code === '') say('code', code, 'empty');
    const cost = number('cost', null, 'zero');
    if (cell('cost') === null) say('cost', '', 'empty');
    const currency = (cell('currency') || supplierCurrency).toUpperCase();
    if (!isCurrencyCode(currency)) say('currency', currency, 'not_a_currency');
    const packUnits = number('packUnits', '1', 'above zero');
    const optional = (field: SheetField) => (cell(field) ? number(field, null, 'zero') : null);
    const weightKg = optional('weightKg');
    const rrp = optional('rrp');
    const map = optional('map');
    const reduced = optional('reducedCost');
    const dayText = cell('validFrom');
    const validFrom = dayText ? parseDay(dayText, match.dates) : match.validFrom;
    if (validFrom === null) say('validFrom', dayText ?? '', 'not_a_day');
    const lastText = cell('validTo');
    const validTo = lastText ? parseDay(lastText, match.dates) : null;
    if (lastText && validTo === null) say('validTo', lastText, 'not_a_day');
    if (validTo !== null && validFrom !== null && validTo < validFrom) say('validTo', validTo, 'ends_before');
    if (wrong.length > 0 || cost === null || packUnits === null || validFrom === null) {
      faults.push(...wrong);
      continue;
    }
    const read: SheetRow = {
      row,
      code,
      barcode,
      cost,
      reduced,
      currency,
      packUnits,
      packSaid: Boolean(cell('packUnits')),
      validFrom,
      validTo,
      name: cell('name') ?? '',
      unit: cell('unit') || null,
      weightKg,
      rrp,
      map,
      listedTwice: false,
    };
    const key = `${code.toLowerCase()}\u0000${validFrom}`;
    const at = seen.get(key);
    if (at === undefined) {
      seen.set(key, rows.length);
      rows.push(read);
      continue;
    }
    const earlier = rows[at]!;
    if (sameCost(earlier, read)) {
      rows[at] = { ...earlier, listedTwice: true };
    } else {
      disputed.add(at);
      faults.push({
        row,
        column: column('cost'),
        value: `${code}: ${cost} (row ${earlier.row}: ${earlier.cost})`,
        code: 'duplicate',
        field: 'cost',
        earlier: earlier.row,
      });
    }
  }
  return { rows: disputed.size === 0 ? rows : rows.filter((_, i) => !disputed.has(i)), faults, leftOut };
}
