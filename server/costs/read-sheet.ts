import Papa from 'papaparse';
import {
  type RowFault,
  type RowFaultCode,
  SHEET_FIELD_NAMES,
  type SheetField,
  type SheetMatch,
} from '#contract/costs.ts';
import { isCurrencyCode } from '#core/numbers/currency.ts';
import { dec } from '#core/numbers/decimal.ts';
import { parseNumber, proposeNumberFormat } from '#core/numbers/parse-number.ts';

/** A file taken apart into cells; nothing in it has been interpreted yet. */
export interface Table {
  readonly header: string[];
  /** Each with the line of the file it begins on, the header being row 1. */
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

export function readTable(bytes: Uint8Array, how: Pick<SheetMatch, 'encoding' | 'delimiter'>): Table {
  const text = decode(bytes, how.encoding);
  if (text.includes('\u0000')) throw new UnreadableSheet('it holds bytes that no text file has; save it as CSV');
  const parsed = Papa.parse<string[]>(text, { delimiter: how.delimiter });
  const open = parsed.errors.find((e) => e.code === 'MissingQuotes');
  if (open) throw new UnreadableSheet(`a quotation mark opened in row ${(open.row ?? 0) + 1} is never closed`);
  const all = parsed.data
    .map((cells, i) => ({ row: i + 1, cells: cells.map((c) => c.trim()) }))
    .filter(({ cells }) => cells.some((c) => c !== ''));
  const [head, ...rows] = all;
  if (!head || rows.length === 0) throw new UnreadableSheet('it has no rows below its header');
  return { header: head.cells, rows };
}

/** Words by which suppliers head their columns, in several languages. */
const HEADINGS: Record<SheetField, RegExp> = {
  code: /^(sku|code|item ?(code|no|number)?|article( ?(no|number))?|art\.? ?(nr|no)\.?|artikelnr\.?|artikelnummer|product ?(code|no)|our ref|ref(erence)?|part( ?no)?|varenr|bestellnr)\.?$/i,
  cost: /(cost|net ?price|unit ?price|^price|preis|pris|trade|einkauf|innkj|nettopreis)/i,
  currency: /^(currency|curr|cur|ccy|währung|valuta)\.?$/i,
  packUnits: /(pack ?(size|qty|units)|per ?pack|units|qty|quantity|menge|length|metres|inhalt|antall|ve$)/i,
  name: /(name|description|desc|bezeichnung|text|benevnelse|benämning|item description)/i,
  unit: /^(unit|uom|einheit|enhet)$/i,
  weightKg: /(weight|kg|gewicht|vekt|vikt)/i,
  rrp: /(rrp|recommended|retail|list price|uvp|veil)/i,
  validFrom: /(valid|from|effective|gültig|gyldig|giltig|date)/i,
};

/** Proposes how a sheet is to be read; the person confirms or corrects it. */
export function proposeMatch(bytes: Uint8Array, validFrom: string): SheetMatch {
  const encoding = proposeEncoding(bytes);
  const delimiter = proposeDelimiter(decode(bytes, encoding));
  const table = readTable(bytes, { encoding, delimiter });
  const columns: SheetMatch['columns'] = {};
  const taken = new Set<number>();
  // the heading that says the most comes first: "RRP" before "price", "pack size" before "unit"
  for (const field of [
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
    const at = table.header.findIndex((h, i) => !taken.has(i) && HEADINGS[field].test(h.trim()));
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
  readonly code: string;
  readonly cost: string;
  readonly currency: string;
  readonly packUnits: string;
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
}

/** Reads every row as the match says. A row with a fault is left out and told of; nothing is guessed. */
export function readRows(table: Table, match: SheetMatch, supplierCurrency: string): ReadSheet {
  const rows: SheetRow[] = [];
  const faults: RowFault[] = [];
  const seen = new Map<string, SheetRow>();
  for (const { row, cells } of table.rows) {
    const wrong: RowFault[] = [];
    const column = (field: SheetField) =>
      match.columns[field] === undefined
        ? SHEET_FIELD_NAMES[field]
        : (table.header[match.columns[field]] ?? SHEET_FIELD_NAMES[field]);
    const say = (field: SheetField, value: string, code: RowFaultCode) =>
      wrong.push({ row, column: column(field), value, code });
    const cell = (field: SheetField): string | null =>
      match.columns[field] === undefined ? null : (cells[match.columns[field]] ?? '');
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
    const code = cell('code') ?? '';
    if (code === '') say('code', code, 'empty');
    const cost = number('cost', null, 'zero');
    if (match.columns.cost === undefined) say('cost', '', 'empty');
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
      cost,
      currency,
      packUnits,
      validFrom,
      name: cell('name') ?? '',
      unit: cell('unit') || null,
      weightKg,
      rrp,
      listedTwice: false,
    };
    const key = `${code.toLowerCase()}\u0000${validFrom}`;
    const earlier = seen.get(key);
    if (!earlier) {
      seen.set(key, read);
      rows.push(read);
    } else if (dec(earlier.cost).eq(cost) && earlier.currency === currency && dec(earlier.packUnits).eq(packUnits)) {
      const at = rows.findIndex((r) => r === earlier);
      const marked = { ...earlier, listedTwice: true };
      if (at >= 0) rows[at] = marked;
      seen.set(key, marked);
    } else {
      faults.push({
        row,
        column: column('cost'),
        value: `${code}: ${cost} (row ${earlier.row}: ${earlier.cost})`,
        code: 'duplicate',
      });
    }
  }
  // of two that disagree neither is taken: which one is meant only a person can say
  const disputed = new Set(
    faults.filter((f) => f.code === 'duplicate').map((f) => f.value.split(':')[0]!.toLowerCase()),
  );
  return { rows: disputed.size === 0 ? rows : rows.filter((r) => !disputed.has(r.code.toLowerCase())), faults };
}
