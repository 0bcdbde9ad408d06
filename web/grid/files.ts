import Papa from 'papaparse';
import { asTyped, harmless } from '#contract/harmless.ts';
import { workbookDay, workbookNumber } from '#contract/workbook-cell.ts';
import { FORMS, type NumberForm } from '../kit/number-form.ts';
import type { Column } from './columns.ts';
import type { Sheet } from './edits.ts';

/** More digits than a spreadsheet keeps of a number: such a figure goes out as text, digit for digit. */
const SPREADSHEET_DIGITS = 15;
const NUMBER = /^-?\d+(\.\d+)?$/;

/** What a grid shows, row by row, as it is sorted and filtered. */
function* cellsOf<Row>(sheet: Sheet<Row>): Generator<readonly [Column<Row>, string][]> {
  for (let r = 0; r < sheet.size.rows; r++) yield sheet.columns.map((c, n) => [c, sheet.valueAt(r, n)] as const);
}

/** The grid as CSV: figures in the reader's form, the delimiter that goes with it, and a mark that it is UTF-8. */
export function csvOf<Row>(sheet: Sheet<Row>, form: NumberForm): string {
  const inForm = (v: string) => (NUMBER.test(v) ? v.replace('.', FORMS[form].decimal) : v);
  const rows = [...cellsOf(sheet)].map((row) => row.map(([c, v]) => (c.numeric ? inForm(v) : harmless(v))));
  const delimiter = FORMS[form].decimal === ',' ? ';' : ',';
  return `\ufeff${Papa.unparse([sheet.columns.map((c) => c.title), ...rows], { delimiter, newline: '\r\n' })}\r\n`;
}

interface XlsxCell {
  value: string | number;
  type: StringConstructor | NumberConstructor;
  format?: string;
  fontWeight?: 'bold';
  align?: 'right';
}

/** The cells of a workbook: figures are numbers there, shown with the decimals they have; texts stay texts. */
export function workbookCells<Row>(sheet: Sheet<Row>): (XlsxCell | null)[][] {
  const head = sheet.columns.map((c): XlsxCell => ({
    value: c.title,
    type: String,
    fontWeight: 'bold',
    ...(c.numeric ? { align: 'right' } : {}),
  }));
  const body = [...cellsOf(sheet)].map((row) => row.map(([c, v]) => workbookCell(v, c.numeric ?? false)));
  return [head, ...body];
}

function workbookCell(text: string, numeric: boolean): XlsxCell | null {
  if (text === '') return null;
  const digits = text.replace(/\D/g, '').replace(/^0+/, '').length;
  if (!numeric || !NUMBER.test(text) || digits > SPREADSHEET_DIGITS) return { value: text, type: String };
  const decimals = text.split('.')[1]?.length ?? 0;
  return { value: Number(text), type: Number, format: decimals > 0 ? `0.${'0'.repeat(decimals)}` : '0' };
}

/** A text table with a heading and decimal points as a workbook; under some headings stand numbers. */
export async function downloadTable(name: string, csv: string, isNumeric: (heading: string) => boolean): Promise<void> {
  const { data } = Papa.parse<string[]>(csv.replace(/^\ufeff/, ''), { skipEmptyLines: 'greedy' });
  const [heads = [], ...rows] = data;
  const numeric = heads.map(isNumeric);
  const head = heads.map((h, i): XlsxCell => ({
    value: h,
    type: String,
    fontWeight: 'bold',
    ...(numeric[i] ? { align: 'right' } : {}),
  }));
  const { default: writeXlsx } = await import('write-excel-file/browser');
  const body = rows.map((row) => row.map((t, i) => workbookCell(asTyped(t), numeric[i] ?? false)));
  download(name, await writeXlsx([head, ...body], { stickyRowsCount: 1 }).toBlob());
}

/** Hands a file to the person. */
export function download(name: string, content: Blob): void {
  const url = URL.createObjectURL(content);
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}

export async function downloadXlsx<Row>(name: string, sheet: Sheet<Row>): Promise<void> {
  const { default: writeXlsx } = await import('write-excel-file/browser');
  const blob = await writeXlsx(workbookCells(sheet), {
    stickyRowsCount: 1,
    columns: sheet.columns.map((c) => ({ width: Math.round(c.width / 7) })),
  }).toBlob();
  download(name, blob);
}

/** A table that came as CSV or XLSX: every cell as text, a number of a workbook with a point. */
export async function readTable(file: File): Promise<{ rows: string[][]; exact: boolean }> {
  if (/\.xlsx$/i.test(file.name)) {
    const { readSheet } = await import('read-excel-file/browser');
    // a number is what was typed there, exactly
    const rows = await readSheet<string>(file, { parseNumber: workbookNumber });
    return {
      exact: true,
      rows: rows.map((row) =>
        row.map((cell) => (cell === null ? '' : cell instanceof Date ? workbookDay(cell) : String(cell))),
      ),
    };
  }
  const text = (await file.text()).replace(/^\ufeff/, '');
  const { data } = Papa.parse<string[]>(text, { skipEmptyLines: 'greedy' });
  return { rows: data, exact: false };
}
