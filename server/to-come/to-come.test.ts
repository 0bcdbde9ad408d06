import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { MovesOfChange } from '#contract/findings.ts';
import type { ListPrices } from '#contract/lists.ts';
import type { PriceCheck } from '#contract/quotes.ts';
import type { ChangeToCome } from '#contract/to-come.ts';
import { postingLines } from '../ledger/tables.ts';
import { stepsOfLine } from '../ledger/rebuilt-steps.ts';
import {
  type Person,
  TODAY,
  type Workshop,
  openWorkshop,
  postAll,
  signIn,
  waitingFor,
} from '../platform/tests/workshop.ts';
import { carryOutAllDue } from './routes.ts';

type Kept = { id: string; version: number } & Record<string, unknown>;

let shop: Workshop;
let admin: Person;
let seller: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  seller = await signIn(shop.app, 'seller');
  for (const list of [shop.shop.counter, shop.shop.yards]) await postAll(admin, list);
});
afterAll(() => shop.close());
beforeEach(async () => {
  shop.setDay(TODAY);
  await dropAll();
});

const SOON = '2026-03-16';
const LATER = '2026-04-01';
const toCome = async () => (await admin.get('/changes-to-come')).body as ChangeToCome[];
/** One after the other: those that come after one that is dropped are others then. */
const dropAll = async () => {
  for (let left = await toCome(); left.length > 0; left = await toCome())
    expect((await admin.delete(`/changes-to-come/${left[0]!.id}`, { version: left[0]!.version })).status).toBe(200);
};
const one = async (register: string, n = 0) => ((await admin.get(`/${register}`)).body as Kept[])[n]!;
interface Plan {
  register: string;
  row: Kept;
  day?: string;
  change: object | null;
  upon?: string[];
}
const plan = ({ register, row, day = SOON, change, upon = [] }: Plan) => {
  const { id, version, ...body } = row;
  const asked = { register, record: id, version, day, reason: 'new year', upon };
  return admin.post('/changes-to-come', { ...asked, body: change && { ...body, ...change } });
};
const planned = async (asked: Plan) => {
  const answer = await plan(asked);
  if (answer.status !== 200) throw new Error(JSON.stringify(answer.body));
  return answer.body as ChangeToCome;
};
/** What the first item costs a customer on a day, per pack. */
const asked = async (day: string, quantity = '50') => {
  const [item, pack, customer] = [shop.shop.items[0], shop.shop.packs[0], shop.shop.customers[0]];
  const question = { customer, group: null, country: null, channel: null, item, pack, quantity, day };
  return ((await seller.post('/price-check', question)).body as PriceCheck).figures.lines[0]!.unitPrice;
};
const reduction = async (value: string) => {
  const body = { name: `r${value}`, customer: shop.shop.customers[0], scope: {}, kind: 'percent_off', value };
  return (await admin.post('/reductions', body)).body as Kept;
};

