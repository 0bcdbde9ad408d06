import { type RowFault, type RowFaultCode, type SheetCorrections } from '#contract/costs.ts';
import { SHEET_FIELD_NAMES, type SheetField, type SheetMatch } from '#contract/sheet-match.ts';
import { asTyped } from '#contract/harmless.ts';
import { isCurrencyCode } from '#core/numbers/currency.ts';
import { dec } from '#core/numbers/decimal.ts';
import type { QuantityPrice } from '#core/costs/cost.ts';
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
  /** What more at once costs, the fewest first. */
  readonly quantityPrices: readonly QuantityPrice[];
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
  dec(a.reduced ?? 0).eq(b.reduced ?? 0) &&
  a.quantityPrices.length === b.quantityPrices.length &&
  a.quantityPrices.every(
    (q, i) => dec(q.from).eq(b.quantityPrices[i]!.from) && dec(q.cost).eq(b.quantityPrices[i]!.cost),
  );

/** A figure as the match says it is written, or why it is none. */
function figureIn(
  text: string,
  match: SheetMatch,
  atLeast: 'zero' | 'above zero',
): { value: string; why: null } | { value: null; why: RowFaultCode } {
  const read = parseNumber(text, match);
  if (!read.ok) return { value: null, why: read.why };
  if (dec(read.value).lt(0)) return { value: null, why: 'negative' };
  if (atLeast === 'above zero' && dec(read.value).isZero()) return { value: null, why: 'zero' };
  return { value: read.value, why: null };
}

const ascending = (prices: readonly QuantityPrice[]): QuantityPrice[] =>
  [...prices].sort((a, b) => dec(a.from).cmp(b.from));

/** Costs for more at once that stand in columns of a row; empty cells say nothing. */
function quantityPricesIn(
  cells: readonly string[],
  match: SheetMatch,
  say: (column: number, value: string, why: RowFaultCode) => void,
): QuantityPrice[] {
  const out: QuantityPrice[] = [];
  const figure = (column: number, text: string, atLeast: 'zero' | 'above zero') => {
    const { value, why } = figureIn(text, match, atLeast);
    if (why !== null) say(column, text, why);
    return value;
  };
  // a match that was kept before there were any has none
  for (const { column, from, fromColumn } of match.quantityColumns ?? []) {
    const cost = asTyped(cells[column] ?? '');
    const quantity = from ?? asTyped(cells[fromColumn!] ?? '');
    if (cost === '' && (from !== null || quantity === '')) continue;
    if (cost === '' || quantity === '') {
      say(cost === '' ? column : fromColumn!, cost || quantity, 'quantity_without_cost');
      continue;
    }
    const [what, many] = [figure(column, cost, 'zero'), from ?? figure(fromColumn!, quantity, 'above zero')];
    if (what !== null && many !== null) out.push({ from: many, cost: what });
  }
  return ascending(out);
}

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
  /** Rows that say what more at once costs, of a code that has a row of its own. */
  const forMore: { read: SheetRow; from: string }[] = [];
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
      const { value, why } = figureIn(text, match, atLeast);
      if (why !== null) say(field, text, why);
      return value;
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
    const fromQuantity = cell('fromQuantity') ? number('fromQuantity', null, 'above zero') : null;
    const quantityPrices = quantityPricesIn(cells, match, (column, value, why) =>
      wrong.push({ row, column: table.header[column] || `column ${column + 1}`, value, code: why, field: null }),
    );
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
      quantityPrices,
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
    if (fromQuantity !== null && dec(fromQuantity).gt(1)) {
      forMore.push({ read, from: fromQuantity });
      continue;
    }
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
  const column = table.header[match.columns.fromQuantity ?? -1] || SHEET_FIELD_NAMES.fromQuantity;
  for (const { read, from } of forMore) {
    const at = seen.get(`${read.code.toLowerCase()}\u0000${read.validFrom}`);
    const base = at === undefined ? null : rows[at]!;
    const fault = (code: RowFaultCode, value: string, earlier?: number) =>
      faults.push({ row: read.row, column, value, code, field: 'fromQuantity', ...(earlier ? { earlier } : {}) });
    if (!base || base.currency !== read.currency || !dec(base.packUnits).eq(read.packUnits)) {
      fault('no_cost_for_fewer', `${read.code}: ${from}`);
      continue;
    }
    const other = base.quantityPrices.find((q) => dec(q.from).eq(from));
    if (other && !dec(other.cost).eq(read.cost)) fault('duplicate', `${read.code}: ${from}`, base.row);
    else if (!other)
      rows[at!] = { ...base, quantityPrices: ascending([...base.quantityPrices, { from, cost: read.cost }]) };
  }
  return { rows: disputed.size === 0 ? rows : rows.filter((_, i) => !disputed.has(i)), faults, leftOut };
}
