import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { AuditRow, ListPrices, PostingSummary } from '#contract/lists.ts';
import {
  type Person,
  TODAY,
  type Workshop,
  linesOf,
  openWorkshop,
  postAll,
  postedOn,
  signIn,
} from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  await postAll(admin, shop.shop.counter, TODAY, 'first');
});
afterAll(() => shop.close());

const prices = async (day?: string, person = admin) =>
  (await person.get(`/lists/${shop.shop.counter}/prices${day ? `?day=${day}` : ''}`)).body as ListPrices;

describe('reading the ledger', () => {
  it('lists postings, the latest first, with how many went up and down', async () => {
    shop.setDay('2026-03-20');
    await admin.post('/costs', {
      item: shop.shop.items[0],
      supplier: shop.shop.supplier,
      amount: '300.00',
      currency: 'GBP',
      packUnits: '220',
      validFrom: '2026-03-20',
    });
    await admin.post('/costs', {
      item: shop.shop.items[1],
      supplier: shop.shop.supplier,
      amount: '200.00',
      currency: 'GBP',
      packUnits: '220',
      validFrom: '2026-03-20',
    });
    const id = await postAll(admin, shop.shop.counter, '2026-03-20', 'second');
    const [latest, earlier] = (await admin.get('/postings')).body as PostingSummary[];
    expect(latest).toMatchObject({
      id,
      reason: 'second',
      lines: 2,
      up: 1,
      down: 1,
      by: 'Ada',
      effective: '2026-03-20',
      kind: 'post',
    });
    expect(earlier).toMatchObject({ reason: 'first', lines: 3, up: 3 });
    const detail = await linesOf(admin, id!);
    expect(detail.map((l) => [l.sku, l.before, l.after, l.changePercent])).toEqual([
      ['BL-10', '2.40', '3.35', '39.58'],
      ['BL-12', '2.90', '2.25', '-22.41'],
    ]);
    expect(detail.every((l) => l.margin !== null)).toBe(true);
  });

  it('goes on below the last one that was read, and for one list alone', async () => {
    const all = (await admin.get('/postings')).body as PostingSummary[];
    const rest = (await admin.get(`/postings?below=${all[0]!.id}`)).body as PostingSummary[];
    expect(rest.map((p) => p.id)).toEqual(all.slice(1).map((p) => p.id));
    expect((await admin.get(`/postings?list=${shop.shop.yards}`)).body).toEqual([]);
  });

  it('does not show margins to those who may not see costs, nor the other changes', async () => {
    const reader = await signIn(shop.app, 'reader');
    const [latest] = (await reader.get('/postings')).body as PostingSummary[];
    const detail = await linesOf(reader, latest!.id);
    const sorted = await reader.get(`/postings/${latest!.id}/lines?sort=margin`);
    expect(sorted.status, 'an order tells what it holds').toBe(422);
    expect(detail.map((l) => l.margin)).toEqual([null, null]);
    expect((await reader.get('/audit')).status).toBe(403);
  });

  it('every change stands there with who did what, the latest first', async () => {
    const rows = (await admin.get('/audit')).body as AuditRow[];
    expect(rows.slice(0, 3).map((r) => [r.by, r.action])).toEqual([
      ['Ada', 'posted prices'],
      ['Ada', 'typed a cost'],
      ['Ada', 'typed a cost'],
    ]);
    const below = (await admin.get(`/audit?below=${rows[0]!.id}`)).body as AuditRow[];
    expect(below[0]!.id).toBe(rows[1]!.id);
  });

  it('what does not exist is told as such', async () => {
    for (const path of [
      '/postings/999999',
      '/postings/x',
      '/lists/999999/prices',
      '/quotes/999999',
      '/cost-sheets/999999',
      `/lists/${shop.shop.counter}/build-up/1/999999`,
    ]) {
      expect([path, (await admin.get(path)).status]).toEqual([path, 404]);
    }
    expect((await admin.get('/nowhere')).status).toBe(404);
  });
});

describe('any day', () => {
  it('before the first posting there is no price, and on every day since the one that was in force', async () => {
    const of = async (day: string) => Object.values(await postedOn(admin, shop.shop.counter, day));
    expect(await of('2026-03-08')).toEqual([null, null, null]);
    expect(await of('2026-03-19')).toEqual(['2.40', '2.90', '3.45']);
    expect(await of('2026-03-20')).toEqual(['3.35', '2.25', '3.45']);
  });

  it('costs, rates and what is computed are those of the day as well', async () => {
    const then = await prices('2026-03-19');
    const now = await prices();
    expect([then.day, then.rows[0]!.proposed, now.rows[0]!.proposed]).toEqual(['2026-03-19', '2.40', '3.35']);
    expect(then.rows[0]!.marginBefore).toBe(then.rows[0]!.marginAfter);
  });

  it('a day that is none is refused', async () =>
    expect((await admin.get(`/lists/${shop.shop.counter}/prices?day=2026-02-30`)).status).toBe(422));

  it('a price posted for a later day counts from that day, and shows ahead of it', async () => {
    await admin.post('/costs', {
      item: shop.shop.items[2],
      supplier: shop.shop.supplier,
      amount: '400.00',
      currency: 'GBP',
      packUnits: '220',
      validFrom: '2026-04-01',
    });
    await postAll(admin, shop.shop.counter, '2026-04-01', 'from April');
    const of = async (day: string) =>
      (await postedOn(admin, shop.shop.counter, day))[`${shop.shop.items[2]}/${shop.shop.packs[2]}`];
    expect([await of('2026-03-31'), await of('2026-04-01')]).toEqual(['3.45', '4.40']);
  });
});

describe('posting with care', () => {
  it('nothing to post, and a list that does not exist, are told as such', async () => {
    const post = (list: string, lines: object[] = []) =>
      admin.post(`/lists/${list}/postings`, { effective: '2026-03-20', reason: 'x', lines });
    expect(((await post(shop.shop.counter)).body as { code: string }).code).toBe('nothing_to_post');
    expect((await post('999999')).status).toBe(404);
  });

  it('a price held because a floor lies above a ceiling cannot be posted, but can be decided by hand', async () => {
    const { items, packs, counter, recipe } = shop.shop;
    await admin.post('/items/changes', { changes: [{ item: items[0], field: 'rrp', seen: '', value: '1.00' }] });
    const seen = (
      (await admin.get('/recipes')).body as ({ id: string; guards: object[] } & Record<string, unknown>)[]
    ).find((r) => r.id === recipe)!;
    const { id: _, ...body } = seen;
    await admin.put(`/recipes/${recipe}`, { ...body, guards: [...seen.guards, { kind: 'rrp' }] });
    const held = (await prices()).rows[0]!;
    expect([held.flag, held.bit]).toEqual(['floor_above_ceiling', ['not below cost', 'not above RRP']]);
    const post = (after: string, handSet: object | null) =>
      admin.post(`/lists/${counter}/postings`, {
        effective: '2026-03-20',
        reason: 'x',
        lines: [{ item: items[0], pack: packs[0], before: held.posted, after, handSet }],
      });
    expect(((await post(held.proposed!, null)).body as { code: string }).code).toBe('held_lines');
    expect((await post('1.00', { reason: 'RRP kept', lastDay: null })).status).toBe(200);
    expect((await prices()).rows[0]).toMatchObject({ posted: '1.00', proposed: '1.00', handSet: 'RRP kept' });
  });
});
