import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ItemWindow } from '#contract/items.ts';
import type { ListPrices, WouldPost } from '#contract/lists.ts';
import { EVERYTHING } from '#contract/windows.ts';
import { type Person, TODAY, type Workshop, openWorkshop, postAll, signIn } from '../platform/tests/workshop.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

let shop: Workshop;
let admin: Person;
let seller: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  seller = await signIn(shop.app, 'seller');
});
afterAll(() => shop.close());

const prices = async (query = '', person = admin) =>
  (await person.get(`/lists/${shop.shop.counter}/prices${query}`)).body as ListPrices;
const would = async (typed: object[] = [], arranged: object = {}) =>
  (await admin.post(`/lists/${shop.shop.counter}/to-post`, { arranged: { ...EVERYTHING, ...arranged }, typed }))
    .body as WouldPost;
const post = (state: string, typed: object[] = [], more: object = {}) =>
  admin.post(`/lists/${shop.shop.counter}/shown-postings`, {
    arranged: EVERYTHING,
    typed,
    effective: TODAY,
    reason: 'as shown',
    state,
    ...more,
  });

describe('a list, window by window', () => {
  it('stretches that follow each other are the whole, each row once', async () => {
    const whole = await prices();
    expect(whole.fits).toBe(3);
    const parts = [await prices('?from=0&count=2'), await prices('?from=2&count=2')];
    expect(parts.flatMap((p) => p.rows)).toEqual(whole.rows);
    expect(new Set([whole, ...parts].map((p) => p.arrangement)).size).toBe(1);
  });

  it('is sorted and narrowed as asked, and tells where a row stands', async () => {
    const by = (rows: ListPriceRow[]) => rows.map((r) => Number(r.proposed));
    const down = await prices('?sort=proposed&down=1');
    expect(by(down.rows)).toEqual([...by(down.rows)].sort((a, b) => b - a));
    const last = down.rows.at(-1)!;
    expect((await prices(`?sort=proposed&down=1&count=0&key=${last.item}-${last.pack}`)).place).toBe(2);
    const filters = encodeURIComponent(JSON.stringify([{ column: 'proposed', filter: `>=${down.rows[1]!.proposed}` }]));
    expect((await prices(`?filters=${filters}`)).fits).toBe(2);
  });

  it('whoever may not see costs can neither sort nor filter by them, nor look at losses', async () => {
    const filters = encodeURIComponent('[{"column":"cost","filter":">1"}]');
    for (const query of ['sort=cost', 'sort=proposed', 'show=loss', `filters=${filters}`])
      expect((await seller.get(`/lists/${shop.shop.counter}/prices?${query}`)).status).toBe(422);
    expect((await prices('?sort=sku', seller)).looks).toMatchObject({ all: 3, new: 0, loss: 0 });
  });

  it.each(['filters=[', 'filters=[{"column":"sku"}]', 'filters={}', 'jump={"to":"moon","column":"sku","row":1}'])(
    'a question that cannot be read is refused with what is wrong: %s',
    async (query) => {
      expect((await admin.get(`/lists/${shop.shop.counter}/prices?${encodeURI(query)}`)).status).toBe(422);
    },
  );

  it('the items likewise: a new name is found at once, and so is what it was no more', async () => {
    const found = async (find: string) => (await admin.get(`/items?find=${find}`)).body as ItemWindow;
    const [first] = (await found('')).rows;
    const changes = [{ item: first!.id, field: 'name', seen: first!.name, value: 'Zebra line' }];
    expect((await found('zebra')).fits).toBe(0);
    expect((await admin.post('/items/changes', { changes })).status).toBe(200);
    expect(await found('zebra')).toMatchObject({ fits: 1, total: 3, stale: false, rows: [{ id: first!.id }] });
    const back = [{ ...changes[0]!, seen: 'Zebra line', value: first!.name }];
    expect((await admin.post('/items/changes', { changes: back })).status).toBe(200);
    expect((await found('zebra')).fits).toBe(0);
  });
});

describe('posting what a list shows', () => {
  it('posts what differs and nothing else, typed prices as typed, and refuses what has moved on', async () => {
    const { rows } = await prices();
    const computed = rows.filter((r) => r.proposed !== null);
    const [one, two] = computed as [ListPriceRow, ListPriceRow];
    const typed = [
      { item: one.item, pack: one.pack, after: '99.50' },
      // typed as it is computed: it was not typed
      { item: two.item, pack: two.pack, after: `${two.proposed}0` },
    ];
    const seen = await would(typed);
    expect(seen).toMatchObject({ lines: computed.length, typed: 1, stale: false });
    expect(seen.largest.find((l) => l.row.item === one.item)).toMatchObject({ after: '99.50', typed: true });
    expect((await would([], { find: one.sku })).lines).toBe(1);

    expect((await post('1.1.1/2026-03-09', typed)).status).toBe(409);
    const done = await post(seen.state, typed, { typedReason: 'fair' });
    expect(done.body).toMatchObject({ lines: computed.length });
    const after = (await prices()).rows;
    expect(after.find((r) => r.item === one.item)).toMatchObject({ posted: '99.50', handSet: 'fair' });
    expect(after.find((r) => r.item === two.item)).toMatchObject({ posted: two.proposed, handSet: null });
    expect((await would()).lines).toBe(0);

    // somebody else was faster
    await postAll(admin, shop.shop.yards);
    expect(await post(seen.state)).toMatchObject({ status: 409, body: { code: 'list_moved_on' } });
  });

  it('only who may post and see costs is told what it would come to', async () => {
    const asked = { arranged: EVERYTHING, typed: [] };
    expect((await seller.post(`/lists/${shop.shop.counter}/to-post`, asked)).status).toBe(403);
  });

  it('the rows of a file are found by their codes, whatever their case; unknown ones are passed over', async () => {
    const { rows } = await prices();
    const skus = [rows[0]!.sku.toLowerCase(), ' no such code '];
    const found = (await admin.post(`/lists/${shop.shop.counter}/rows`, { skus })).body as ListPriceRow[];
    expect(found).toEqual(rows.filter((r) => r.sku === rows[0]!.sku));
  });
});
