import Papa from 'papaparse';
import {
  type RowFault,
  type RowFaultCode,
  type SheetCorrections,
  SHEET_FIELD_NAMES,
  type SheetField,
  type SheetMatch,
} from '#contract/costs.ts';
import { asTyped } from '#contract/harmless.ts';
import { isCurrencyCode } from '#core/numbers/currency.ts';
import { dec } from '#core/numbers/decimal.ts';
import { parseNumber, proposeNumberFormat } from '#core/numbers/parse-number.ts';

/** A file taken apart into cells; nothing in it has been interpreted yet. */
export interface Table {
  readonly header: string[];
  /** Each with its row as a spreadsheet shows it: the first of the file is row 1. */
  readonly rows: { readonly row: number; readonly cells: string[] }[];
}

export class UnreadableSheet extends Error {}

/** The encoding that a byte order mark or the bytes themselves speak for. UTF-8 is certain when it decodes; else Windows-1252. */
export function proposeEncoding(bytes: Uint8Array): SheetMatch['encoding'] {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}

function decode(bytes: Uint8Array, encoding: SheetMatch['encoding']): string {
  // the decoder takes a byte order mark away
  return new TextDecoder(encoding).decode(bytes);
}

/** The delimiter that parts the first lines into the most even columns. */
export function proposeDelimiter(text: string): string {
  const guess = Papa.parse<string[]>(text.slice(0, 64 * 1024), {
    delimitersToGuess: [';', ',', '\t', '|'],
    preview: 20,
    skipEmptyLines: 'greedy',
  }).meta.delimiter;
  return [',', ';', '\t', '|'].includes(guess) ? guess : ',';
}

export function readTable(bytes: Uint8Array, how: Pick<SheetMatch, 'encoding' | 'delimiter' | 'header'>): Table {
  // files put together from several carry several kinds of line ends: the parser knows one at a time
  const text = decode(bytes, how.encoding).replace(/\r\n?/g, '\n');
  if (text.includes('\u0000')) throw new UnreadableSheet('it holds bytes that no text file has; save it as CSV');
  const parsed = Papa.parse<string[]>(text, { delimiter: how.delimiter, newline: '\n' });
  const open = parsed.errors.find((e) => e.code === 'MissingQuotes');
  if (open) throw new UnreadableSheet(`a quotation mark opened in row ${(open.row ?? 0) + 1} is never closed`);
  const all = parsed.data
    .map((cells, i) => ({ row: i + 1, cells: cells.map((c) => c.trim()) }))
    .filter(({ cells }) => cells.some((c) => c !== ''));
  if (!how.header) {
    if (all.length === 0) throw new UnreadableSheet('it has no rows');
    const columns = all.reduce((most, r) => Math.max(most, r.cells.length), 0);
    return { header: Array.from({ length: columns }, (_, i) => `column ${i + 1}`), rows: all };
  }
  const [head, ...rows] = all;
  if (!head || rows.length === 0) throw new UnreadableSheet('it has no rows below its header');
  return { header: head.cells, rows };
}

/** Words by which suppliers head their columns, in several languages. */
const HEADINGS: Record<SheetField, RegExp> = {
  code: /^(sku|code|item ?(code|no|number)?|article( ?(no|number))?|art\.? ?(nr|no)\.?|artikelnr\.?|artikelnummer|product ?(code|no)|our ref|ref(erence)?|part( ?no)?|varenr|bestellnr)\.?$/i,
  barcode: /^(barcode|bar code|ean|ean[ -]?(8|13)|gtin(-?\d+)?|upc|strichcode|strekkode|streckkod)\.?$/i,
  cost: /(cost|net ?price|unit ?price|^price|preis|pris|trade|einkauf|innkj|nettopreis)/i,
  currency: /^(currency|curr|cur|ccy|währung|valuta)\.?$/i,
  packUnits: /(pack ?(size|qty|units)|per ?pack|units|qty|quantity|menge|length|metres|inhalt|antall|ve$)/i,
  name: /(name|description|desc|bezeichnung|text|benevnelse|benämning|item description)/i,
  unit: /^(unit|uom|einheit|enhet)$/i,
  weightKg: /(weight|kg|gewicht|vekt|vikt)/i,
  rrp: /(rrp|recommended|retail|list price|uvp|veil)/i,
  validFrom: /(valid|from|effective|gültig|gyldig|giltig|date)/i,
};

