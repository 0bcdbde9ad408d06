import { describe, expect, it } from 'vitest';
import { guessColumns, headOf, matchPrices } from './price-file.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

const row = (sku: string, packName: string, posted: string | null) =>
  ({ item: sku, pack: `${sku}-${packName}`, sku, packName, posted, name: `Item ${sku}` }) as ListPriceRow;
const prices = [
  row('A1', 'each', '10.00'),
  row('A1', 'carton', '95'),
  row('B2', 'each', null),
  row('=C3', 'each', '5'),
];
const match = (cells: string[][], form: 'point' | 'comma' = 'comma', exact = false) =>
  matchPrices(cells, headOf(cells)!, guessColumns(cells[headOf(cells)!]!), prices, { form, exact, decimals: 2 });
const HEAD = ['SKU', 'Item', 'Pack', 'posted, EUR', 'new price'];

describe('a price list that comes back from a file', () => {
  it('is found under rows above its head, and the new price is meant before the posted one', () => {
    const cells = [['Prices of March'], [], HEAD, ['A1', '', 'each', '10,00', '11,50']];
    expect(headOf(cells)).toBe(2);
    expect(guessColumns(HEAD)).toEqual({ sku: 0, pack: 2, price: 4 });
    expect(match(cells)).toMatchObject([{ row: 4, outcome: 'differs', value: '11.50' }]);
    expect(headOf([['Code', 'Price']])).toBeNull();
  });
  it('tells every row apart: same, differing, empty, of no item, of no pack, unreadable, twice', () => {
    const found = match([
      HEAD,
      ['A1', '', 'each', '', '10'],
      ['a1', '', 'CARTON', '', '99,00'],
      ['B2', '', 'each', '', ''],
      ['ZZ', '', 'each', '', '1'],
      ['A1', '', 'drum', '', '1'],
      ['B2', '', 'each', '', 'about 3'],
      ['B2', '', 'each', '', '-3'],
      ['B2', '', 'each', '', '0,00'],
      ['B2', '', 'each', '', '3,125'],
      ['A1', '', 'each', '', '12'],
    ]);
    expect(found.map((f) => f.outcome)).toEqual([
      'same',
      'differs',
      'empty',
      'unknown',
      'unknown',
      'unreadable',
      'unreadable',
      'unreadable',
      'unreadable',
      'twice',
    ]);
    expect(found[4]!.why).toContain('no pack "drum"');
  });
  it('reads figures in the reader’s form, and those of a workbook as they stand there', () => {
    expect(match([HEAD, ['A1', '', 'each', '', '1.250,00']], 'comma')[0]).toMatchObject({ value: '1250.00' });
    expect(match([HEAD, ['A1', '', 'each', '', '1,250.00']], 'point')[0]).toMatchObject({ value: '1250.00' });
    expect(match([HEAD, ['A1', '', 'each', '', '12.5']], 'comma', true)[0]).toMatchObject({ value: '12.5' });
  });
  it('knows a code again that was made harmless on the way out', () => {
    expect(match([HEAD, ["'=C3", '', 'each', '', '6']])[0]).toMatchObject({ outcome: 'differs', sku: '=C3' });
  });
});
