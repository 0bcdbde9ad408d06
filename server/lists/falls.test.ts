import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Falls } from '#contract/falls.ts';
import type { BuildUp } from '#contract/lists.ts';
import type { RecipeBody } from '#contract/recipes.ts';
import { dec } from '#core/numbers/decimal.ts';
import { type Person, TODAY, type Workshop, openWorkshop, postAll, signIn } from '../platform/tests/workshop.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  await guard({});
  await postAll(admin, shop.shop.counter);
  const at = { supplier: shop.shop.supplier, reduced: null, currency: 'GBP', packUnits: '220', validFrom: TODAY };
  await admin.post('/costs', { item: shop.shop.items[0], amount: '180.00', ...at });
});
afterAll(() => shop.close());

/** The counter's recipe raises only, and more. */
async function guard(more: Partial<RecipeBody>): Promise<void> {
  const all = (await admin.get('/recipes')).body as (RecipeBody & { id: string; version: number })[];
  const { id, ...body } = all.find((r) => r.id === shop.shop.recipe)!;
  const guards = [{ kind: 'raise_only' }];
  expect((await admin.put(`/recipes/${id}`, { ...body, guards, ...more })).status).toBe(200);
}
const falls = async () => (await admin.get('/falls')).body as Falls;
const rowOf = async () => {
  const { rows } = (await admin.get(`/lists/${shop.shop.counter}/prices`)).body as { rows: ListPriceRow[] };
  return rows.find((r) => r.item === shop.shop.items[0])!;
};

describe('prices that would fall', () => {
  it('stay, and wait with what was sold of them', async () => {
    const quote = {
      ...{ customer: shop.shop.customers[0], list: shop.shop.counter, listReason: 'at the counter', day: TODAY },
      ...{ validUntil: null, note: '', currency: 'EUR' },
      lines: [{ item: shop.shop.items[0], pack: shop.shop.packs[0], quantity: '40' }],
    };
    await shop.asOwner(`
      insert into quotes (number, customer_id, list_id, day, state, written_by, written_at, accepted_on)
        values ('Q-1', ${quote.customer}, ${shop.shop.counter}, '${TODAY}', 'accepted', ${shop.shop.people['administrator']}, now(), '2026-02-01');
      insert into quote_lines (quote_id, position, item_id, pack_id, quantity)
        select id, 1, ${shop.shop.items[0]}, ${shop.shop.packs[0]}, 40 from quotes where number = 'Q-1'`);
    const row = await rowOf();
    expect(row.posted).toBe(row.proposed);
    const found = await falls();
    expect(found.lists).toMatchObject([{ name: 'Counter', prices: 1 }]);
    const [fall] = found.rows;
    expect(fall).toMatchObject({ sku: 'BL-10', posted: row.posted, to: row.wouldFallTo, sold: '40' });
    expect(fall!.money).toBe(dec(row.posted!).minus(row.wouldFallTo!).times(40).toFixed(2));
    expect(dec(fall!.marginThen!).lt(fall!.marginNow!)).toBe(true);
  });

  it('count what is sold by the last issued change of a quote, not by its draft', async () => {
    const change = (number: number, state: string, quantity: string) => {
      const body = { lines: [{ item: shop.shop.items[0], pack: shop.shop.packs[0], quantity }] };
      const issued = state === 'issued' ? `'${JSON.stringify({ body })}'` : 'null';
      return `insert into quote_changes (quote_id, number, state, day, body, written_by, written_at, issued)
        select id, ${number}, '${state}', '${TODAY}', '${JSON.stringify(body)}', ${shop.shop.people['administrator']}, now(), ${issued}
        from quotes where number = 'Q-1';`;
    };
    await shop.asOwner(change(1, 'issued', '25') + change(2, 'issued', '12.5') + change(3, 'draft', '90'));
    await admin.post('/categories', { name: 'something new', parent: null });
    expect((await falls()).rows[0]).toMatchObject({ sku: 'BL-10', sold: '12.5' });
  });

  it('are not asked about where the recipe says so', async () => {
    await guard({ quietFalls: true });
    expect((await falls()).rows).toEqual([]);
    await guard({ quietFalls: false });
    expect((await falls()).rows).toHaveLength(1);
  });

  it('fall when a person lets them, and each then tells how it was made', async () => {
    const [fall] = (await falls()).rows;
    const line = { item: fall!.item, pack: fall!.pack, before: fall!.posted, after: fall!.to, handSet: null };
    const body = { effective: TODAY, reason: 'costs fell', lines: [line] };
    // without saying that it is meant, the price stays
    expect((await admin.post(`/lists/${shop.shop.counter}/postings`, body)).status).toBe(409);
    const meant = { ...body, lines: [{ ...line, fall: true }] };
    expect((await admin.post(`/lists/${shop.shop.counter}/postings`, meant)).status).toBe(200);
    expect([(await rowOf()).posted, (await falls()).rows]).toEqual([fall!.to, []]);
    const why = (await admin.get(`/lists/${shop.shop.counter}/build-up/${fall!.item}/${fall!.pack}`)).body as BuildUp;
    expect(dec(why.postedSteps!.at(-1)!.after).toFixed(2)).toBe(fall!.to);
  });

  it('wait with what was sold of each item of a lockstep group, though a quote names the item’s own pack', async () => {
    const { items, packs, supplier } = shop.shop;
    const at = { supplier, reduced: null, currency: 'GBP', packUnits: '220', validFrom: TODAY };
    await admin.post('/costs', { item: items[0], amount: '150.00', ...at });
    expect((await admin.post('/lockstep', { name: 'as one', lead: items[0], members: [items[1]] })).status).toBe(200);
    await shop.asOwner(`
      insert into quotes (number, customer_id, list_id, day, state, written_by, written_at, accepted_on)
        select 'Q-2', customer_id, list_id, day, state, written_by, written_at, accepted_on from quotes where number = 'Q-1';
      insert into quote_lines (quote_id, position, item_id, pack_id, quantity)
        select id, 1, ${items[1]}, ${packs[1]}, 3 from quotes where number = 'Q-2'
        union all select id, 2, ${items[1]}, ${packs[0]}, 4 from quotes where number = 'Q-2'`);
    const { rows } = await falls();
    const member = rows.find((r) => r.item === items[1])!;
    expect([rows.length, member.sold]).toEqual([2, '7']);
    expect(member.money).toBe(dec(member.posted).minus(member.to).times(7).toFixed(2));
  });
});
