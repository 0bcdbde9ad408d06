import {
  MOST_QUANTITY_COLUMNS,
  type QuantityColumn,
  type SheetField,
  type SheetLayout,
  type SheetMatch,
} from '#contract/sheet-match.ts';
import { dec } from '#core/numbers/decimal.ts';
import { parseNumber, proposeNumberFormat } from '#core/numbers/parse-number.ts';
import { parseDay } from './read-rows.ts';
import {
  type Source,
  type Table,
  allRows,
  decode,
  proposeDelimiter,
  proposeEncoding,
  readTable,
} from './read-table.ts';
import { UnreadableSheet } from './unreadable.ts';
import type { Page } from './workbook.ts';

/** Words by which suppliers head their columns, in several languages. */
const HEADINGS: Record<SheetField, RegExp> = {
  code: /^(sku|code|item ?(code|no|number)?|article( ?(no|number|code))?|art\.? ?(nr|no)\.?|artikelnr\.?|artikelnummer|artikelkod|product ?(code|no)|our ref|ref(erence|erencia)?|réf(érence)?|código|codice|codigo|part( ?(no|number))?|varenr|varenummer|bestellnr|bestelnummer|numéro d.article)\.?$/i,
  barcode:
    /^(barcode|bar code|ean|ean[ -]?(8|13)|gtin(-?\d+)?|upc|strichcode|strekkode|streckkod|stregkode|code-barres|codice a barre|código de barras)\.?$/i,
  cost: /(cost|net ?price|unit ?price|^price|preis|pris\b|trade|einkauf|innkj|inköp|nettopreis|prix|prezzo|precio|prijs|coste|costo)/i,
  reducedCost: /(reduced|promo|special|offer|aktion|kampanj|kampanje|tilbud|sonderpreis|remise|oferta|actie)/i,
  fromQuantity:
    /^(from|ab|fra|från|à partir|a partir|desde|da|vanaf)[ .]*(de )?(qty|quantity|menge|antall|antal|aantal|quantité|cantidad|quantità)|^(min(imum|dest)?|least)[ .-]*(order )?(qty|quantity|menge|antall|antal|aantal|quantité|cantidad|quantità)\.?$/i,
  currency: /^(currency|curr|cur|ccy|währung|valuta|devise|divisa|moneda|monnaie)\.?$/i,
  packUnits:
    /(pack ?(size|qty|units)|per ?pack|units|qty|quantity|menge|length|metres|meters|inhalt|antall|antal|aantal|quantité|cantidad|quantità|ve$)/i,
  name: /(name|description|desc\b|bezeichnung|text|benevnelse|benämning|item description|désignation|descripción|descrizione|omschrijving|betegnelse)/i,
  unit: /^(unit|uom|einheit|enhet|enhed|unité|unidad|unità|eenheid)$/i,
  weightKg: /(weight|\bkg\b|gewicht|vekt|vikt|vægt|poids|peso)/i,
  rrp: /(rrp|recommended|retail|list price|uvp|veil|ca-?pris|prix conseillé|adviesprijs|pvp)/i,
  map: /(\bmap\b|minimum advertised|least advertised|advertised)/i,
  validTo:
    /(valid (to|until|till|thru)|\bto date|\buntil\b|end date|last day|expir|gültig bis|gyldig til|giltig till|\bbis\b|valable jusqu|válido hasta|valido fino|geldig tot)/i,
  validFrom: /(valid|from|effective|gültig|gyldig|giltig|\bdate\b|datum|dato|valable|válido|valido|geldig)/i,
};

/** The heading that says the most comes first: "RRP" before "price", "pack size" before "unit". */
const ORDER = [
  'barcode',
  'code',
  'rrp',
  'map',
  'currency',
  'weightKg',
  'reducedCost',
  'fromQuantity',
  'packUnits',
  'validTo',
  'validFrom',
  'unit',
  'name',
  'cost',
] as const;

function columnsOf(header: readonly string[]): SheetMatch['columns'] {
  const columns: SheetMatch['columns'] = {};
  const taken = new Set(quantityColumnsOf(header).map((q) => q.column));
  for (const field of ORDER) {
    const at = header.findIndex((h, i) => !taken.has(i) && HEADINGS[field].test(h.trim()));
    if (at < 0) continue;
    columns[field] = at;
    taken.add(at);
  }
  return columns;
}

/** A heading such as "Price 10+", "from 10", "ab 10 Stk.", ">= 50": costs from so many on. */
const FROM_HEADING =
  /^(?:(?:net )?(?:price|cost|pris|preis|prix|precio|prezzo|prijs)\s*)?(?:(?:from|ab|fra|från|dès|desde|da|vanaf|>=|≥)\s*(\d+)|(\d+)\s*\+)(?:\s*(?:pcs|packs?|stk|st|pièces|pz|uds)\.?)?$/i;

