import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { isNotNull } from 'drizzle-orm';
import type { PriceCheck } from '#contract/quotes.ts';
import type { Step } from '#core/buildup/steps.ts';
import { computePrice } from '#core/lists/list-price.ts';
import { Dice } from '#core/numbers/dice.ts';
import { runs } from '#core/tests/runs.ts';
import { stepsOfLine } from '../ledger/rebuilt-steps.ts';
import { postingLines, postings } from '../ledger/tables.ts';
import { acts } from '../platform/tests/acts.ts';
import { type Person, TODAY, type Workshop, openWorkshop, postAll, signIn } from '../platform/tests/workshop.ts';
import { stateOfItems, stateOn } from './asked-day.ts';
import type { Loaded } from './state.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  for (const list of [shop.shop.counter, shop.shop.yards]) await postAll(admin, list);
});
afterAll(() => shop.close());

/** Long runs are days too: half a year is enough. */
const DAYS = Math.min(60, runs(70));
const dayAfter = (n: number) => new Date(Date.parse(TODAY) + n * 86_400_000).toISOString().slice(0, 10);
const fileOf = async (day: string) => (await admin.get(`/workspace-file?day=${day}`)).text;

describe('a day that has gone by', () => {
  it('answers with the reductions of then: a change made today does not reach back', async () => {
    const [customer] = shop.shop.customers;
    const [item] = shop.shop.items;
    const [pack] = shop.shop.packs;
    const check = async (day: string) => {
      const asked = { customer, group: null, country: null, channel: null, item, pack, quantity: '50', day };
      const found = (await admin.post('/price-check', asked)).body as PriceCheck;
      return found.figures.lines[0]!.unitPrice;
    };
    const monday = dayAfter(1);
    shop.setDay(monday);
    const before = await check(monday);
    shop.setDay(dayAfter(2));
    const reduction = { name: 'from Tuesday', customer, scope: {}, kind: 'percent_off', value: '50' };
    expect((await admin.post('/reductions', reduction)).status).toBe(200);
    expect(Number(await check(dayAfter(2)))).toBeLessThan(Number(before));
    expect(await check(monday)).toBe(before);
  });

  it('is exported byte for byte as on that day, whatever was changed, posted and reversed since', async () => {
    const dice = new Dice(20261126);
    let day = TODAY;
    const all = acts(() => ({ shop, admin, day }));
    const files = new Map<string, string>();
    for (let n = 1; n <= DAYS; n++) {
      day = dayAfter(n + 5);
      shop.setDay(day);
      for (let act = 0; act < 8; act++) await dice.pick(all)(dice);
      files.set(day, await fileOf(day));
    }
    shop.setDay(dayAfter(DAYS + 6));
    for (const [day, text] of files) expect(await fileOf(day), day).toBe(text);
    // what a day does it may undo itself
    expect(new Set(files.values()).size).toBeGreaterThan(0.9 * files.size);
  });

  it('shows no record that was made later, and those that are gone since', async () => {
    const day = dayAfter(DAYS + 10);
    shop.setDay(day);
    const { body } = await admin.post('/regions', {
      name: 'For a week',
      countries: ['IS'],
      currency: 'EUR',
      tax: 'none',
      inside: null,
    });
    const made = body as { id: string; version: number };
    shop.setDay(dayAfter(DAYS + 11));
    await admin.delete(`/regions/${made.id}`, { version: made.version });
    shop.setDay(dayAfter(DAYS + 12));
    const named = async (on: string) => (await fileOf(on)).includes('For a week');
    expect([await named(dayAfter(209)), await named(day), await named(dayAfter(DAYS + 11))]).toEqual([
      false,
      true,
      false,
    ]);
  });
});