/** Whether the first row names the columns: it knows a heading, or holds no figure. */
function proposeHeader(first: readonly string[]): boolean {
  const known = first.some((c) => Object.values(HEADINGS).some((h) => h.test(c)));
  return known || !first.some((c) => /^[^a-z]*\d[^a-z]*$/i.test(c));
}

/** Proposes how a sheet is to be read; the person confirms or corrects it. */
export function proposeMatch(bytes: Uint8Array, validFrom: string): SheetMatch {
  const encoding = proposeEncoding(bytes);
  const delimiter = proposeDelimiter(decode(bytes, encoding));
  const header = proposeHeader(readTable(bytes, { encoding, delimiter, header: false }).rows[0]!.cells);
  const table = readTable(bytes, { encoding, delimiter, header });
  const columns: SheetMatch['columns'] = {};
  const taken = new Set<number>();
  // the heading that says the most comes first: "RRP" before "price", "pack size" before "unit"
  for (const field of [
    'barcode',
    'code',
    'rrp',
    'currency',
    'weightKg',
    'packUnits',
    'validFrom',
    'unit',
    'name',
    'cost',
  ] as const) {
    const at = !header ? -1 : table.header.findIndex((h, i) => !taken.has(i) && HEADINGS[field].test(h.trim()));
    if (at >= 0) {
      columns[field] = at;
      taken.add(at);
    }
  }
  const numeric = (['cost', 'rrp', 'weightKg'] as const).flatMap((f) => (columns[f] === undefined ? [] : [columns[f]]));
  const format = proposeNumberFormat(table.rows.slice(0, 2000).flatMap((r) => numeric.map((c) => r.cells[c] ?? '')));
  const days =
    columns.validFrom === undefined ? [] : table.rows.slice(0, 500).map((r) => r.cells[columns.validFrom!] ?? '');
  return {
    encoding,
    delimiter,
    header,
    ...format,
    dates: proposeDates(days),
    columns,
    validFrom,
    newItems: 'leave_out',
    category: null,
    taxClass: null,
  };
}

function proposeDates(days: readonly string[]): SheetMatch['dates'] {
  const parts = days.map((d) => /^(\d{1,2})[./-](\d{1,2})[./-]\d{2,4}$/.exec(d)).filter((m) => m !== null);
  if (parts.length === 0) return 'iso';
  return parts.some((m) => Number(m[2]) > 12) ? 'month_first' : 'day_first';
}

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
  readonly currency: string;
  readonly packUnits: string;
  /** The file says how many units are in the cost pack; else it is one. */
  readonly packSaid: boolean;
  readonly validFrom: string;
  readonly name: string;
  readonly unit: string | null;
  readonly weightKg: string | null;
  readonly rrp: string | null;
  /** The row stands a second time in the file, word for word. */
  readonly listedTwice: boolean;
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
  for (const { row, cells } of table.rows) {
    const corrected = corrections[row];
    if (corrected?.leaveOut) {
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
    if (surplus.length > 0 && !corrected)
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
    const dayText = cell('validFrom');
    const validFrom = dayText ? parseDay(dayText, match.dates) : match.validFrom;
    if (validFrom === null) say('validFrom', dayText ?? '', 'not_a_day');
    if (wrong.length > 0 || cost === null || packUnits === null || validFrom === null) {
      faults.push(...wrong);
      continue;
    }
    const read: SheetRow = {
      row,
      code,
      barcode,
      cost,
      currency,
      packUnits,
      packSaid: Boolean(cell('packUnits')),
      validFrom,
      name: cell('name') ?? '',
      unit: cell('unit') || null,
      weightKg,
      rrp,
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
    if (dec(earlier.cost).eq(cost) && earlier.currency === currency && dec(earlier.packUnits).eq(packUnits)) {
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