/** Columns that say by their heading from how many at once their cost holds; one from 1 on is the cost itself. */
function quantityColumnsOf(header: readonly string[]): QuantityColumn[] {
  return header
    .flatMap((h, column) => {
      const found = FROM_HEADING.exec(h.trim());
      const from = found?.[1] ?? found?.[2];
      return from && dec(from).gt(1) ? [{ column, from, fromColumn: null }] : [];
    })
    .slice(0, MOST_QUANTITY_COLUMNS);
}

type Rows = ReturnType<typeof allRows>;

const known = (cells: readonly string[]): number =>
  cells.filter((c) => c !== '' && Object.values(HEADINGS).some((h) => h.test(c.trim()))).length;
const holdsFigure = (cells: readonly string[]): boolean => cells.some((c) => /^[^a-z]*\d[^a-z]*$/i.test(c));
const filled = (cells: readonly string[]): number => cells.filter((c) => c !== '').length;

/** How far down a heading is looked for. */
const FIRST_ROWS = 30;

/**
 * Where the columns are named: the row near the top that knows the most headings, with the one above it where that stretches
 * over several columns; without any, the first row if it holds no figure.
 */
function proposeHeader(rows: Rows): Pick<SheetMatch, 'skip' | 'headerRows'> {
  const top = rows.slice(0, FIRST_ROWS);
  let best = 0;
  for (const [i, { cells }] of top.entries()) if (known(cells) > known(top[best]!.cells)) best = i;
  const { row, cells } = top[best]!;
  const words = known(cells);
  if (words >= 2 || (words === 1 && best === 0)) {
    const above = top[best - 1];
    const below = top[best + 1];
    // the row below goes on naming where it holds no figure and fills what the upper one leaves open
    const goesOn = words > 0 && below && !holdsFigure(below.cells) && known(below.cells) > 0 && rows.length > best + 2;
    if (goesOn && filled(below.cells) <= cells.length) return { skip: row - 1, headerRows: 2 };
    const stretched = above && above.row === row - 1 && !holdsFigure(above.cells) && known(above.cells) > 0;
    return stretched ? { skip: above.row - 1, headerRows: 2 } : { skip: row - 1, headerRows: 1 };
  }
  return { skip: 0, headerRows: holdsFigure(top[0]!.cells) ? 0 : 1 };
}

/** The sheet of a workbook that looks most like one of costs: whose headings say the most, then the longest. */
function proposePage(pages: readonly Page[]): string {
  const score = (p: Page) =>
    Math.max(0, ...p.rows.slice(0, FIRST_ROWS).map((r) => known(r.map((c) => (typeof c === 'string' ? c : c.n)))));
  return [...pages].sort((a, b) => score(b) - score(a) || b.rows.length - a.rows.length)[0]!.name;
}