describe('a few items of a day', () => {
  const here = (day: string) => ({ db: shop.database.db, now: () => new Date(`${day}T09:00:00Z`) });
  const priced = ({ ws, day }: Loaded, id: string) => {
    const item = ws.items.get(id);
    return (item?.packs ?? []).flatMap((pack) =>
      ws.workspace.lists.map((list) => ({
        pack,
        posted: ws.postedFor(list.id, item!, pack.id, day),
        made: computePrice(ws, { list: list.id, item: id, pack: pack.id, day }),
      })),
    );
  };

  it('have the prices that they have where everything is read: of days that have gone by, and of days to come', async () => {
    const today = dayAfter(DAYS + 14);
    shop.setDay(today);
    const [lead, ...members] = shop.shop.items;
    expect((await admin.post('/lockstep', { name: 'Braid', lead, members })).status).toBe(200);
    let known = 0;
    for (const day of [dayAfter(3), dayAfter(DAYS), dayAfter(DAYS + 13), dayAfter(DAYS + 16), dayAfter(DAYS + 40)]) {
      const few = await Promise.all(shop.shop.items.map((id) => stateOfItems(here(today), day, [id])));
      const all = await stateOn(here(today), day);
      for (const [n, id] of shop.shop.items.entries()) {
        expect(priced(few[n]!, id), `${id} on ${day}`).toEqual(priced(all, id));
        known += priced(all, id).filter((p) => p.posted && p.made.ok).length;
        // one that changes alone is read alone
        if (day < today) expect(few[n]!.ws.workspace.items.length).toBe(all.ws.items.get(id) ? 1 : 0);
      }
      expect(few[0]!.revision).toBe(all.revision);
    }
    expect(known).toBeGreaterThan(20);
    expect(priced(await stateOfItems(here(today), dayAfter(3), ['no such item']), 'no such item')).toEqual([]);
  });
});

describe('a posted price', () => {
  it('is explained by steps that lead to it, whatever was changed, posted and reversed since', async () => {
    const lines = await shop.database.db
      .select({ id: postingLines.id, after: postingLines.after, hand: postingLines.handSetReason })
      .from(postingLines);
    expect(lines.length).toBeGreaterThan(20);
    for (const { id, after, hand } of lines) {
      const steps = await stepsOfLine(shop.database.db, id);
      if (after === null || hand !== null) expect(steps).toBeNull();
      else expect(Number(steps!.at(-1)!.after)).toBe(Number(after));
    }
  });

  it('of an earlier release is explained by the steps that its line kept', async () => {
    const [line] = await shop.database.db.select().from(postingLines).where(isNotNull(postingLines.after)).limit(1);
    const { id: _, ...values } = line!;
    const [posting] = await shop.database.db.select().from(postings).limit(1);
    const { id: __, asOf: ___, ...head } = posting!;
    const [old] = await shop.database.db.insert(postings).values(head).returning({ id: postings.id });
    const steps = [
      {
        kind: 'list_price',
        operation: { op: 'start', value: '1' },
        currency: 'EUR',
        per: 'pack',
        before: null,
        after: '1',
      },
    ] satisfies Step[];
    const [kept] = await shop.database.db
      .insert(postingLines)
      .values({ ...values, postingId: old!.id, steps })
      .returning({ id: postingLines.id });
    expect(await stepsOfLine(shop.database.db, kept!.id)).toEqual(steps);
  });
});

/** Tables that no price is made from, and those whose rows are only added, with a day of their own. */
const WITHOUT_VERSIONS = [
  ...['people', 'session', 'sign_in_tries', 'access_keys', 'audit_entries', 'layers', 'record_links'],
  ...[
    'supplier_codes',
    'followed_suppliers',
    'connections',
    'item_files',
    'cost_intakes',
    'self_postings',
    'fetched_rates',
    'rate_service',
  ],
  ...['postings', 'posting_lines', 'posting_requests', 'worksheets', 'worksheet_lists', 'worksheet_prices'],
  ...[
    'cost_sheets',
    'bills',
    'quotes',
    'quote_lines',
    'quote_decisions',
    'quote_changes',
    'kept_rules',
    'kept_standing',
  ],
];

it('every table that prices are made from keeps the versions of its rows', async () => {
  const tables = await shop.database.pool.query<{ name: string; kept: boolean }>(`
    select c.relname as name, exists (select 1 from pg_trigger t where t.tgrelid = c.oid and t.tgname = 'versions') as kept
    from pg_class c where c.relnamespace = 'public'::regnamespace and c.relkind = 'r'`);
  expect(
    tables.rows
      .filter((t) => !t.kept)
      .map((t) => t.name)
      .sort(),
  ).toEqual([...WITHOUT_VERSIONS].sort());
});

it('what was cannot be changed, not even by the application’s role', async () => {
  await expect(shop.database.pool.query('delete from history.versions')).rejects.toThrow('permission denied');
  await expect(shop.asOwner('delete from history.versions')).rejects.toThrow('only added');
});
