import { describe, expect, it } from 'vitest';
import type { Column } from './columns.ts';
import type { Sheet } from './edits.ts';
import { csvOf, readTable, workbookCells } from './files.ts';

interface Row {
  readonly name: string;
  readonly price: string;
}
const rows: Row[] = [
  { name: 'Rope; "braided"', price: '1234.5' },
  { name: '=HYPERLINK("x")', price: '' },
  { name: 'Long', price: '0.1234567890123456789' },
];
const columns: Column<Row>[] = [
  { id: 'name', title: 'Name', width: 100, value: (r) => r.name },
  { id: 'price', title: 'price, EUR', width: 80, numeric: true, value: (r) => r.price },
];
const sheet: Sheet<Row> = {
  columns,
  size: { rows: rows.length, cols: columns.length },
  rowAt: (r) => rows[r]!,
  keyOf: (r) => r.name,
  valueAt: (r, c) => columns[c]!.value(rows[r]!),
};

describe('a grid goes out as a file', () => {
  it('as CSV in the reader’s form, with nothing that another program would carry out', () => {
    expect(csvOf(sheet, 'comma')).toBe(
      '\ufeffName;price, EUR\r\n"Rope; ""braided""";1234,5\r\n"\'=HYPERLINK(""x"")";\r\nLong;0,1234567890123456789\r\n',
    );
    expect(csvOf(sheet, 'point')).toContain('1234.5');
  });
  it('as a workbook of numbers, and of texts where a number would lose digits', () => {
    const [, first, second, third] = workbookCells(sheet);
    expect(first![1]).toEqual({ value: 1234.5, type: Number, format: '0.0' });
    expect(second![1]).toBeNull();
    expect(third![1]).toEqual({ value: '0.1234567890123456789', type: String });
  });
  it('and what went out as CSV is read again as it was', async () => {
    const file = new File([csvOf(sheet, 'comma')], 'out.csv');
    const { rows: back } = await readTable(file);
    expect(back[1]).toEqual(['Rope; "braided"', '1234,5']);
  });
});
