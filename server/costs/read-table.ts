import { gunzipSync, gzipSync } from 'node:zlib';
import iconv from 'iconv-lite';
import Papa from 'papaparse';
import type { SheetMatch } from '#contract/sheet-match.ts';
import { UnreadableSheet } from './unreadable.ts';
import type { Cell, Page } from './workbook.ts';

/** A file taken apart into cells; nothing in it has been interpreted yet. */
export interface Table {
  readonly header: string[];
  /** Each with its row as a spreadsheet shows it: the first of the file is row 1. */
  readonly rows: { readonly row: number; readonly cells: string[] }[];
}

/** A file as it is kept: its bytes, and where it is a workbook the sheets in it. */
export interface Source {
  readonly content: Buffer;
  readonly pages: readonly Page[] | null;
}

export const packPages = (pages: readonly Page[] | null): Buffer | null =>
  pages && gzipSync(JSON.stringify(pages), { level: 1 });
export const unpackPages = (packed: Buffer | null): Page[] | null =>
  packed && (JSON.parse(gunzipSync(packed).toString('utf8')) as Page[]);

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

export function decode(bytes: Uint8Array, encoding: SheetMatch['encoding']): string {
  // Node's own decoder of Windows-1252 is Latin-1: it makes control characters of the euro sign and the dash
  if (encoding === 'windows-1252') return iconv.decode(Buffer.from(bytes), encoding);
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

/** How the rows of a file are found, before any of them is taken for a heading. */
type HowRows = Pick<SheetMatch, 'encoding' | 'delimiter' | 'page' | 'decimal'>;
type Rows = { readonly row: number; readonly cells: string[] }[];

/** Every row that has a cell, numbered as a spreadsheet does. A number of a workbook is written with the chosen decimal mark. */
export function allRows({ content, pages }: Source, how: HowRows): Rows {
  return (pages ? pageRows(pages, how) : textRows(content, how)).filter(({ cells }) => cells.some((c) => c !== ''));
}

function pageRows(pages: readonly Page[], { page, decimal }: HowRows): Rows {
  const found = pages.find((p) => p.name === page);
  if (!found) throw new UnreadableSheet(`it has no sheet "${page ?? ''}"`);
  const text = (cell: Cell) => (typeof cell === 'string' ? cell.trim() : cell.n.replace('.', decimal));
  return found.rows.map((cells, i) => ({ row: i + 1, cells: cells.map(text) }));
}

/** As many rows as a spreadsheet shows, and cells as one of costs or items may have. */
const [MOST_ROWS, MOST_CELLS] = [1_048_576, 10_000_000];

/** Refuses a text that would come to more rows or cells than can be right, before any is made. */
function checkSize(text: string, delimiter: string): void {
  const count = (what: string, most: number): number => {
    let n = 0;
    for (let at = text.indexOf(what); at >= 0 && n <= most; at = text.indexOf(what, at + what.length)) n++;
    return n;
  };
  if (count('\n', MOST_ROWS) > MOST_ROWS)
    throw new UnreadableSheet('it has more than 1,048,576 rows: send it in parts');
  if (count(delimiter, MOST_CELLS) > MOST_CELLS) throw new UnreadableSheet('it has too many cells: send it in parts');
}

function textRows(bytes: Buffer, { encoding, delimiter }: HowRows): Rows {
  // files put together from several carry several kinds of line ends: the parser knows one at a time
  const text = decode(bytes, encoding).replace(/\r\n?/g, '\n');
  if (text.includes('\u0000')) throw new UnreadableSheet('it holds bytes that no text file has; save it as CSV');
  checkSize(text, delimiter);
  const parsed = Papa.parse<string[]>(text, { delimiter, newline: '\n' });
  const open = parsed.errors.find((e) => e.code === 'MissingQuotes');
  if (open) throw new UnreadableSheet(`a quotation mark opened in row ${(open.row ?? 0) + 1} is never closed`);
  return parsed.data.map((cells, i) => ({ row: i + 1, cells: cells.map((c) => c.trim()) }));
}

/** A heading of two rows: what stands above stretches to the right until the next. */
function joined(upper: readonly string[], lower: readonly string[]): string[] {
  let above = '';
  return Array.from({ length: Math.max(upper.length, lower.length) }, (_, i) => {
    above = upper[i] || above;
    return [above, lower[i] ?? ''].filter((t) => t !== '').join(' ');
  });
}

export function readTable(source: Source, how: HowRows & Pick<SheetMatch, 'skip' | 'headerRows'>): Table {
  const all = allRows(source, how).filter((r) => r.row > how.skip);
  const rows = all.slice(how.headerRows);
  if (all.length === 0) throw new UnreadableSheet('it has no rows');
  if (rows.length === 0) throw new UnreadableSheet('it has no rows below its header');
  const [first, second] = all;
  const named = how.headerRows === 0 ? [] : how.headerRows === 1 ? first!.cells : joined(first!.cells, second!.cells);
  const columns = how.headerRows === 0 ? rows.reduce((most, r) => Math.max(most, r.cells.length), 0) : named.length;
  return {
    header: Array.from({ length: columns }, (_, i) => named[i] || (how.headerRows === 0 ? `column ${i + 1}` : '')),
    rows,
  };
}