/** Proposes how a sheet is to be read; the person confirms or corrects it. */
export function proposeMatch(source: Source, validFrom: string): SheetMatch {
  const encoding = source.pages ? 'utf-8' : proposeEncoding(source.content);
  const delimiter = source.pages ? ',' : proposeDelimiter(decode(source.content, encoding));
  const page = source.pages ? proposePage(source.pages) : null;
  const how = { encoding, delimiter, page, decimal: '.' as const };
  const rows = allRows(source, how);
  if (rows.length === 0) throw new UnreadableSheet('it has no rows');
  const found = proposeHeader(rows);
  const table = readTable(source, { ...how, ...found });
  const columns = found.headerRows === 0 ? {} : columnsOf(table.header);
  return {
    page,
    ...found,
    encoding,
    delimiter,
    ...writingOf(table, columns),
    columns,
    quantityColumns: found.headerRows === 0 ? [] : quantityColumnsOf(table.header),
    validFrom,
    known: 'leave',
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

/** How the supplier's last sheet was read. */
export interface Learnt {
  readonly like: NonNullable<SheetLayout['like']>;
  readonly match: SheetMatch;
  readonly header: readonly string[];
}

const bare = (heading: string) => heading.trim().toLowerCase();
const without = (these: readonly string[], others: readonly string[]) =>
  these.filter((h) => h !== '' && !others.some((o) => bare(o) === bare(h)));

/**
 * How a sheet is to be read, where one of the same supplier was read before: in the same way, its columns found by their
 * headings wherever they stand now. What stands there no longer, and what is new, is told.
 */
export function matchAsBefore(
  source: Source,
  validFrom: string,
  learnt: Learnt | null,
): { match: SheetMatch; layout: SheetLayout; header: string[] } {
  const fresh = proposeMatch(source, validFrom);
  const headerOf = (m: SheetMatch) => (m.headerRows === 0 ? [] : readTable(source, m).header);
  if (!learnt)
    return { match: fresh, layout: { like: null, gone: [], fresh: [], rewritten: false }, header: headerOf(fresh) };
  const page = source.pages?.find((p) => p.name === learnt.match.page)?.name ?? fresh.page;
  // where it begins and how it is written is this file's own
  const { encoding, delimiter } = fresh;
  const { skip, headerRows } = headerAsBefore(source, { ...fresh, page }, learnt) ?? fresh;
  // whether unknown codes become items is said each time
  const own = { ...learnt.match, page, skip, headerRows, encoding, delimiter, validFrom, newItems: fresh.newItems };
  const header = headerOf(own);
  const layout = {
    like: learnt.like,
    gone: without(learnt.header, header),
    fresh: without(header, learnt.header),
    rewritten: false,
  };
  if (headerRows === 0) {
    const same = learnt.match.headerRows === 0;
    return { match: same ? own : fresh, layout, header };
  }
  const columns: SheetMatch['columns'] = {};
  const nowAt = (at: number): number | null => {
    const was = bare(learnt.header[at] ?? '');
    // of two of one name the one that stands where it stood
    const now = header[at] !== undefined && bare(header[at]) === was ? at : header.findIndex((h) => bare(h) === was);
    return was !== '' && now >= 0 ? now : null;
  };
  for (const [field, at] of Object.entries(learnt.match.columns)) {
    const now = nowAt(at);
    if (now !== null) columns[field as SheetField] = now;
  }
  const kept = (learnt.match.quantityColumns ?? []).flatMap((q): QuantityColumn[] => {
    const column = nowAt(q.column);
    const fromColumn = q.fromColumn === null ? null : nowAt(q.fromColumn);
    return column === null || (q.fromColumn !== null && fromColumn === null) ? [] : [{ ...q, column, fromColumn }];
  });
  // a heading that is new may say what an old one said
  const taken = new Set(Object.values(columns));
  for (const [field, at] of Object.entries(fresh.columns))
    if (columns[field as SheetField] === undefined && !taken.has(at) && layout.fresh.includes(header[at] ?? ''))
      columns[field as SheetField] = at;
  const fresher = fresh.quantityColumns.filter(({ column }) => layout.fresh.includes(header[column] ?? ''));
  const quantityColumns = [...kept, ...fresher].slice(0, MOST_QUANTITY_COLUMNS);
  const written = writtenAs(readTable(source, own), columns, learnt.match);
  return {
    match: { ...own, ...written, columns, quantityColumns },
    layout: { ...layout, rewritten: written !== null },
    header,
  };
}

/** The row that names the columns as the last sheet's did, most of them, where it had one such row. */
function headerAsBefore(source: Source, match: SheetMatch, { header, match: before }: Learnt) {
  if (before.headerRows !== 1) return null;
  const names = new Set(header.filter((h) => h !== '').map(bare));
  const found = allRows(source, match)
    .slice(0, FIRST_ROWS)
    .find(({ cells }) => cells.filter((c) => names.has(bare(c))).length * 2 > names.size);
  return found ? { skip: found.row - 1, headerRows: 1 as const } : null;
}

type Writing = Pick<SheetMatch, 'decimal' | 'thousands' | 'dates'>;

/** How numbers and days are written here, where more of them can be read so than as before; null: as before. */
function writtenAs(table: Table, columns: SheetMatch['columns'], before: Writing): Writing | null {
  const now = writingOf(table, columns);
  const { numbers, days } = samplesOf(table, columns);
  const readWith = (w: Writing) =>
    numbers.filter((t) => parseNumber(t, w).ok).length + days.filter((t) => parseDay(t, w.dates) !== null).length;
  return readWith(now) > readWith(before) ? now : null;
}

const NUMERIC = ['cost', 'reducedCost', 'fromQuantity', 'rrp', 'map', 'weightKg', 'packUnits'] as const;
const SAMPLES = 2000;

function samplesOf({ rows }: Table, columns: SheetMatch['columns']) {
  const of = (at: number | undefined) =>
    at === undefined ? [] : rows.slice(0, SAMPLES).flatMap((r) => r.cells[at] || []);
  return { numbers: NUMERIC.flatMap((f) => of(columns[f])), days: [...of(columns.validFrom), ...of(columns.validTo)] };
}

function writingOf(table: Table, columns: SheetMatch['columns']): Writing {
  const { numbers, days } = samplesOf(table, columns);
  return { ...proposeNumberFormat(numbers), dates: proposeDates(days) };
}

/** Whether it is laid out just like the one that was read before: then nobody has to look how it is read. */
export const isLaidOutAlike = ({ like, gone, fresh, rewritten }: SheetLayout): boolean =>
  like !== null && gone.length === 0 && fresh.length === 0 && !rewritten;
