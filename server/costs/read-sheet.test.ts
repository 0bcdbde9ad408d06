import { describe, expect, it } from 'vitest';
import { proposeMatch } from './propose-match.ts';
import { readRows } from './read-rows.ts';
import { readTable } from './read-table.ts';

const sheet = (text: string | Buffer) => {
  const bytes = typeof text === 'string' ? Buffer.from(text, 'utf8') : text;
  const source = { content: bytes, pages: null };
  const match = proposeMatch(source, '2026-03-09');
  const table = readTable(source, match);
  return { match, table, ...readRows(table, match, 'GBP') };
};
const costs = (text: string | Buffer) => sheet(text).rows.map((r) => [r.code, r.cost, r.packUnits]);

describe('reading a supplier’s file', () => {
  it.each<[string, string | Buffer, [string, string, string][]]>([
    ['comma and decimal point', 'SKU,Cost,Pack size\nR1,214.50,220\n', [['R1', '214.50', '220']]],
    [
      'semicolon and decimal comma',
      'Artikelnr;Preis;Menge\nR1;214,50;220\nR2;1.260,00;220\n',
      [
        ['R1', '214.50', '220'],
        ['R2', '1260.00', '220'],
      ],
    ],
    ['a byte order mark', '\ufeffSKU;Cost\nR1;3,5\n', [['R1', '3.5', '1']]],
    ['UTF-16 with its mark', Buffer.from('\ufeffSKU\tCost\nR1\t3.5\n', 'utf16le'), [['R1', '3.5', '1']]],
    [
      'thousands marks',
      'SKU,Cost\nR1,"1,214.50"\nR2,"12,214"\n',
      [
        ['R1', '1214.50', '1'],
        ['R2', '12214', '1'],
      ],
    ],
    ['spaces as thousands marks', 'SKU;Cost\nR1;1\u00a0214,50\n', [['R1', '1214.50', '1']]],
    [
      'a line break inside quotation marks',
      'SKU,Name,Cost\nR1,"Braided line\n(new reel)",2.5\nR2,"12"" ring",3\n',
      [
        ['R1', '2.5', '1'],
        ['R2', '3', '1'],
      ],
    ],
    [
      'tabs, and blank lines between',
      'SKU\tCost\n\nR1\t2.5\n\nR2\t3\n\n',
      [
        ['R1', '2.5', '1'],
        ['R2', '3', '1'],
      ],
    ],
  ])('%s', (_, text, expected) => expect(costs(text)).toEqual(expected));

  it('in Windows-1252 the euro sign, dashes and quotation marks are what they are', () => {
    const { rows } = sheet(Buffer.from('SKU;Name;Cost\nR1;\x84T\xf6rn\x93 \x96 5 \x80;3,5\n', 'latin1'));
    expect(rows[0]!.name).toBe('„Törn“ – 5 €');
  });

  it('Windows-1252 is read as what it is', () => {
    const { match, rows } = sheet(Buffer.from('SKU;Name;Cost\nR1;T\u00f6rn, gr\u00fcn;2,5\n', 'latin1'));
    expect([match.encoding, rows[0]!.name]).toEqual(['windows-1252', 'Törn, grün']);
  });

  it('every row that cannot be read is named with row, column, value and why', () => {
    const { faults, rows } = sheet(
      'SKU,Cost,Pack size,Currency\nR1,,220,GBP\nR2,-3.00,220,GBP\n,4.00,220,GBP\nR4,on request,220,GBP\nR5,5.00,0,GBP\nR6,5.00,1,pounds\nR7,7.00,1,GBP\n',
    );
    expect(faults.map(({ field: _, ...f }) => f)).toEqual([
      { row: 2, column: 'Cost', value: '', code: 'empty' },
      { row: 3, column: 'Cost', value: '-3.00', code: 'negative' },
      { row: 4, column: 'SKU', value: '', code: 'empty' },
      { row: 5, column: 'Cost', value: 'on request', code: 'not_a_number' },
      { row: 6, column: 'Pack size', value: '0', code: 'zero' },
      { row: 7, column: 'Currency', value: 'POUNDS', code: 'not_a_currency' },
    ]);
    expect(rows.map((r) => r.code)).toEqual(['R7']);
  });

  it('rows of every kind of line end are read, none is swallowed by the one before it', () => {
    const { rows, table } = sheet('SKU,Cost\r\nR1,1.00\nR2,2.00\rR3,3.00\r\nR4,4.00\n');
    expect(rows.map((r) => [r.row, r.code, r.cost])).toEqual([
      [2, 'R1', '1.00'],
      [3, 'R2', '2.00'],
      [4, 'R3', '3.00'],
      [5, 'R4', '4.00'],
    ]);
    expect(table.header).toEqual(['SKU', 'Cost']);
  });

  it('a cell behind the last column is told: a decimal comma has split the cost', () => {
    const { faults, rows } = sheet('SKU,Cost\nR1,2,50\nR2,3.00,\n');
    expect(faults).toEqual([{ row: 2, column: 'column 3', value: '50', code: 'too_many_columns', field: null }]);
    expect(rows.map((r) => r.code)).toEqual(['R2']);
  });

  it('what was made harmless on its way out is read as it was', () => {
    const { rows } = sheet("SKU,Name,Cost\n'-R1,'=rope,2.50\nR2,'plain,3.00\n");
    expect(rows.map((r) => [r.code, r.name, r.cost])).toEqual([
      ['-R1', '=rope', '2.50'],
      ['R2', "'plain", '3.00'],
    ]);
  });

  it('a file without a header keeps its first row', () => {
    const source = { content: Buffer.from('R1;2,50\nR2;3,00\n'), pages: null };
    const match = proposeMatch(source, '2026-03-09');
    expect([match.headerRows, match.columns]).toEqual([0, {}]);
    const table = readTable(source, match);
    expect(table.header).toEqual(['column 1', 'column 2']);
    const { rows } = readRows(table, { ...match, decimal: ',', columns: { code: 0, cost: 1 } }, 'GBP');
    expect(rows.map((r) => [r.row, r.code, r.cost])).toEqual([
      [1, 'R1', '2.50'],
      [2, 'R2', '3.00'],
    ]);
  });

  it('a code with a colon in it is disputed alone, on the day in question', () => {
    const { rows } = sheet(
      'SKU,Cost,From\nA:1,2.00,2026-04-01\nA:1,2.50,2026-04-01\nA:1,3.00,2026-05-01\nA,9.00,2026-04-01\n',
    );
    expect(rows.map((r) => [r.code, r.cost])).toEqual([
      ['A:1', '3.00'],
      ['A', '9.00'],
    ]);
  });

  it('of two rows that disagree about a code neither is taken; word for word the same, one is', () => {
    const { faults, rows } = sheet('SKU,Cost\nR1,2.00\nR1,2.50\nR2,3.00\nr2,3.00\n');
    expect(faults).toEqual([
      { row: 3, column: 'Cost', value: 'R1: 2.50 (row 2: 2.00)', code: 'duplicate', field: 'cost', earlier: 2 },
    ]);
    expect(rows.map((r) => [r.code, r.listedTwice])).toEqual([['R2', true]]);
  });

  it('days are read in the chosen order, never guessed at row by row', () => {
    const text = 'SKU,Cost,Valid from\nR1,2.00,05/03/2026\nR2,2.00,25/03/2026\nR3,2.00,31/02/2026\n';
    const { rows, faults } = sheet(text);
    expect(rows.map((r) => r.validFrom)).toEqual(['2026-03-05', '2026-03-25']);
    expect(faults).toMatchObject([{ row: 4, code: 'not_a_day', value: '31/02/2026' }]);
  });
});

