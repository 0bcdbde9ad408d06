import { inflateRawSync } from 'node:zlib';
import readWorkbook from 'read-excel-file/node';
import { workbookDay, workbookNumber } from '#contract/workbook-cell.ts';
import { UnreadableSheet } from './unreadable.ts';

/** A text as it stands in the cell; a number apart, for it is written in no form. */
export type Cell = string | { readonly n: string };

/** A sheet of a workbook. */
export interface Page {
  readonly name: string;
  readonly rows: readonly (readonly Cell[])[];
}

/** What a workbook may come to when it is unpacked, and its parts. */
const MOST_BYTES = 256 * 1024 * 1024;
const MOST_PARTS = 2_000;

export const isWorkbook = (bytes: Buffer): boolean => bytes.readUInt32LE(0) === 0x04034b50;

interface Part {
  readonly name: string;
  readonly packed: number;
  readonly size: number;
  readonly method: number;
  readonly at: number;
}

/** The parts that a ZIP archive says it has: APPNOTE 6.3, "central directory". */
function partsOf(bytes: Buffer): Part[] {
  const end = bytes.lastIndexOf(Buffer.from('PK\x05\x06', 'latin1'));
  if (end < 0 || end + 22 > bytes.length) throw new UnreadableSheet('the workbook is cut off: send it again');
  const count = bytes.readUInt16LE(end + 10);
  let at = bytes.readUInt32LE(end + 16);
  if (count > MOST_PARTS || at === 0xffffffff)
    throw new UnreadableSheet('the workbook has more parts than one of costs has');
  const parts: Part[] = [];
  for (let i = 0; i < count; i++) {
    if (at + 46 > bytes.length || bytes.readUInt32LE(at) !== 0x02014b50)
      throw new UnreadableSheet('the workbook is damaged: save it anew');
    const nameLength = bytes.readUInt16LE(at + 28);
    parts.push({
      name: bytes.toString('utf8', at + 46, at + 46 + nameLength),
      method: bytes.readUInt16LE(at + 10),
      packed: bytes.readUInt32LE(at + 20),
      size: bytes.readUInt32LE(at + 24),
      at: bytes.readUInt32LE(at + 42),
    });
    at += 46 + nameLength + bytes.readUInt16LE(at + 30) + bytes.readUInt16LE(at + 32);
  }
  return parts;
}

/** The last cell that a sheet can have, XFD1048576, and how many cells one of costs or items may span. */
const [MOST_COLUMNS, MOST_ROWS, MOST_CELLS] = [16_384, 1_048_576, 6_000_000];

const columnOf = (letters: string): number => [...letters].reduce((n, letter) => n * 26 + letter.charCodeAt(0) - 64, 0);

/** Refuses cells beyond a sheet's bounds, and tables so wide and long that their emptiness alone would fill the memory. */
function checkCells(part: Buffer): void {
  const text = part.toString('latin1');
  let [columns, rows] = [0, 0];
  for (const [, letters = '', digits] of text.matchAll(/\sr\s*=\s*["']\$?([A-Za-z]*)\$?(\d+)["']/g)) {
    const row = Number(digits);
    if (letters.length > 3 || columnOf(letters.toUpperCase()) > MOST_COLUMNS || row > MOST_ROWS)
      throw new UnreadableSheet(
        `it names the cell ${letters.slice(0, 10)}${digits!.slice(0, 12)}, which no sheet has: save it anew in a spreadsheet`,
      );
    columns = Math.max(columns, columnOf(letters.toUpperCase()));
    rows = Math.max(rows, row);
  }
  if (columns * rows > MOST_CELLS)
    throw new UnreadableSheet(
      `its table spans ${rows} rows and ${columns} columns: remove what stands far off from the rest, or send it in parts`,
    );
}

/** Unpacks every part within bounds, whatever it says of itself, and refuses what could make a reader of XML do more than read. */
function lookInside(bytes: Buffer): void {
  const parts = partsOf(bytes);
  const tooLarge = new UnreadableSheet('unpacked, the workbook is larger than 256 MB: send it in parts, or as CSV');
  if (parts.reduce((sum, p) => sum + p.size, 0) > MOST_BYTES) throw tooLarge;
  if (!parts.some((p) => p.name === 'xl/workbook.xml'))
    throw new UnreadableSheet('it is an archive, and no workbook (XLSX) lies in it');
  let rest = MOST_BYTES;
  for (const part of parts) {
    if (part.at + 30 > bytes.length) throw new UnreadableSheet('the workbook is damaged: save it anew');
    const start = part.at + 30 + bytes.readUInt16LE(part.at + 26) + bytes.readUInt16LE(part.at + 28);
    const packed = bytes.subarray(start, start + part.packed);
    let text: Buffer;
    try {
      text = part.method === 0 ? packed : inflateRawSync(packed, { maxOutputLength: rest });
    } catch (error) {
      throw (error as { code?: string }).code === 'ERR_BUFFER_TOO_LARGE'
        ? tooLarge
        : new UnreadableSheet('the workbook is damaged: save it anew');
    }
    rest -= text.length;
    if (rest < 0) throw tooLarge;
    if (/^xl\/worksheets\/.*\.xml$/i.test(part.name)) checkCells(text);
    if (text.subarray(0, 4096).includes('<!DOCTYPE') || text.subarray(0, 4096).includes('<!ENTITY'))
      throw new UnreadableSheet('it declares entities, which no workbook does: save it anew in a spreadsheet');
  }
}

/**
 * The sheets of a workbook that have rows. Formulas are read by the value that was kept with them, days as ISO; macros are
 * never looked at. Throws UnreadableSheet where it is no workbook, damaged, or larger than can be right.
 */
export async function readPages(bytes: Buffer): Promise<Page[]> {
  lookInside(bytes);
  let sheets: { sheet: string; data: unknown[][] }[];
  try {
    sheets = (await readWorkbook(bytes, {
      parseNumber: (text: string) => ({ n: workbookNumber(text) }) as never,
    })) as never;
  } catch {
    throw new UnreadableSheet('the workbook is damaged: save it anew in a spreadsheet');
  }
  const cell = (value: unknown): Cell =>
    value === null || value === undefined
      ? ''
      : value instanceof Date
        ? workbookDay(value)
        : typeof value === 'object'
          ? (value as Cell)
          : typeof value === 'boolean'
            ? value
              ? 'TRUE'
              : 'FALSE'
            : String(value as string);
  const pages = sheets
    .map(({ sheet, data }) => ({ name: sheet, rows: data.map((row) => row.map(cell)) }))
    .filter((p) => p.rows.some((row) => row.some((c) => c !== '')));
  if (pages.length === 0) throw new UnreadableSheet('no sheet of the workbook has a row');
  return pages;
}
