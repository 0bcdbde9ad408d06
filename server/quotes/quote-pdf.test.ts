import { describe, expect, it } from 'vitest';
import type { QuoteLineFigures, QuoteView } from '#contract/quotes.ts';
import { quoteDocument } from './quote-pdf.ts';

const line = (name: string, quantity: string, unitPrice: string, total: string, share: string | null) =>
  ({
    ...{ name, sku: name, packName: 'each', quantity, unitPrice, total, shareOfReduction: share },
    ...{ slices: [], freeUnits: null, struck: null },
  }) as unknown as QuoteLineFigures;

/** 5 × 80.00 and 1,200 × 1.25, 12 % off the whole: 352.00 and 1,320.00 are left. */
const quote = {
  ...{
    number: '2026-0001',
    customerName: 'Yard',
    day: '2026-03-09',
    validUntil: '2026-04-08',
    state: 'issued',
    note: '',
  },
  lines: [{ section: 'Mast' }, { section: 'Deck' }],
  reduction: { kind: 'percent_off', value: '12', sections: [] },
  figures: {
    ...{ currency: 'EUR', taxIn: false, linesTotal: '1672.00', net: '1672.00', toPay: '2006.40' },
    lines: [line('Block', '5', '80.00', '352.00', '48.00'), line('Line', '1200', '1.25', '1320.00', '180.00')],
    charges: [],
    taxes: [{ percent: '20', net: '1672.00', tax: '334.40' }],
    reduction: { asked: '228.00', given: '228.00', possible: null, goods: '1900.00', refused: null },
  },
} as unknown as QuoteView;

/** The texts of every row of every table, in their order. */
function rowsOf(value: unknown): string[][] {
  if (Array.isArray(value)) return value.flatMap(rowsOf);
  if (value === null || typeof value !== 'object') return [];
  const body = (value as { table?: { body: unknown[][] } }).table?.body;
  return body ? body.map((row) => row.map(textOf)) : Object.values(value).flatMap(rowsOf);
}
const textOf = (cell: unknown): string =>
  typeof cell === 'string'
    ? cell
    : Array.isArray(cell)
      ? cell.map(textOf).join(' ')
      : textOf((cell as { text?: unknown; stack?: unknown }).text ?? (cell as { stack?: unknown }).stack ?? '');

describe('a quote on paper', () => {
  const rows = rowsOf(quoteDocument(quote, 'Shop').content);

  it('shows a discount on the whole as a line of its own, so that quantity times price is the total above it', () => {
    expect(rows.filter((r) => r.length === 6).map((r) => r.slice(3))).toEqual([
      ['quantity', 'each, EUR', 'total, EUR'],
      ['5', '80.00', '400.00'],
      ['', '', '400.00'],
      ['1,200', '1.25', '1,500.00'],
      ['', '', '1,500.00'],
      ['', '', '−228.00'],
    ]);
    expect(rows.map((r) => r[1])).toContain('Discount on the whole quote, 12 %');
  });

  it('sums every part, and what is left is what is to pay', () => {
    expect(rows.map((r) => r[1])).toEqual(expect.arrayContaining(['Mast in all', 'Deck in all']));
    expect(rows.filter((r) => r.length === 2)).toEqual([
      ['net', '1,672.00'],
      ['tax 20 % of 1,672.00', '334.40'],
      ['to pay, EUR', '2,006.40'],
    ]);
  });

  it('writes days so that nobody can misread them', () => {
    const text = JSON.stringify(quoteDocument(quote, 'Shop').content);
    expect(text).toContain('Day 9 Mar 2026');
    expect(text).toContain('Valid until 8 Apr 2026');
  });
});