describe('what more at once costs', () => {
  const more = (text: string) => {
    const { rows, faults, match } = sheet(text);
    return {
      match,
      rows: rows.map((r) => [r.code, r.cost, r.quantityPrices.map((q) => `${q.from}: ${q.cost}`).join(', ')]),
      faults: faults.map((f) => [f.row, f.column, f.code]),
    };
  };

  it.each([
    ['columns whose headings say from how many', 'SKU,Price,10+,50+\nR1,2.50,2.30,2.10\nR2,3.00,,\n'],
    ['in other words', 'Artikelnr;Preis;ab 10 Stk.;Preis ab 50\nR1;2,50;2,30;2,10\nR2;3,00;;\n'],
    ['rows that say from how many', 'SKU,From quantity,Price\nR1,1,2.50\nR1,50,2.10\nR1,10,2.30\nR2,,3.00\n'],
  ])('is read from %s', (_, text) => {
    const found = more(text);
    expect(found.faults).toEqual([]);
    expect(found.rows.map(([code, cost, prices]) => [code, Number(cost), prices])).toEqual([
      ['R1', 2.5, expect.stringMatching(/^10: 2.30?, 50: 2.10?$/)],
      ['R2', 3, ''],
    ]);
  });

  it('is read from pairs of columns, where a person says which', () => {
    const source = { content: Buffer.from('SKU,Price,Q2,P2\nR1,2.50,12,2.20\nR2,3.00,,2.80\n'), pages: null };
    const match = {
      ...proposeMatch(source, '2026-03-09'),
      quantityColumns: [{ column: 3, from: null, fromColumn: 2 }],
    };
    const { rows, faults } = readRows(readTable(source, match), match, 'GBP');
    expect(rows.map((r) => r.quantityPrices)).toEqual([[{ from: '12', cost: '2.20' }]]);
    expect(faults.map((f) => [f.row, f.column, f.code])).toEqual([[3, 'Q2', 'quantity_without_cost']]);
  });

  it('is refused where no row says what one costs, where it is said twice, and where it is no figure', () => {
    expect(more('SKU,From quantity,Price\nR1,10,2.30\n').faults).toEqual([[2, 'From quantity', 'no_cost_for_fewer']]);
    expect(more('SKU,From quantity,Price\nR1,1,2.50\nR1,10,2.30\nR1,10,2.20\n').faults).toEqual([
      [4, 'From quantity', 'duplicate'],
    ]);
    expect(more('SKU,Price,10+\nR1,2.50,cheap\n').faults).toEqual([[2, '10+', 'not_a_number']]);
  });
});
