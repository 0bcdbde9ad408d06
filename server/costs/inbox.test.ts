import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import type { CostSupplier, SheetEffect, SheetSummary, SheetView } from '#contract/costs.ts';
import type { ListPrices } from '#contract/lists.ts';
import type { Worksheet, WorksheetPrices } from '#contract/worksheets.ts';
import {
  type Person,
  TODAY,
  type Workshop,
  openWorkshop,
  postAll,
  postedOn,
  signIn,
} from '../platform/tests/workshop.ts';
import { revisionsOf } from '../ledger/audit.ts';
import { bringFile, receiveFile, rowsOf, viewOf } from '../platform/tests/bring-sheet.ts';

let shop: Workshop;
let admin: Person;
const shops: Workshop[] = [];
beforeEach(async () => {
  shop = await openWorkshop();
  shops.push(shop);
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => Promise.all(shops.map((s) => s.close())));

const HEAD = 'Code,Net price,Pack size';
/** The three items at new costs. */
const ROWS = ['R1,220.00,220', 'R2,265.00,220', 'R3,315.00,220'];
const sheetOf = (rows: readonly string[], head = HEAD) => `${[head, ...rows].join('\n')}\n`;

const received = (content: string | Buffer, file?: string) => receiveFile(shop, admin, content, file);
const view = (id: string) => viewOf(admin, id);
const bring = (content: string | Buffer, file?: string) => bringFile(shop, admin, content, file);
const takeIn = (s: SheetView, rows: number[] | null, rest: 'waits' | 'left_out') =>
  admin.post(`/cost-sheets/${s.id}/take-in`, { version: s.version, rows, rest });
const decide = async (s: SheetView, ...rows: object[]) => {
  const answer = await admin.put(`/cost-sheets/${s.id}/rows`, { version: s.version, rows });
  if (answer.status !== 200) throw new Error(JSON.stringify(answer.body));
  return view(s.id);
};
const costsOf = async (item: number) =>
  ((await admin.get(`/items/${shop.shop.items[item]}/costs`)).body as { amount: string; takenBack: boolean }[]).flatMap(
    (c) => (c.takenBack ? [] : [c.amount]),
  );
const inbox = async () => (await admin.get('/cost-sheets')).body as SheetSummary[];

describe('an arrival that is settled row by row', () => {
  it('some are taken in; the rest waits on with what was known then, until it is taken in too', async () => {
    const first = await bring(sheetOf([...ROWS, 'R9,5.00,1', 'R1x,,220']));
    const some = await takeIn(first, [2], 'waits');
    // two costs not chosen, one code nobody knows, one row that cannot be read
    expect(some.body).toEqual({ costs: 1, newItems: 0, leftOut: 0, waiting: 4, worksheet: null, later: false });
    expect([await costsOf(0), await costsOf(1)]).toEqual([['214.50', '220.00'], ['260.00']]);
    const part = await view(first.id);
    expect([part.state, part.counts.taken]).toEqual(['part_taken', 1]);
    expect(part.changes.find((c) => c.row === 2)).toMatchObject({
      taken: true,
      before: { amount: '214.50' },
      kind: 'up',
    });
    expect((await inbox())[0]).toMatchObject({
      state: 'part_taken',
      counts: { up: 3, unknown: 1, faulty: 1, taken: 1 },
    });
    const taken = await admin.put(`/cost-sheets/${part.id}/rows`, {
      version: part.version,
      rows: [{ row: 2, decision: 'held' }],
    });
    expect([taken.status, (taken.body as { code: string }).code]).toEqual([409, 'row_taken_in']);
    expect((await takeIn(part, null, 'left_out')).body).toEqual({
      costs: 2,
      newItems: 0,
      leftOut: 2,
      waiting: 0,
      worksheet: null,
      later: false,
    });
    const whole = await view(first.id);
    expect([whole.state, whole.counts.taken, await costsOf(1)]).toEqual(['taken_in', 3, ['260.00', '265.00']]);
    expect(whole.changes.find((c) => c.row === 2)).toMatchObject({ before: { amount: '214.50' } });
    const back = await admin.post(`/cost-sheets/${whole.id}/take-back`, { version: whole.version });
    expect([back.body, await costsOf(0), await costsOf(1)]).toEqual([{ costs: 3 }, ['214.50'], ['260.00']]);
  });

  it('a held row waits while the others are taken in, with its reason', async () => {
    const first = await bring(sheetOf(ROWS));
    const held = await decide(first, { row: 3, decision: 'held', reason: 'asked the supplier' });
    expect(held.changes[1]).toMatchObject({ held: true, reason: 'asked the supplier' });
    expect((await takeIn(held, null, 'waits')).body).toEqual({
      costs: 2,
      newItems: 0,
      leftOut: 0,
      waiting: 1,
      worksheet: null,
      later: false,
    });
    const part = await view(first.id);
    const free = await decide(part, { row: 3, decision: 'read' });
    expect((await takeIn(free, null, 'waits')).body).toEqual({
      costs: 1,
      newItems: 0,
      leftOut: 0,
      waiting: 0,
      worksheet: null,
      later: false,
    });
    expect((await view(first.id)).state).toBe('taken_in');
  });

  it('a sheet is turned down with a reason, which the inbox shows, and can be fetched back', async () => {
    const first = await bring(sheetOf(ROWS));
    const without = await admin.post(`/cost-sheets/${first.id}/set-aside`, { version: first.version, reason: ' ' });
    expect(without.status).toBe(422);
    const down = { version: first.version, reason: 'last year’s sheet' };
    expect((await admin.post(`/cost-sheets/${first.id}/set-aside`, down)).status).toBe(200);
    expect((await inbox())[0]).toMatchObject({ state: 'set_aside', reason: 'last year’s sheet' });
    const back = await admin.post(`/cost-sheets/${first.id}/take-back`, { version: first.version + 1 });
    expect([back.status, (await inbox())[0]!.state, (await inbox())[0]!.reason]).toEqual([200, 'waiting', null]);
  });

  it('of two who take one arrival one wins, and the other is told', async () => {
    const first = await bring(sheetOf(ROWS));
    const both = await Promise.all([takeIn(first, null, 'left_out'), takeIn(first, null, 'left_out')]);
    expect(both.map((b) => b.status).sort()).toEqual([200, 409]);
    expect(await costsOf(0)).toEqual(['214.50', '220.00']);
  });

  it('the same sheet a second time changes nothing', async () => {
    await takeIn(await bring(sheetOf(ROWS)), null, 'left_out');
    const again = await bring(sheetOf(ROWS));
    expect(again.counts).toMatchObject({ unchanged: 3, up: 0, new: 0, suspicious: 0 });
    expect((await takeIn(again, null, 'left_out')).body).toEqual({
      costs: 0,
      newItems: 0,
      leftOut: 0,
      waiting: 0,
      worksheet: null,
      later: false,
    });
  });

  it('tells which of the supplier’s items are not in the file', async () => {
    const { gone } = await bring(sheetOf(ROWS.slice(1)));
    expect(gone).toEqual({ count: 1, items: [{ item: shop.shop.items[0], sku: 'BL-10', name: 'Braided line 10 mm' }] });
    expect((await bring(sheetOf(ROWS))).gone).toEqual({ count: 0, items: [] });
  });

  it('the file is handed out byte for byte, to be kept and never to be shown', async () => {
    const content = '\ufeffCode;Cost\r\nR1;<script>alert(1)</script>\r\nR2;2,50\r\n';
    const { id } = await received(content, 'Preise März "neu".html');
    const file = await admin
      .get(`/cost-sheets/${id}/file`)
      .buffer()
      .parse((r, done) => {
        const parts: Buffer[] = [];
        r.on('data', (c: Buffer) => parts.push(c));
        r.on('end', () => done(null, Buffer.concat(parts)));
      });
    expect(Buffer.from(content).equals(file.body as Buffer)).toBe(true);
    expect(file.headers).toMatchObject({
      'content-type': 'application/octet-stream',
      'x-content-type-options': 'nosniff',
      'content-security-policy': expect.stringContaining('sandbox') as string,
    });
    expect(file.headers['content-disposition']).toMatch(/^attachment; filename="Preise M.*filename\*=UTF-8''/);
  });
});

describe('a sheet that waits', () => {
  it('makes no price: bringing it in, deciding its rows and turning it down leave every computation as it stands', async () => {
    const before = await revisionsOf(shop.context.db);
    const s = await bring(sheetOf(ROWS));
    const held = await decide(s, { row: 2, decision: 'held', reason: 'asked' });
    const match = { ...held.match, newItems: 'leave_out' };
    const matched = (await admin.put(`/cost-sheets/${s.id}/match`, { version: held.version, match })).body as SheetView;
    await admin.post(`/cost-sheets/${s.id}/set-aside`, { version: matched.version, reason: 'old' });
    expect((await inbox())[0]).toMatchObject({ state: 'set_aside', counts: { held: 1 } });
    expect(await revisionsOf(shop.context.db)).toEqual(before);
    await admin.post(`/cost-sheets/${s.id}/take-back`, { version: matched.version + 1 });
    expect(await revisionsOf(shop.context.db)).toEqual(before);
    await takeIn(await view(s.id), null, 'left_out');
    expect((await revisionsOf(shop.context.db)).catalogue).toBeGreaterThan(before.catalogue);
  });
});

describe('codes that nobody knows', () => {
  it('one that a person matched is known in the next file too, until it is forgotten', async () => {
    const first = await bring(sheetOf(['OLD-77,250.00,220']));
    expect(first.changes[0]!.kind).toBe('unknown');
    const say = (s: SheetView, item: string | null) =>
      admin.post(`/cost-sheets/${s.id}/codes`, { version: s.version, code: 'OLD-77', item });
    await say(first, shop.shop.items[1]!);
    const said = await view(first.id);
    expect(said.changes[0]).toMatchObject({ sku: 'BL-12', kind: 'down', before: { amount: '260.00' } });
    expect((await bring(sheetOf(['old-77,251.00,220']))).changes[0]).toMatchObject({ sku: 'BL-12' });
    await say(said, null);
    const forgotten = await view(first.id);
    expect(forgotten.changes[0]!.kind).toBe('unknown');
    expect((await say(forgotten, '999')).status).toBe(404);
  });

  it('two codes of one item on one day are told: the later row would count', async () => {
    const first = await bring(sheetOf(['R2,265.00,220', 'BL-12,270.00,220', 'R3,315.00,220']));
    expect(first.changes.map((c) => [c.sku, c.flags])).toEqual([
      ['BL-12', ['same_item']],
      ['BL-12', ['same_item']],
      ['BL-14', []],
    ]);
    await takeIn(first, null, 'left_out');
    expect(await costsOf(1)).toEqual(['260.00', '265.00', '270.00']);
  });

  it('one row becomes an item where that is said, the other stays out', async () => {
    const first = await bring(sheetOf(['N1,12.00,1,New line', 'N2,13.00,1,Other'], `${HEAD},Name`));
    const add = { category: shop.shop.category, taxClass: 'standard' };
    const one = await decide(first, { row: 2, decision: 'read', add });
    expect(one.changes.map((c) => c.kind)).toEqual(['new', 'unknown']);
    expect((await takeIn(one, null, 'left_out')).body).toEqual({
      costs: 1,
      newItems: 1,
      leftOut: 1,
      waiting: 0,
      worksheet: null,
      later: false,
    });
    const items = ((await admin.get('/items')).body as { rows: { sku: string; name: string }[] }).rows;
    expect(items.filter((i) => /^N\d/.test(i.sku)).map((i) => [i.sku, i.name])).toEqual([['N1', 'New line']]);
  });
});

describe('what a file says of the items themselves', () => {
  it('RRP, MAP and weight are shown beside what is known, and written only where that was chosen', async () => {
    const text = sheetOf(['R1,220.00,220,3.20,2.90,0.064', 'R2,260.00,220,3.90,,0.080'], `${HEAD},RRP,MAP,Weight kg`);
    const first = await bring(text);
    expect(first.changes.map((c) => c.figures)).toEqual([
      [
        { field: 'rrp', before: null, after: '3.20' },
        { field: 'map', before: null, after: '2.90' },
      ],
      [
        { field: 'rrp', before: null, after: '3.90' },
        { field: 'weightKg', before: '0.064', after: '0.080' },
      ],
    ]);
    const item = async (n: number) => (await admin.get(`/items/${shop.shop.items[n]}`)).body as object;
    const match = { ...first.match, known: 'take' };
    const read = (await admin.put(`/cost-sheets/${first.id}/match`, { version: first.version, match }))
      .body as SheetView;
    await takeIn(read, null, 'left_out');
    // the record of changes says what became of the items themselves
    const { rows } = await shop.database.pool.query<{ figures: unknown }>(
      "select after -> 'figures' as figures from audit_entries where action = 'took in costs' order by id desc limit 1",
    );
    expect(rows[0]!.figures).toContainEqual(['BL-12', 'weightKg', '0.064', '0.080']);
    // the second costs what it did: what it says of the item counts all the same
    expect([await costsOf(1), await item(0), await item(1)]).toMatchObject([
      ['260.00'],
      { rrp: { amount: '3.20', currency: 'GBP', taxIn: true }, map: { amount: '2.90' } },
      { rrp: { amount: '3.90' }, weightKg: '0.080' },
    ]);
    // taken back, they are as they were; what somebody changed since stays
    const { id, ...body } = (await item(1)) as { id: string };
    await admin.put(`/items/${id}`, { ...body, weightKg: '0.090' });
    const { version } = await viewOf(admin, first.id);
    expect((await admin.post(`/cost-sheets/${first.id}/take-back`, { version })).status).toBe(200);
    expect([await item(0), await item(1)]).toMatchObject([
      { rrp: null, map: null, weightKg: '0.064' },
      { rrp: { amount: '3.90' }, weightKg: '0.090' },
    ]);
    // and the next one writes them again
    const again = await viewOf(admin, first.id);
    await takeIn(again, null, 'left_out');
    expect(await item(0)).toMatchObject({ rrp: { amount: '3.20' } });
  });

  it('a reduced cost counts beside the usual one; a file without it would end it, and says so', async () => {
    const first = await bring(sheetOf(['R1,220.00,220,198.00'], `${HEAD},Reduced cost`));
    expect(first.changes[0]).toMatchObject({ kind: 'down', changePercent: '-7.69', after: { reduced: '198.00' } });
    await takeIn(first, null, 'left_out');
    const next = await bring(sheetOf(['R1,220.00,220']));
    expect(next.changes[0]).toMatchObject({
      kind: 'up',
      flags: ['ends_reduced'],
      because: { ends_reduced: { amount: '198.00', currency: 'GBP' } },
    });
  });
});

describe('costs that follow by themselves', () => {
  const follow = (on: boolean, as = admin) => as.put(`/cost-suppliers/${shop.shop.supplier}`, { follow: on });
  const suppliers = async () => (await admin.get('/cost-suppliers')).body as CostSupplier[];

  it('are taken in at once where the file is laid out as before and nothing is suspicious; else it waits', async () => {
    expect((await follow(true)).status).toBe(200);
    const first = await received(sheetOf(ROWS));
    // how it is read nobody has seen yet
    expect(first.byItself).toBe(false);
    await takeIn(await view(first.id), null, 'left_out');
    const next = await received(sheetOf(['R1,221.00,220', 'R2,266.00,220']));
    expect([next.byItself, await costsOf(0)]).toEqual([true, ['214.50', '220.00', '221.00']]);
    expect((await inbox())[0]).toMatchObject({ state: 'taken_in', byItself: true });
    for (const [why, text] of [
      ['a shifted decimal', sheetOf(['R1,22.20,220'])],
      ['an unknown code', sheetOf(['R1,222.00,220', 'R77,1.00,1'])],
      ['a row that cannot be read', sheetOf(['R1,222.00,220', 'R2,,220'])],
      ['another layout', sheetOf(['R1,222.00,220,x'], `${HEAD},Colour`)],
    ] as const)
      expect([why, (await received(text)).byItself]).toEqual([why, false]);
    expect(await costsOf(0)).toEqual(['214.50', '220.00', '221.00']);
    const [supplier] = await suppliers();
    expect(supplier).toMatchObject({ follow: true, waiting: 4 });
    await follow(false);
    expect((await received(sheetOf(['R1,222.00,220']))).byItself).toBe(false);
  });

  it('is said by those who change rules, not by those who only post', async () => {
    expect((await follow(true, await signIn(shop.app, 'approver'))).status).toBe(403);
    expect((await follow(true, await signIn(shop.app, 'seller'))).status).toBe(403);
    expect((await suppliers())[0]!.follow).toBe(false);
  });
});

describe('what an arrival would move', () => {
  const effect = async (id: string) => (await admin.get(`/cost-sheets/${id}/effect`)).body as SheetEffect;

  it('is what the lists show once it is taken in', async () => {
    const priceOf = async (list: string) =>
      ((await admin.get(`/lists/${list}/prices`)).body as ListPrices).rows.map((r) => r.proposed);
    const before = [await priceOf(shop.shop.counter), await priceOf(shop.shop.yards)];
    const s = await bring(sheetOf(['R1,240.00,220', 'R2,260.00,220', 'R3,290.00,220']));
    const told = await effect(s.id);
    const { rows } = await rowsOf(admin, s.id, `moves=${told.state}`);
    await takeIn(s, null, 'left_out');
    const after = [await priceOf(shop.shop.counter), await priceOf(shop.shop.yards)];
    const moved = after.map((list, i) => list.filter((p, n) => p !== before[i]![n]).length);
    expect(told.lists.map((l) => [l.name, l.prices])).toEqual([
      ['Yards', moved[1]],
      ['Counter', moved[0]],
    ]);
    expect(told.prices).toBe(moved[0]! + moved[1]!);
    expect(rows.map((r) => [r.row, r.moves?.prices, r.moves?.lists])).toEqual([
      [2, 2, 2],
      [3, undefined, undefined],
      [4, moved[0]! + moved[1]! - 2, 2],
    ]);
    expect((await rowsOf(admin, s.id, 'moves=of+before')).rows.every((r) => r.moves === undefined)).toBe(true);
    const counter = told.lists.find((l) => l.name === 'Counter')!;
    const percent = ([a, b]: (string | null)[]) => ((Number(b) / Number(a) - 1) * 100).toFixed(2);
    expect([counter.rises, counter.falls, counter.most]).toEqual([1, 1, percent([before[0]![0]!, after[0]![0]!])]);
  });

  it('counts on the day the costs begin, and follows what was decided', async () => {
    const s = await bring(sheetOf(['R1,240.00,220,2026-05-01'], `${HEAD},Valid from`));
    expect(await effect(s.id)).toMatchObject({ day: '2026-05-01', prices: 2 });
    await decide(s, { row: 2, decision: 'left_out' });
    expect(await effect(s.id)).toMatchObject({ prices: 0, lists: [] });
    await postAll(admin, shop.shop.counter);
    expect((await effect(s.id)).prices).toBe(0);
  });
});

describe('what an arrival leads to', () => {
  it('one step proposes prices for exactly the items it brought, on every list, and posts like any other', async () => {
    const s = await bring(sheetOf(['R1,240.00,220', 'R2,265.00,220']));
    const propose = (costSheet: string) =>
      admin.post('/worksheets', { reason: 'New costs', day: TODAY, lists: [], costSheet });
    const early = await propose(s.id);
    expect([early.status, (early.body as { code: string }).code]).toEqual([409, 'nothing_taken_in']);
    await takeIn(s, [2], 'left_out');
    const made = (await propose(s.id)).body as Worksheet;
    expect(made).toMatchObject({ state: 'draft', total: 2, costSheet: { id: s.id, fileName: 'costs.csv' } });
    const prices = async (list: string) =>
      ((await admin.get(`/worksheets/${made.id}/lists/${list}/prices?shows=all`)).body as WorksheetPrices).rows;
    const shown = ((await admin.get(`/lists/${shop.shop.counter}/prices`)).body as ListPrices).rows;
    expect((await prices(shop.shop.counter)).map((r) => [r.sku, r.after])).toEqual([
      [shown[0]!.sku, shown[0]!.proposed],
    ]);
    const both = [shop.shop.counter, shop.shop.yards];
    const posted = await admin.post(`/worksheets/${made.id}/postings`, { reason: 'up', lists: both, share: 'changed' });
    expect(posted.status).toBe(200);
    expect(Object.values(await postedOn(admin, shop.shop.counter, TODAY))).toEqual([shown[0]!.proposed, null, null]);
  });
});
