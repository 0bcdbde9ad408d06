import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { SheetView } from '#contract/costs.ts';
import { bringFile, viewOf } from '../platform/tests/bring-sheet.ts';
import { type Person, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

/** Everything that can be; the rest is left out. */
const ALL = { rows: null, rest: 'left_out' };

const bring = (text: string | Buffer) => bringFile(shop, admin, text);

describe('taking a cost sheet in', () => {
  it('shows what would change before anything does, then does exactly that', async () => {
    const view = await bring(
      'Code,Net price,Pack size,Currency\nR1,220.00,220,GBP\nR2,260.00,220,GBP\nR3,305.00,220,GBP\nR9,10.00,1,GBP\n',
    );
    expect(view.counts).toEqual({
      new: 0,
      up: 1,
      down: 1,
      unchanged: 1,
      unknown: 1,
      faulty: 0,
      leftOut: 0,
      held: 0,
      taken: 0,
      suspicious: 0,
    });
    expect(view.changes[0]).toMatchObject({
      sku: 'BL-10',
      kind: 'up',
      before: { amount: '214.50' },
      after: { amount: '220.00' },
      changePercent: '2.56',
    });
    const history = async () =>
      ((await admin.get(`/items/${shop.shop.items[0]}/costs`)).body as { amount: string }[]).map((c) => c.amount);
    expect(await history()).toEqual(['214.50']);
    const done = await admin.post(`/cost-sheets/${view.id}/take-in`, { version: view.version, ...ALL });
    expect(done.body).toEqual({ costs: 2, newItems: 0, leftOut: 1, waiting: 0, worksheet: null, later: false });
    expect(await history()).toEqual(['214.50', '220.00']);
    const again = await admin.post(`/cost-sheets/${view.id}/take-in`, {
      version: view.version + 1,
      ...ALL,
    });
    expect((again.body as { code: string }).code).toBe('sheet_not_waiting');
  });

  it('warns of a shifted decimal mark, another currency and another pack size', async () => {
    const view = await bring(
      'Code,Net price,Pack size,Currency\nR1,22.00,220,GBP\nR2,260.00,220,EUR\nR3,140.00,100,GBP\n',
    );
    expect(view.changes.map((c) => c.flags)).toEqual([['decimal_shift'], ['other_currency'], ['other_pack']]);
    // 260 pounds became 260 euros: cheaper by what a pound is dearer; the third was taken in at 305.00 before
    expect(view.changes.map((c) => [c.kind, c.changePercent])).toEqual([
      ['down', '-90'],
      ['down', '-14.09'],
      ['up', '0.98'],
    ]);
  });

  it('one bad row is corrected and another left out; the file stays as it came', async () => {
    const view = await bring('Code,Net price,Pack size\nR1,2x1.00,220\nR2,,220\nR3,310.00,220\n');
    expect(view.counts.faulty).toBe(2);
    const put = (version: number, rows: unknown) => admin.put(`/cost-sheets/${view.id}/rows`, { version, rows });
    const rows = [
      { row: 2, decision: 'read', cells: { cost: '221.00' } },
      { row: 3, decision: 'left_out' },
    ];
    await put(view.version, rows);
    const read = await viewOf(admin, view.id);
    expect(read.counts).toMatchObject({ faulty: 0, leftOut: 1 });
    expect(read.changes.map((c) => [c.row, c.after.amount])).toEqual([
      [2, '221.00'],
      [4, '310.00'],
    ]);
    expect(read.sample[0]).toEqual(['R1', '2x1.00', '220']);
    const asItCame = (await put(read.version, [{ row: 3, decision: 'read' }])).body as SheetView;
    expect([asItCame.counts.faulty, asItCame.said]).toEqual([
      1,
      { count: 1, rows: [{ row: 2, said: { cells: { cost: '221.00' } }, taken: false }] },
    ]);
    expect((await put(asItCame.version, [{ row: 99, decision: 'left_out' }])).status).toBe(404);
    expect((await put(read.version, rows)).status).toBe(409);
  });

  it('what a sheet changed stays readable after it was taken in, and the whole sheet can be taken back', async () => {
    const item = shop.shop.items[0]!;
    const landed = async () =>
      ((await admin.get('/items')).body as { rows: { id: string; landed: string }[] }).rows.find((i) => i.id === item)!
        .landed;
    const before = await landed();
    const view = await bring('Code,Net price,Pack size\nR1,333.00,220\nR2,,220\n');
    await admin.post(`/cost-sheets/${view.id}/take-in`, { version: view.version, ...ALL });
    expect(await landed()).not.toBe(before);
    const taken = await viewOf(admin, view.id);
    expect([taken.state, taken.changes]).toEqual([
      'taken_in',
      view.changes.map((c) => ({ ...c, taken: true, held: false })),
    ]);
    expect(taken.counts).toEqual({ ...view.counts, taken: 1, suspicious: 0 });
    const back = await admin.post(`/cost-sheets/${view.id}/take-back`, { version: taken.version });
    expect(back.body).toEqual({ costs: 1 });
    expect(await landed()).toBe(before);
    const history = (await admin.get(`/items/${item}/costs`)).body as { amount: string; takenBack: boolean }[];
    expect(history.find((c) => c.amount === '333.00')!.takenBack).toBe(true);
    // it waits again and can be taken in anew
    const again = await viewOf(admin, view.id);
    expect([again.state, again.changes]).toEqual(['waiting', view.changes]);
    expect((await admin.post(`/cost-sheets/${view.id}/take-back`, { version: again.version })).status).toBe(409);
    await admin.post(`/cost-sheets/${view.id}/take-in`, { version: again.version, ...ALL });
    expect(await landed()).not.toBe(before);
    const third = (await admin.get(`/cost-sheets/${view.id}`)).body as SheetView;
    await admin.post(`/cost-sheets/${view.id}/take-back`, { version: third.version });
  });

  it('a corrected match reads the file again, and new items are added when asked', async () => {
    const view = await bring('Code;What;Amount\nR1;a;1.234\nN1;New thing;2.500\n');
    expect([view.match.columns.cost, view.counts.faulty]).toEqual([undefined, 2]);
    const match = {
      ...view.match,
      decimal: ',',
      thousands: '.',
      columns: { code: 0, name: 1, cost: 2 },
      newItems: 'add',
      category: shop.shop.category,
      taxClass: 'standard',
    };
    await admin.put(`/cost-sheets/${view.id}/match`, { version: view.version, match });
    const read = await viewOf(admin, view.id);
    expect(read.changes.map((c) => [c.after.amount, c.kind])).toEqual([
      ['1234', 'up'],
      ['2500', 'new'],
    ]);
    expect((await admin.post(`/cost-sheets/${view.id}/take-in`, { version: read.version, ...ALL })).body).toEqual({
      costs: 2,
      newItems: 1,
      leftOut: 0,
      waiting: 0,
      worksheet: null,
      later: false,
    });
    const items = (
      (await admin.get('/items')).body as {
        rows: {
          sku: string;
          name: string;
          landed: string | null;
          packs: unknown[];
        }[];
      }
    ).rows;
    expect(items.find((i) => i.sku === 'N1')).toMatchObject({
      name: 'New thing',
      packs: [{ name: 'each', units: '1' }],
    });
  });

  it('a row without a code is known by the barcode of a pack, and costs what that pack costs', async () => {
    const id = shop.shop.items[1]!;
    const { id: _, ...item } = (await admin.get(`/items/${id}`)).body as { id: string; packs: object[] };
    const packs = [...item.packs, { id: 'new', name: 'crate', units: '24', barcode: '4006381333931' }];
    expect((await admin.put(`/items/${id}`, { ...item, packs })).status).toBe(200);
    const view = await bring('Code;EAN;Cost;Note\n;4006 3813 33931;48,00;x\n;4006381333948;1,00;y\n');
    expect(view.match.columns).toMatchObject({ code: 0, barcode: 1, cost: 2 });
    expect(view.changes).toMatchObject([
      { code: '4006381333931', item: id, after: { amount: '48.00', packUnits: '24' } },
      { code: '4006381333948', item: null, kind: 'unknown' },
    ]);
  });

  it('a typed cost holds against files until it is released', async () => {
    const item = shop.shop.items[2]!;
    const typed = (
      await admin.post('/costs', {
        item,
        supplier: shop.shop.supplier,
        amount: '290.00',
        currency: 'GBP',
        packUnits: '220',
        validFrom: '2026-03-09',
      })
    ).body as { id: string };
    const view = await bring('Code,Net price,Pack size\nR3,400.00,220\n');
    expect(view.changes[0]!.flags).toContain('held_by_typed');
    await admin.post(`/cost-sheets/${view.id}/take-in`, { version: view.version, ...ALL });
    const landed = async () =>
      Number(
        ((await admin.get('/items')).body as { rows: { id: string; landed: string }[] }).rows.find(
          (i) => i.id === item,
        )!.landed,
      );
    const held = await landed();
    await admin.post(`/costs/${typed.id}/release`, { released: true });
    expect(await landed()).toBeGreaterThan(held * 1.2);
  });

  it.each([
    ['an empty file', ''],
    ['only a header', 'SKU,Cost\n'],
    ['a file that is no text', Buffer.from([80, 75, 3, 4, 0, 0, 0, 0, 1, 2])],
    ['a quotation mark never closed', 'SKU,Cost\nR1,"2.00\nR2,3.00\n'],
  ])('%s is refused with what to do', async (_, text) => {
    const answer = await admin.bytes(
      `/cost-sheets?supplier=${shop.shop.supplier}&file=x.csv`,
      Buffer.from(text as string),
    );
    expect([answer.status, (answer.body as { code: string }).code]).toEqual([422, 'sheet_unreadable']);
    expect((answer.body as { message: string }).message.length).toBeGreaterThan(30);
  });
});
