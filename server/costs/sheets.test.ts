import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { SheetView } from '#contract/costs.ts';
import { type Person, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';
import { proposeMatch, readRows, readTable } from './read-sheet.ts';

const sheet = (text: string | Buffer) => {
  const bytes = typeof text === 'string' ? Buffer.from(text, 'utf8') : text;
  const match = proposeMatch(bytes, '2026-03-09');
  return { match, table: readTable(bytes, match), ...readRows(readTable(bytes, match), match, 'GBP') };
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
    const bytes = Buffer.from('R1;2,50\nR2;3,00\n');
    const match = proposeMatch(bytes, '2026-03-09');
    expect([match.header, match.columns]).toEqual([false, {}]);
    const table = readTable(bytes, match);
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

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

async function bring(text: string | Buffer): Promise<SheetView> {
  const made = await admin.bytes(
    `/cost-sheets?supplier=${shop.shop.supplier}&file=costs.csv`,
    Buffer.from(text as string),
  );
  if (made.status !== 200) throw new Error(JSON.stringify(made.body));
  return (await admin.get(`/cost-sheets/${(made.body as { id: string }).id}`)).body as SheetView;
}

describe('taking a cost sheet in', () => {
  it('shows what would change before anything does, then does exactly that', async () => {
    const view = await bring(
      'Code,Net price,Pack size,Currency\nR1,220.00,220,GBP\nR2,260.00,220,GBP\nR3,305.00,220,GBP\nR9,10.00,1,GBP\n',
    );
    expect(view.counts).toEqual({ new: 0, up: 1, down: 1, unchanged: 1, unknown: 1, faulty: 0, leftOut: 0 });
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
    const done = await admin.post(`/cost-sheets/${view.id}/take-in`, { version: view.version, leaveOutFaulty: false });
    expect(done.body).toEqual({ costs: 2, newItems: 0, leftOut: 1 });
    expect(await history()).toEqual(['214.50', '220.00']);
    const again = await admin.post(`/cost-sheets/${view.id}/take-in`, {
      version: view.version + 1,
      leaveOutFaulty: false,
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
      { row: 2, leaveOut: false, cells: { cost: '221.00' } },
      { row: 3, leaveOut: true },
    ];
    const read = (await put(view.version, rows)).body as SheetView;
    expect(read.counts).toMatchObject({ faulty: 0, leftOut: 1 });
    expect(read.changes.map((c) => [c.row, c.after.amount])).toEqual([
      [2, '221.00'],
      [4, '310.00'],
    ]);
    expect(read.sample[0]).toEqual(['R1', '2x1.00', '220']);
    const asItCame = (await put(read.version, [{ row: 3, leaveOut: false }])).body as SheetView;
    expect([asItCame.counts.faulty, Object.keys(asItCame.corrections)]).toEqual([1, ['2']]);
    expect((await put(asItCame.version, [{ row: 99, leaveOut: true }])).status).toBe(404);
    expect((await put(read.version, rows)).status).toBe(409);
  });

  it('what a sheet changed stays readable after it was taken in, and the whole sheet can be taken back', async () => {
    const item = shop.shop.items[0]!;
    const landed = async () =>
      ((await admin.get('/items')).body as { id: string; landed: string }[]).find((i) => i.id === item)!.landed;
    const before = await landed();
    const view = await bring('Code,Net price,Pack size\nR1,333.00,220\nR2,,220\n');
    await admin.post(`/cost-sheets/${view.id}/take-in`, { version: view.version, leaveOutFaulty: true });
    expect(await landed()).not.toBe(before);
    const taken = (await admin.get(`/cost-sheets/${view.id}`)).body as SheetView;
    expect([taken.state, taken.changes, taken.counts]).toEqual(['taken_in', view.changes, view.counts]);
    const back = await admin.post(`/cost-sheets/${view.id}/take-back`, { version: taken.version });
    expect(back.body).toEqual({ costs: 1 });
    expect(await landed()).toBe(before);
    const history = (await admin.get(`/items/${item}/costs`)).body as { amount: string; takenBack: boolean }[];
    expect(history.find((c) => c.amount === '333.00')!.takenBack).toBe(true);
    // it waits again and can be taken in anew
    const again = (await admin.get(`/cost-sheets/${view.id}`)).body as SheetView;
    expect([again.state, again.changes]).toEqual(['waiting', view.changes]);
    expect((await admin.post(`/cost-sheets/${view.id}/take-back`, { version: again.version })).status).toBe(409);
    await admin.post(`/cost-sheets/${view.id}/take-in`, { version: again.version, leaveOutFaulty: true });
    expect(await landed()).not.toBe(before);
    const third = (await admin.get(`/cost-sheets/${view.id}`)).body as SheetView;
    await admin.post(`/cost-sheets/${view.id}/take-back`, { version: third.version });
  });

  it('refuses a sheet with faulty rows unless they are left out on purpose', async () => {
    const view = await bring('Code,Net price,Pack size\nR1,221.00,220\nR2,,220\n');
    const refused = await admin.post(`/cost-sheets/${view.id}/take-in`, {
      version: view.version,
      leaveOutFaulty: false,
    });
    expect([refused.status, (refused.body as { code: string }).code]).toEqual([422, 'sheet_rows_wrong']);
    expect(
      (await admin.post(`/cost-sheets/${view.id}/take-in`, { version: view.version, leaveOutFaulty: true })).body,
    ).toEqual({ costs: 1, newItems: 0, leftOut: 1 });
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
    const read = (await admin.put(`/cost-sheets/${view.id}/match`, { version: view.version, match })).body as SheetView;
    expect(read.changes.map((c) => [c.after.amount, c.kind])).toEqual([
      ['1234', 'up'],
      ['2500', 'new'],
    ]);
    expect(
      (await admin.post(`/cost-sheets/${view.id}/take-in`, { version: read.version, leaveOutFaulty: false })).body,
    ).toEqual({ costs: 2, newItems: 1, leftOut: 0 });
    const items = (await admin.get('/items')).body as {
      sku: string;
      name: string;
      landed: string | null;
      packs: unknown[];
    }[];
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
    await admin.post(`/cost-sheets/${view.id}/take-in`, { version: view.version, leaveOutFaulty: false });
    const landed = async () =>
      Number(((await admin.get('/items')).body as { id: string; landed: string }[]).find((i) => i.id === item)!.landed);
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

  it('5,000 rows are compared and taken in whole', async () => {
    const rows = Array.from(
      { length: 5_000 },
      (_, i) => `BULK-${i},Part ${i},${(i % 900) + 1}.${String(i % 100).padStart(2, '0')},1`,
    );
    const view = await bring(`Code,Description,Net price,Pack size\n${rows.join('\n')}\n`);
    expect(view.counts.unknown).toBe(5_000);
    const match = { ...view.match, newItems: 'add', category: shop.shop.category, taxClass: 'standard' };
    const read = (await admin.put(`/cost-sheets/${view.id}/match`, { version: view.version, match })).body as SheetView;
    const done = await admin.post(`/cost-sheets/${view.id}/take-in`, { version: read.version, leaveOutFaulty: false });
    expect(done.body).toEqual({ costs: 5_000, newItems: 5_000, leftOut: 0 });
  });
});