describe('a change of rules that begins on a day to come', () => {
  it('counts from its first day and not before; the record says what holds today until then', async () => {
    const row = await reduction('10');
    const [now, then] = [await asked(TODAY), await asked(SOON)];
    expect(now).toBe(then);
    const made = await planned({ register: 'reductions', row, change: { value: '50' } });
    expect(made).toMatchObject({
      name: 'r10',
      day: SOON,
      change: { value: '50' },
      was: { value: '10' },
      trouble: null,
    });
    expect(await asked('2026-03-15')).toBe(now);
    expect(Number(await asked(SOON))).toBeCloseTo((Number(now) / 0.9) * 0.5, 1);
    expect((await one('reductions'))['value']).toBe('10');
    await admin.delete(`/changes-to-come/${made.id}`, { version: made.version });
    expect(await asked(SOON)).toBe(now);
    await admin.delete(`/reductions/${row.id}`, { version: row.version });
  });

  it('is carried out on its day as a new version, and no price of that day moves by it, before or after', async () => {
    const row = await reduction('10');
    await planned({ register: 'reductions', row, change: { value: '40' } });
    const promised = await asked(SOON);
    shop.setDay(SOON);
    // nobody has looked since midnight: the price holds it all the same
    expect([await asked(SOON), (await one('reductions'))['value']]).toEqual([promised, '10']);
    await carryOutAllDue(shop.context);
    const kept = await one('reductions');
    expect([kept.version, kept['value'], await asked(SOON), await toCome()]).toEqual([2, '40', promised, []]);
    const [entry] = (await admin.get(`/audit?subject=reductions&of=${row.id}`)).body as {
      action: string;
      by: string;
    }[];
    expect(entry!.action).toBe(`changed, as planned for ${SOON}`);
    await carryOutAllDue(shop.context);
    expect((await one('reductions')).version).toBe(2);
    await admin.delete(`/reductions/${row.id}`, { version: 2 });
  });

  it('the file of its day is the same, letter for letter, before and after it is carried out', async () => {
    const file = async () => (await admin.get(`/workspace-file?day=${SOON}`)).text;
    const row = await one('lists');
    const entry = { list: row.id, scope: {}, kind: 'percent_off', value: '3' };
    const kept = (await admin.post('/entries', entry)).body as Kept;
    await planned({ register: 'lists', row, change: { rank: 55 } });
    shop.setDay(SOON);
    const before = await file();
    expect(before).toContain('"rank": 55');
    await carryOutAllDue(shop.context);
    expect(await toCome()).toEqual([]);
    expect(await file()).toBe(before);
    expect((await admin.delete(`/entries/${kept.id}`, { version: kept.version })).status).toBe(200);
  });

  it('removes a record from its day on', async () => {
    const row = await reduction('10');
    const less = await asked(SOON);
    expect(await planned({ register: 'reductions', row, change: null })).toMatchObject({ change: null, was: null });
    expect([await asked(TODAY), Number(await asked(SOON)) > Number(less)]).toEqual([less, true]);
    shop.setDay(SOON);
    await carryOutAllDue(shop.context);
    expect((await admin.get('/reductions')).body).toEqual([]);
  });

  it('holds only what was changed: what is kept at once in other fields holds then too', async () => {
    const row = await reduction('10');
    await planned({ register: 'reductions', row, change: { value: '40' } });
    const { id, ...body } = row;
    await admin.put(`/reductions/${id}`, { ...body, name: 'for the yard' });
    shop.setDay(SOON);
    await carryOutAllDue(shop.context);
    const kept = await one('reductions');
    expect([kept['name'], kept['value'], kept.version]).toEqual(['for the yard', '40', 3]);
    await admin.delete(`/reductions/${id}`, { version: 3 });
  });

  it('several changes of one record follow each other; a later one may begin with what an earlier one leaves', async () => {
    const row = await reduction('10');
    const first = await planned({ register: 'reductions', row, change: { value: '40' } });
    // a form that did not know of the first one changes nothing by saying what stands today
    const nothing = await plan({ register: 'reductions', row, day: LATER, change: {} });
    expect(nothing.body).toMatchObject({ code: 'fields_wrong', faults: [{ path: 'body' }] });
    const back = await planned({ register: 'reductions', row, day: LATER, change: {}, upon: [first.id] });
    expect([back.change, back.was]).toEqual([{ value: '10' }, { value: '40' }]);
    expect(await asked(LATER)).toBe(await asked(TODAY));
    expect(Number(await asked('2026-03-31'))).toBeLessThan(Number(await asked(TODAY)));
    // of one day it is one change
    const again = await planned({ register: 'reductions', row, change: { name: 'spring' } });
    expect([again.id, again.change]).toEqual([first.id, { value: '40', name: 'spring' }]);
    const gone = await plan({ register: 'reductions', row, day: LATER, change: { value: '1' }, upon: ['999'] });
    expect((gone.body as { code: string }).code).toBe('to_come_moved_on');
    await dropAll();
    await admin.delete(`/reductions/${row.id}`, { version: row.version });
  });

  it('a price posted under it is explained by it for ever, whatever becomes of the rules', async () => {
    const recipe = (await one('recipes')) as Kept & { uplift: { value: string }[] };
    const at = (value: string) => ({ uplift: recipe.uplift.map((row) => ({ ...row, value })) });
    await planned({ register: 'recipes', row: recipe, change: at('77') });
    const day = SOON;
    const { rows } = (await admin.get(`/lists/${shop.shop.counter}/prices?day=${day}`)).body as ListPrices;
    expect(rows.some((r) => r.proposed !== null && r.posted !== r.proposed)).toBe(true);
    await postAll(admin, shop.shop.counter, day);
    const [posting] = (await admin.get('/postings')).body as { id: string }[];
    const lines = await shop.context.db
      .select({ id: postingLines.id })
      .from(postingLines)
      .where(eq(postingLines.postingId, Number(posting!.id)));
    const told = async () => Promise.all(lines.map((l) => stepsOfLine(shop.context.db, l.id)));
    const before = await told();
    expect(JSON.stringify(before)).toContain('markup 77 %');
    const [waiting] = await toCome();
    await admin.delete(`/changes-to-come/${waiting!.id}`, { version: waiting!.version });
    const { id, ...body } = await one('recipes');
    await admin.put(`/recipes/${id}`, { ...body, ...at('12') });
    expect(await told()).toEqual(before);
  });

  it('what keeping it would move is told for its day', async () => {
    const recipe = (await one('recipes')) as Kept & { uplift: { value: string }[] };
    const { id, version: _, ...body } = recipe;
    const [first, ...rest] = recipe.uplift;
    const sent = { ...body, uplift: [{ ...first, value: '55' }, ...rest] };
    const answer = await admin.post('/findings/moves-of-change', { register: 'recipes', id, body: sent, day: SOON });
    const moves = answer.body as MovesOfChange;
    expect([moves.day, moves.prices > 0]).toEqual([SOON, true]);
    expect(await toCome()).toEqual([]);
  });
});

