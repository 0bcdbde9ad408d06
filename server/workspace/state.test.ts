import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import type { PostedPrice } from '#core/lists/posted-price.ts';
import { Dice } from '#core/numbers/dice.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import { runs } from '#core/tests/runs.ts';
import { inTransaction, openDatabase } from '../platform/database.ts';
import { acts } from '../platform/tests/acts.ts';
import { type Person, TODAY, type Workshop, openWorkshop, postAll, signIn } from '../platform/tests/workshop.ts';
import { revisionsOf } from '../ledger/audit.ts';
import { nextPosted } from './difference.ts';
import { loadWorkspace } from './load-workspace.ts';
import { readPosted, storePosted } from './posted-rows.ts';
import { letGo, workspaceIn, workspaceOn } from './state.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  for (const list of [shop.shop.counter, shop.shop.yards]) await postAll(admin, list);
});
afterAll(() => shop.close());

const byEntry = (a: PostedPrice, b: PostedPrice) => a.entry - b.entry;

/** In one order, whatever order they were put together in. */
const sorted = (ws: Workspace): Workspace => ({
  ...ws,
  posted: [...ws.posted].sort(byEntry),
});
const state = async (day = TODAY) => workspaceOn(shop.database.db, day);
const same = async (day: string) => {
  const { ws } = await state(day);
  expect(sorted(ws.workspace)).toEqual(sorted(await loadWorkspace(shop.database.db, day)));
  expect([...ws.items.values()].sort((a, b) => Number(a.id) - Number(b.id))).toEqual(ws.workspace.items);
  expect([...ws.costsByItem.values()].flat().sort((a, b) => Number(a.id) - Number(b.id))).toEqual(ws.workspace.costs);
  for (const p of ws.workspace.posted)
    expect(ws.postings(p.list, p.item, p.pack)).toEqual(
      [...ws.workspace.posted].filter((q) => q.list === p.list && q.item === p.item && q.pack === p.pack),
    );
};

const ACTS = acts(() => ({ shop, admin }));

describe('the state that is made from the one before', () => {
  it('is the one that is read anew, whatever was changed, posted and reversed, on any day', async () => {
    const dice = new Dice(20261125);
    for (let n = 0; n < runs(210); n++) {
      await dice.pick(ACTS)(dice);
      await same(dice.pick([TODAY, TODAY, '2026-03-05', '2026-03-12']));
    }
    await same(TODAY);
  });

  it('is the same where so much was posted that lists are read, not prices', async () => {
    const { db } = shop.database;
    const dice = new Dice(20261127);
    for (let n = 0; n < 12; n++) {
      const before = await state();
      const revisions = await revisionsOf(db);
      for (let more = dice.whole(1, 4); more > 0; more--) await dice.pick(ACTS)(dice);
      const since = { ws: before.ws, day: TODAY, revisions, now: await revisionsOf(db) };
      const anew = await readPosted(db, TODAY);
      const read = vi.fn((lists: readonly number[]) => storePosted(db, TODAY, lists));
      for (const most of [0, 4_000]) {
        const posted = (await nextPosted(db, since, read, most))!;
        const next: Prepared = new Prepared({ ...before.ws.workspace, posted: [] }, before.ws, { posted });
        expect([...next.everyPosted].sort(byEntry)).toEqual([...anew].sort(byEntry));
      }
      const posts = revisions.posted !== since.now.posted;
      expect(read).toHaveBeenCalledTimes(posts ? 1 : 0);
    }
  });

  it('is read once, however many changes are asked about while it is: the rest are differences', async () => {
    // nothing is at hand in a connection of its own
    const own = openDatabase(shop.url);
    try {
      const whole: string[] = [];
      const states = [];
      let release: () => void = () => undefined;
      let held: Promise<void> | null = new Promise((done) => (release = done));
      own.pool.on('connect', (client) => {
        const ask = client.query.bind(client) as (...args: unknown[]) => unknown;
        client.query = ((...args: unknown[]) => {
          const text = (args[0] as { text?: string })?.text ?? String(args[0]);
          if (/^copy \(select .* from items /s.test(text)) whole.push(text);
          const waits = text.startsWith('begin transaction isolation') ? held : null;
          if (waits) held = null;
          return waits ? waits.then(() => ask(...args)) : ask(...args);
        }) as typeof client.query;
      });
      for (let n = 0; n < 6; n++) {
        states.push(workspaceOn(own.db, TODAY));
        await ACTS[3]!(new Dice(n));
      }
      release();
      const last = (await Promise.all(states)).at(-1)!;
      expect(last.ws.workspace.items).toHaveLength(shop.shop.items.length);
      expect((await workspaceOn(own.db, TODAY)).ws.workspace.items).toEqual((await state()).ws.workspace.items);
      expect(whole).toHaveLength(1);
    } finally {
      await own.close();
    }
  });

  it('is the same object while only quotes, people and worksheets change', async () => {
    const before = await state();
    await admin.post('/people', {
      name: 'Eve',
      signIn: 'eve',
      role: 'reader',
      password: 'quite a long password',
      active: true,
      seesCost: false,
    });
    const quote = {
      customer: shop.shop.customers[0],
      validUntil: null,
      note: '',
      list: null,
      listReason: null,
      lines: [
        {
          item: shop.shop.items[0],
          pack: shop.shop.packs[0],
          quantity: '1',
          reductionKind: null,
          reductionValue: null,
        },
      ],
    };
    const written = await admin.post('/quotes', quote);
    const sheet = await admin.post('/worksheets', { reason: 'a look', day: TODAY });
    expect([written.status, sheet.status]).toEqual([200, 200]);
    expect(await state()).toBe(before);
    await ACTS[0]!(new Dice(1));
    const after = await state();
    expect(after).not.toBe(before);
    // what no rule changes is not read again
    expect(after.ws.workspace.items).toBe(before.ws.workspace.items);
    expect(after.ws.items).toBe(before.ws.items);
  });

  it('within a transaction is that of the transaction, also where it is ahead of what was kept', async () => {
    await state();
    await ACTS[2]!(new Dice(5));
    await inTransaction(shop.database.db, async (tx) => {
      const { ws } = await workspaceIn(tx, shop.database.db, TODAY);
      expect(sorted(ws.workspace)).toEqual(sorted(await loadWorkspace(tx, TODAY)));
    });
  });
});

describe('states that are kept', () => {
  const [morning, noon, evening] = [{}, {}, {}];
  const kept = (most: number) => {
    const of = (day: string, postedIn: object) => ({ loaded: { day, ws: { postedIn } } });
    const states = new Map<string, ReturnType<typeof of> | { loaded: null }>([
      ['1', of(TODAY, morning)],
      ['2', of(TODAY, noon)],
      ['another day', of('2026-03-12', morning)],
      ['3', of(TODAY, noon)],
      ['4', of(TODAY, evening)],
      ['being read', { loaded: null }],
    ]);
    letGo(states, most);
    return [...states.keys()];
  };
  it('hold a million posted prices once: those of the last state of each day', () =>
    expect(kept(1)).toEqual(['another day', '4', 'being read']));
  it('and once more where the one before is asked for, whoever shares them', () =>
    expect(kept(2)).toEqual(['2', 'another day', '3', '4', 'being read']));
});
