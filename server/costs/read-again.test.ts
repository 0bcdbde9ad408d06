import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import writeWorkbook from 'write-excel-file/node';
import type { SheetView } from '#contract/costs.ts';
import { bringFile } from '../platform/tests/bring-sheet.ts';
import { type Person, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
const shops: Workshop[] = [];
beforeEach(async () => {
  shop = await openWorkshop();
  shops.push(shop);
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => Promise.all(shops.map((s) => s.close())));

const sheetOf = (rows: readonly string[], head: string) => `${[head, ...rows].join('\n')}\n`;
const bring = (content: string | Buffer, file?: string) => bringFile(shop, admin, content, file);
const takeIn = (s: SheetView) =>
  admin.post(`/cost-sheets/${s.id}/take-in`, { version: s.version, rows: null, rest: 'left_out' });

describe('how a supplier’s file is read the next time', () => {
  const german = (rows: string[], head: string) => sheetOf(rows, head);
  const match = (s: SheetView, change: object) =>
    admin.put(`/cost-sheets/${s.id}/match`, { version: s.version, match: { ...s.match, ...change } });

  it('as a person said it is read, wherever its columns stand now; what is gone and new is told', async () => {
    const first = await bring(german(['R1;a;214,60;220'], 'Nummer;Was;Betrag;Einheiten je VE'));
    expect(first.layout.like).toBeNull();
    const columns = { code: 0, name: 1, cost: 2, packUnits: 3 };
    const read = (await match(first, { columns, decimal: ',', thousands: '.' })).body as SheetView;
    await takeIn(read);
    const same = await bring(german(['R1;a;215,60;220'], 'Nummer;Was;Betrag;Einheiten je VE'));
    expect([same.layout.like?.id, same.layout.gone, same.layout.fresh]).toEqual([first.id, [], []]);
    expect([same.match.columns, same.changes[0]!.after.amount]).toEqual([columns, '215.60']);
    const moved = await bring(german(['220;R1;216,60;x'], 'Einheiten je VE;Nummer;Betrag;Farbe'));
    expect([moved.layout.gone, moved.layout.fresh]).toEqual([['Was'], ['Farbe']]);
    expect(moved.match.columns).toEqual({ code: 1, cost: 2, packUnits: 0 });
    expect(moved.changes[0]!.after).toMatchObject({ amount: '216.60', packUnits: '220' });
  });

  it('rows above the header are passed over, and a header of two rows is one', async () => {
    const text = [
      'Rope works, trade prices',
      'valid from,01.03.2026',
      '',
      'Article,Description,Price,,RRP',
      ',,per drum,reduced,per metre',
      'R1,Line,220.00,198.00,3.20',
      'R2,Line,265.00,,3.90',
    ].join('\n');
    const s = await bring(`${text}\n`);
    expect(s.match).toMatchObject({ skip: 3, headerRows: 2 });
    expect(s.header).toEqual(['Article', 'Description', 'Price per drum', 'Price reduced', 'RRP per metre']);
    expect(s.match.columns).toMatchObject({ code: 0, name: 1, cost: 2, reducedCost: 3, rrp: 4 });
    expect(s.changes.map((c) => [c.row, c.after.amount, c.after.reduced])).toEqual([
      [6, '220.00', '198.00'],
      [7, '265.00', null],
    ]);
  });
});

describe('a workbook', () => {
  const n = (value: number) => ({ value, type: Number });
  const book = async (sheets: Record<string, unknown[][]>) =>
    (await writeWorkbook(Object.entries(sheets).map(([sheet, data]) => ({ sheet, data })) as never)).toBuffer();

  it('is read sheet by sheet, its numbers as they were typed there and its days as days', async () => {
    const day = { value: new Date('2026-04-01'), type: Date, format: 'yyyy-mm-dd' };
    const s = await bring(
      await book({
        Notes: [[{ value: 'Trade prices of the season' }]],
        Prices: [
          ['Code', 'Net price', 'Pack size', 'Valid from'].map((value) => ({ value })),
          [{ value: 'R1' }, n(0.1 + 0.2), n(1), day],
          [{ value: 'R2' }, n(1e-7), n(220), day],
        ],
      }),
      'prices.xlsx',
    );
    expect([s.pages, s.match.page, s.counts.faulty]).toEqual([['Notes', 'Prices'], 'Prices', 0]);
    expect(s.changes.map((c) => c.after)).toMatchObject([
      { amount: '0.3', packUnits: '1', from: '2026-04-01' },
      { amount: '0.0000001', packUnits: '220' },
    ]);
    const other = await admin.put(`/cost-sheets/${s.id}/match`, {
      version: s.version,
      match: { ...s.match, page: 'Notes', headerRows: 0, skip: 0, columns: {} },
    });
    expect((other.body as SheetView).counts.faulty).toBe(1);
    const none = await admin.put(`/cost-sheets/${s.id}/match`, {
      version: s.version + 1,
      match: { ...s.match, page: 'Nowhere' },
    });
    expect([none.status, (none.body as { code: string }).code]).toEqual([422, 'sheet_unreadable']);
  });

  it('numbers are numbers whatever form the texts beside them have', async () => {
    const s = await bring(
      await book({
        P: [
          ['Code', 'Net price', 'RRP'].map((value) => ({ value })),
          [{ value: 'R1' }, n(1.234), { value: '1.234,50' }],
          [{ value: 'R2' }, n(214.5), { value: '3,20' }],
        ],
      }),
    );
    expect(s.match.decimal).toBe(',');
    expect(s.changes.map((c) => c.after.amount)).toEqual(['1.234', '214.5']);
  });
});
