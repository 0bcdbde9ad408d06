import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { EVERYTHING, readWindow, windowQuery } from '#contract/windows.ts';
import { Refused } from '../platform/refused.ts';
import { type Arrangeable, arrangedRows } from './arrange.ts';
import { Packing } from './pack.ts';
import { headOf, placeOfIds } from './window.ts';

interface Row {
  readonly name: string;
  readonly price: string;
}
const packed = (rows: readonly Row[]): Arrangeable => {
  const packing = new Packing<Row>([
    { id: 'name', text: (r) => r.name },
    { id: 'price', places: 2, figure: (r) => (r.price === '' ? NaN : Number(r.price)) },
  ]);
  for (const row of rows) packing.take(row);
  return { table: packing.packed(), columns: ['name', 'price'], searched: ['name'] };
};
const NAMES = ['', 'Rope 6 mm', 'rope 10 mm', 'Rope 8 mm', 'Shackle', 'shackle, long'];
const anyRow = fc.record({
  name: fc.constantFrom(...NAMES),
  price: fc.oneof(
    fc.constant(''),
    fc.integer({ min: -50_000, max: 50_000 }).map((n) => (n / 100).toFixed(2)),
  ),
});
const rows = fc.array(anyRow, { maxLength: 60 });
const order = (of: Arrangeable, asked: Partial<typeof EVERYTHING>) => [
  ...arrangedRows(of, { ...EVERYTHING, ...asked }),
];

describe('rows arranged by packed columns', () => {
  it('stand in the order of their figures, equal ones as they stood, those without one last whichever way', () => {
    fc.assert(
      fc.property(rows, fc.boolean(), (all, down) => {
        const value = (i: number) => (all[i]!.price === '' ? null : Number(all[i]!.price));
        const expected = all
          .map((_, i) => i)
          .sort((a, b) => {
            const [x, y] = [value(a), value(b)];
            if (x === null || y === null) return x === y ? a - b : x === null ? 1 : -1;
            return (down ? y - x : x - y) || a - b;
          });
        expect(order(packed(all), { sort: 'price', down })).toEqual(expected);
      }),
    );
  });

  it('are those that every filter and every word leaves', () => {
    const filters = [
      ['price', '>10', (r: Row) => r.price !== '' && Number(r.price) > 10],
      ['price', '<=-3.5', (r: Row) => r.price !== '' && Number(r.price) <= -3.5],
      ['price', '=0', (r: Row) => r.price !== '' && Number(r.price) === 0],
      ['price', '=', (r: Row) => r.price === ''],
      ['price', '.5', (r: Row) => r.price.includes('.5')],
      ['price', '>much', () => false],
      ['name', 'rOPe', (r: Row) => r.name.toLowerCase().includes('rope')],
      ['name', '=shackle', (r: Row) => r.name.toLowerCase() === 'shackle'],
      ['name', '=', (r: Row) => r.name === ''],
    ] as const;
    const some = fc.subarray([...filters], { maxLength: 3 });
    fc.assert(
      fc.property(rows, some, fc.constantFrom('', 'mm', '6 rope', 'long SHACKLE'), (all, asked, find) => {
        const words = find.toLowerCase().split(' ');
        const fits = (r: Row) =>
          asked.every(([, , test]) => test(r)) && words.every((w) => r.name.toLowerCase().includes(w));
        expect(order(packed(all), { find, filters: asked.map(([column, filter]) => ({ column, filter })) })).toEqual(
          all.flatMap((r, i) => (fits(r) ? [i] : [])),
        );
      }),
    );
  });

  it('texts stand as people count: 6 mm before 8 mm before 10 mm, whatever their case', () => {
    const of = packed(NAMES.map((name) => ({ name, price: '' })));
    expect(order(of, { sort: 'name' }).map((i) => NAMES[i])).toEqual([
      'Rope 6 mm',
      'Rope 8 mm',
      'rope 10 mm',
      'Shackle',
      'shackle, long',
      '',
    ]);
  });

  it('a column that somebody may not see is neither sorted nor filtered by: its order would tell what it holds', () => {
    const of = { ...packed([{ name: 'a', price: '1' }]), columns: ['name'] };
    expect(() => order(of, { sort: 'price' })).toThrow(Refused);
    expect(() => order(of, { filters: [{ column: 'price', filter: '>1' }] })).toThrow(Refused);
    expect(() => order(of, { show: 'loss' })).toThrow(Refused);
  });

  it('a figure of more digits than are shown is found by those that are', () => {
    const of = packed([
      { name: '', price: '1.2469658' },
      { name: '', price: '1.24' },
    ]);
    expect(order(of, { filters: [{ column: 'price', filter: '1.25' }] })).toEqual([0]);
  });
});

describe('a place in the whole order', () => {
  const all: Row[] = ['Rope', 'Rope', '', '', 'Shackle', 'Rope'].map((name, i) => ({ name, price: String(i) }));
  const of = packed(all);
  const standing = { state: '1.2.3/2026-03-09', at: '2026-03-09T09:00:00.000Z', stale: false };
  const place = (jump: Parameters<typeof windowQuery>[3]) => {
    const query = windowQuery(null, EVERYTHING, { from: 0, count: 0 }, jump);
    const asked = readWindow(
      Object.fromEntries(Object.entries(query).flatMap(([k, v]) => (v === null ? [] : [[k, v]]))),
    );
    return headOf(asked, of, standing, () => null).head.place;
  };
  const edge = (row: number, down: boolean) => place({ jump: { to: 'edge', column: 'name', row, down, text: '' } });
  const starts = (row: number, text: string) =>
    place({ jump: { to: 'starts', column: 'name', row, down: true, text } });

  it('is the end of a filled stretch, then the next filled row, then the end of all', () => {
    expect([edge(0, true), edge(1, true), edge(4, true), edge(5, true)]).toEqual([1, 4, 5, 5]);
    expect([edge(5, false), edge(4, false), edge(1, false)]).toEqual([4, 1, 0]);
  });

  it('is the next row that begins with what was typed, and round again', () => {
    expect([starts(1, 'ro'), starts(2, 'RO'), starts(5, 'shack'), starts(0, 'x')]).toEqual([1, 5, 4, null]);
  });

  it('of a row is found by its ids', () => {
    const ids = [Uint32Array.of(7, 7, 8), Uint32Array.of(1, 2, 1)];
    const rowsInOrder = Uint32Array.of(2, 0, 1);
    expect(placeOfIds(rowsInOrder, '7-2', ids)).toBe(2);
    expect(placeOfIds(rowsInOrder, '8-9', ids)).toBeNull();
    expect(placeOfIds(rowsInOrder, undefined, ids)).toBeNull();
  });
});