describe('what would go wrong on its day is refused now, or said then', () => {
  it('wrong fields, days gone by, kinds with days of their own, versions that were not seen', async () => {
    const row = await reduction('10');
    const code = async (asked: Plan) => {
      const { body } = await plan(asked);
      const { code, faults } = body as { code: string; faults?: { path: string }[] };
      return [code, faults?.[0]?.path];
    };
    expect(await code({ register: 'reductions', row, change: { value: 'x' } })).toEqual(['fields_wrong', 'value']);
    expect(await code({ register: 'reductions', row, day: TODAY, change: { value: '9' } })).toEqual([
      'fields_wrong',
      'day',
    ]);
    expect(await code({ register: 'tax-rates', row, change: { percent: '9' } })).toEqual(['fields_wrong', 'register']);
    const stale = { ...row, version: 7 };
    expect(await code({ register: 'reductions', row: stale, change: { value: '9' } })).toEqual([
      'changed_meanwhile',
      undefined,
    ]);
    expect(await code({ register: 'lists', row: await one('lists'), change: null })).toEqual([
      'not_removed',
      undefined,
    ]);
    expect(await toCome()).toEqual([]);
    await admin.delete(`/reductions/${row.id}`, { version: 1 });
  });

  it('a record that a change to come is of, or points to, is not removed', async () => {
    const row = await reduction('10');
    const made = await planned({ register: 'reductions', row, change: { value: '40' } });
    const refusal = await admin.delete(`/reductions/${row.id}`, { version: 1 });
    expect(refusal.body).toMatchObject({ code: 'to_come_waits', params: { day: SOON } });
    await admin.delete(`/changes-to-come/${made.id}`, { version: made.version });
    await admin.delete(`/reductions/${row.id}`, { version: 1 });
    const region = (await admin.post('/regions', { name: 'N', countries: ['NO'], currency: 'EUR', tax: 'none' }))
      .body as Kept;
    const list = await one('lists');
    await planned({ register: 'lists', row: list, change: { regions: [region.id] } });
    const pointed = await admin.delete(`/regions/${region.id}`, { version: 1 });
    expect((pointed.body as { code: string }).code).toBe('to_come_hindered');
    expect(((await admin.get('/regions')).body as Kept[]).map((r) => r.id)).toContain(region.id);
  });

  it('a change at once that would make it impossible is refused and names its day; what does not is worked in', async () => {
    const body = { name: 'f', kind: 'markup', value: '150', currency: null, outcome: 'ask', active: true };
    const made = await admin.post('/floors', { ...body, item: null, category: null, brand: null, group: null });
    expect(made.status, JSON.stringify(made.body)).toBe(200);
    const { id, ...row } = made.body as Kept;
    await planned({ register: 'floors', row: { id, ...row }, change: { value: '130' } });
    // a margin of 130 per cent there is none
    const refusal = await admin.put(`/floors/${id}`, { ...row, kind: 'margin', value: '40' });
    expect(refusal.body).toMatchObject({ code: 'to_come_hindered', params: { day: SOON } });
    expect(await one('floors')).toMatchObject({ kind: 'markup', version: 1 });
    expect((await admin.put(`/floors/${id}`, { ...row, name: 'g' })).status).toBe(200);
    shop.setDay(SOON);
    await carryOutAllDue(shop.context);
    expect(await one('floors')).toMatchObject({ name: 'g', kind: 'markup', value: '130', version: 3 });
    await admin.delete(`/floors/${id}`, { version: 3 });
  });

  it('what can no longer be carried out is kept, said on Today, and counts no longer', async () => {
    const row = await reduction('10');
    const made = await planned({ register: 'reductions', row, change: { value: '40' } });
    await shop.asOwner(
      `delete from record_links where from_kind = 'reductions'; delete from records where id = ${row.id}`,
    );
    shop.setDay(SOON);
    await carryOutAllDue(shop.context);
    const [left] = await toCome();
    expect([left!.id, left!.trouble]).toEqual([made.id, `The reduction ${row.id} does not exist.`]);
    const today = await waitingFor(admin);
    expect(today.find((t) => t.kind === 'to_come_failed')).toMatchObject({ count: 1 });
  });

  it('one that could not be carried out takes nothing with it: what comes after it comes without it', async () => {
    const row = await reduction('10');
    const region = (await admin.post('/regions', { name: 'S', countries: ['SE'], currency: 'EUR', tax: 'none' }))
      .body as Kept;
    const list = await one('lists');
    await planned({ register: 'lists', row: list, change: { regions: [region.id] } });
    await planned({ register: 'lists', row: list, day: LATER, change: { rank: 77 } });
    await shop.asOwner(
      `delete from record_links where to_kind = 'regions'; delete from records where id = ${region.id}`,
    );
    shop.setDay(SOON);
    await carryOutAllDue(shop.context);
    expect((await toCome()).map((c) => [c.day, c.trouble === null])).toEqual([
      [SOON, false],
      [LATER, true],
    ]);
    shop.setDay(LATER);
    await carryOutAllDue(shop.context);
    const after = ((await admin.get('/lists')).body as Kept[]).find((l) => l.id === list.id)!;
    expect([after['rank'], after['regions']]).toEqual([77, []]);
    await admin.delete(`/reductions/${row.id}`, { version: row.version });
  });

  it('what others keep while one is planned is no part of it', async () => {
    const row = await reduction('10');
    const [first, second] = (await admin.get('/customer-groups')).body as Kept[];
    const groups = [first!, second ?? first!];
    await Promise.all([
      ...[1, 2, 3, 4].map((n) =>
        planned({ register: 'reductions', row, day: `2026-05-0${n}`, change: { value: `2${n}` } }),
      ),
      ...groups.map(({ id, ...body }) => admin.put(`/customer-groups/${id}`, { ...body, rank: 41 })),
    ]);
    const { rows } = await shop.database.pool.query<{ moves: string }>(
      `select moves from changes_to_come where register = 'reductions' and state = 'waiting'`,
    );
    const moved = rows.flatMap((r) => JSON.parse(r.moves) as { member: string }[]).map((m) => m.member);
    expect([rows.length, [...new Set(moved)]]).toEqual([4, ['reductions']]);
    await dropAll();
    await admin.delete(`/reductions/${row.id}`, { version: row.version });
  });

  it('only those who may edit rules plan; who may not see costs is not told of rules made of them', async () => {
    const supplier = await one('suppliers');
    await planned({
      register: 'suppliers',
      row: supplier,
      change: { landed: { ...(supplier['landed'] as object), overheadPercent: '3' } },
    });
    expect(((await seller.get('/changes-to-come')).body as ChangeToCome[]).map((c) => c.register)).toEqual([]);
    const { id, version, ...body } = supplier;
    const answer = await seller.post('/changes-to-come', {
      register: 'suppliers',
      record: id,
      version,
      day: SOON,
      reason: 'r',
      upon: [],
      body,
    });
    expect(answer.status).toBe(403);
  });
});
