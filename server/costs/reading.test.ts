import { afterAll, describe, expect, it } from 'vitest';
import { Reading } from './reading.ts';
import { readTable, unpackPages } from './read-table.ts';
import { book } from './tests/make-workbook.ts';
import { UnreadableSheet } from './unreadable.ts';

// Files that are made to take a server's memory or time: each ends with a reason, and others are read meanwhile.

const reading = new Reading();
afterAll(() => reading.stop());

const cell = (r: string, value = '1') => `<c r="${r}"><v>${value}</v></c>`;
const sound = book(`<row r="1">${cell('A1', '214.5')}</row>`);
const pagesOf = async (content: Buffer) => unpackPages(await reading.read(content));
const why = async (content: Buffer, from = reading) =>
  from.read(content).then(
    () => 'read',
    (error: unknown) => (error instanceof UnreadableSheet ? error.message : `not ours: ${String(error)}`),
  );

describe('a workbook that is no table', () => {
  it.each([
    [
      'a cell that no sheet has',
      `<row r="1">${cell('ZZZZZZ99999999')}</row>`,
      /the cell ZZZZZZ99999999, which no sheet has/,
    ],
    ['a column after the last', `<row r="1">${cell('XFE1')}</row>`, /the cell XFE1/],
    ['a row after the last', `<row r="1048577">${cell('A1048577')}</row>`, /the cell A1048577|the cell 1048577/],
    ['row 2147483647', `<row r="2147483647">${cell('A1')}</row>`, /the cell 2147483647/],
    [
      'its last cell, and nothing between',
      `<row r="1">${cell('A1')}</row><row r="1048576">${cell('XFD1048576')}</row>`,
      /spans 1048576 rows and 16384 columns/,
    ],
  ])('%s is refused before anything is made of it', async (_, rows, reason) => {
    expect(await why(book(rows))).toMatch(reason);
  });

  it('the last column of a short table is read', async () => {
    const [page] = (await pagesOf(book(`<row r="1">${cell('A1')}${cell('XFD1')}</row>`)))!;
    expect(page!.rows[0]).toHaveLength(16_384);
  });

  it('three hundred thousand attributes end with a reason or a table, within the time', async () => {
    const attributes = Array.from({ length: 300_000 }, (_, i) => `a${i}="1"`).join(' ');
    expect(await why(book(`<row r="1" ${attributes}>${cell('A1')}</row>`))).not.toMatch(/not ours/);
  });
});

describe('a file that passes the limits', () => {
  const many = book(
    Array.from(
      { length: 60_000 },
      (_, i) => `<row r="${i + 1}">${['A', 'B', 'C', 'D'].map((c) => cell(`${c}${i + 1}`, String(i))).join('')}</row>`,
    ).join(''),
  );

  it('of memory ends with a reason, and the server goes on', async () => {
    const small = new Reading({ memory: 24 });
    expect(await why(many, small)).toContain('more memory or time');
    expect((await pagesOf(sound))![0]!.rows).toEqual([[{ n: '214.5' }]]);
  });

  it('of time is ended, and those beside it are read', async () => {
    const hasty = new Reading({ patience: 1 });
    const [slow, other] = await Promise.all([why(many, hasty), pagesOf(sound)]);
    expect(slow).toContain('more memory or time');
    expect(other).toHaveLength(1);
  });
});

describe('a text that comes to too much', () => {
  const how = { encoding: 'utf-8', delimiter: ';', page: null, decimal: '.', skip: 0, headerRows: 1 } as const;
  const read = (text: string) => () => readTable({ content: Buffer.from(text), pages: null }, how);

  it('31 MB of line ends, of quotation marks or of delimiters is refused before rows are made of it', () => {
    expect(read('\n'.repeat(31e6))).toThrow(/more than 1,048,576 rows/);
    expect(read(';'.repeat(31e6))).toThrow(/too many cells/);
    expect(read('"'.repeat(31e6 + 1))).toThrow(UnreadableSheet);
  });
  it('as many rows as a spreadsheet shows are read', () => {
    expect(read('a;b\n'.repeat(1_048_576))().rows).toHaveLength(1_048_575);
  });
});
