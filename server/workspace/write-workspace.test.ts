import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, inject, it } from 'vitest';
import { readWorkspace, writeWorkspace } from '#contract/workspace-file/workspace-file.ts';
import { namesTwice } from '#contract/workspace-file/names.ts';
import { renumbered } from '#contract/workspace-file/renumber.ts';
import { checkWorkspace } from '#core/checks/check.ts';
import { FINDING_CODES } from '#core/checks/finding.ts';
import { runs } from '#core/tests/runs.ts';
import { RANDOM_DAY, randomWorkspace } from '../../bench/tests/random-workspace.ts';
import { answer } from '#core/evaluator/answer.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import { migrateDatabase, openDatabase } from '../platform/database.ts';
import { createDatabase } from '../platform/tests/create-database.ts';
import { TODAY, openWorkshop, postAll, signIn } from '../platform/tests/workshop.ts';
import { prepareWorkspace } from '../setup/prepare-workspace.ts';
import { loadWorkspace } from './load-workspace.ts';

const parsed = (text: string): Workspace => {
  const read = readWorkspace(text);
  if (!read.ok) throw new Error(JSON.stringify(read.faults));
  return read.value;
};

/** A file into a database that holds nothing, and the workspace that is read from there. */
async function throughDatabase(ws: Workspace, day: string): Promise<Workspace> {
  const { owner, use } = await createDatabase(inject('addresses'));
  await migrateDatabase(use, owner);
  const database = openDatabase(use);
  try {
    await prepareWorkspace({ db: database.db, now: () => new Date('2026-03-09T09:00:00Z') }, null, ws);
    return await loadWorkspace(database.db, day);
  } finally {
    await database.close();
  }
}

describe('a workspace file is loaded into an empty database', () => {
  it('from another database, and comes out of it to the letter', async () => {
    const shop = await openWorkshop();
    const admin = await signIn(shop.app, 'administrator');
    await postAll(admin, shop.shop.counter);
    const [item, group, customer, list] = [
      shop.shop.items[0]!,
      shop.shop.group,
      shop.shop.customers[0]!,
      shop.shop.counter,
    ];
    const made = async (path: string, body: object) => {
      const answered = await admin.post(path, body);
      expect(answered.status, JSON.stringify(answered.body)).toBe(200);
      return answered.body as { id: string };
    };
    const region = await made('/regions', {
      name: 'north',
      countries: ['NO', 'SE'],
      currency: 'SEK',
      tax: 'none',
      inside: null,
    });
    await made('/reductions', {
      name: 'yards',
      group,
      customer: null,
      scope: { item },
      lists: [list],
      kind: 'percent_off',
      value: '4',
    });
    await made('/entries', {
      list,
      scope: { item, pack: 'metre' },
      kind: 'price',
      value: '4.44',
      from: TODAY,
      to: null,
    });
    const pool = await made('/pools', { name: 'rope', items: [{ category: shop.shop.category }] });
    await made('/charges', {
      name: 'delivery',
      percent: '3',
      taxClass: 'standard',
      covers: [{}],
      least: { amount: '5', currency: 'EUR' },
    });
    await made('/lockstep', { name: 'colours', lead: shop.shop.items[1]!, members: [shop.shop.items[2]!] });
    await made('/breaks', {
      name: 'pooled',
      list,
      way: 'whole',
      count: 'pool',
      pool: pool.id,
      region: region.id,
      rows: [{ from: '10', kind: 'percent_off', value: '5' }],
    });
    await made('/floors', {
      name: 'least',
      kind: 'margin',
      value: '10',
      outcome: 'ask',
      quantity: { from: '5', upTo: null },
    });
    await made('/rules', {
      name: 'cut',
      active: true,
      mode: 'first',
      rules: [
        {
          id: '1',
          name: 'for yards',
          when: { fact: 'customer.group', operator: 'is', value: group },
          effects: [{ kind: 'ask' }],
        },
      ],
    });
    await made('/proofs', {
      name: 'p',
      question: { kind: 'price', item, customer, day: TODAY },
      expect: { price: '4.44' },
    });
    const text = (await admin.get(`/workspace-file?day=${TODAY}`)).text;
    await shop.close();
    expect(writeWorkspace(await throughDatabase(parsed(text), TODAY))).toBe(text);
  });

  const examples = new URL('../../docs/examples/', import.meta.url);
  const files = readdirSync(examples).filter((f) => f.endsWith('.workspace.json'));
  it.each(files)('%s, whose ids are words, and prices everything as before', async (file) => {
    const ws = parsed(readFileSync(new URL(file, examples), 'utf8'));
    const day = '2026-11-01';
    const loaded = await throughDatabase(ws, day);
    // ids differ: rows are told apart by what they are called
    const prices = (of: Workspace) => {
      const now = {
        ...of,
        costs: of.costs.filter((c) => c.from <= day),
        posted: [...of.posted].filter((p) => p.from <= day),
      };
      const prepared = new Prepared(now);
      // lists stand in the order of their rank
      return [...now.lists]
        .sort((a, b) => (a.name < b.name ? -1 : 1))
        .map((list) =>
          now.items.map((item) =>
            item.packs.map((pack) => {
              const asked = { item: item.id, pack: pack.name, list: list.id, day } as const;
              const made = [
                answer(prepared, { kind: 'price', ...asked }, { buildUp: false }),
                answer(prepared, { kind: 'recipe', ...asked }, { buildUp: false }),
              ];
              return [
                list.name,
                item.sku,
                pack.name,
                ...made.map((a) => (a.ok ? (a['unitPrice'] ?? a['price']) : a.reason.code)),
              ];
            }),
          ),
        );
    };
    expect(prices(loaded)).toEqual(prices(ws));
    expect(JSON.stringify(prices(ws))).toMatch(/\d\.\d/);
  });

  it('renumbering what is numbered already changes nothing, and what is not is told apart by what it is', () => {
    const ws = parsed(readFileSync(new URL(files[0]!, examples), 'utf8'));
    const once = renumbered(ws);
    expect(renumbered(once)).toEqual(once);
    expect(once.items.every((i) => /^\d+$/.test(i.id))).toBe(true);
    expect(new Set(once.items.map((i) => i.category)).size).toBe(new Set(ws.items.map((i) => i.category)).size);
  });
});

describe('the sets that are wrong on purpose', () => {
  const set = (name: string) => readFileSync(`demo/sets/${name}.workspace.json`, 'utf8');

  it('the faulty one is kept, and every kind of finding finds something in it, before and after', async () => {
    const ws = parsed(set('faulty'));
    const codes = (w: Workspace) => [...new Set(checkWorkspace(new Prepared(w), TODAY).map((f) => f.code))];
    // a database takes one rate a day and one item a SKU: a file that has two is turned down before
    const once = ['exchange_rates_tie', 'tax_rates_tie', 'sku_twice'];
    const expected = FINDING_CODES.filter((code) => !once.includes(code));
    expect(codes(ws)).toEqual(expected);
    expect(codes(await throughDatabase(ws, TODAY))).toEqual(expected);
  });

  it('the refused one is turned down, and all that is wrong is named at once', () => {
    const read = readWorkspace(set('refused'));
    expect(read.ok ? [] : read.faults.map((f) => f.path).sort()).toEqual([
      '$.breaks[0].rows[1].from',
      '$.charges[0].coversCharges[0]',
      '$.costs[0].supplier',
      '$.costs[1].cost.amount',
      '$.costs[2].from',
      '$.customers[0].country',
      '$.items[0].category',
      '$.items[5].packs',
      '$.ladders[0].rungs[0].step',
      '$.ladders[0].rungs[1].endings',
      '$.lists[0].currency',
      '$.lists[1].groups[0]',
      '$.posted[0].pack',
      '$.posted[1].price',
      '$.recipes[0].uplift[5].method',
      '$.recipes[1].basis.list',
      '$.regions[2].inside',
      '$.rules[0].rules[0].when.from',
      '$.rules[1].rules[1].effects[0].name',
      '$.rules[1].rules[1].effects[0].taxClass',
    ]);
  });
});

/** An answer without the ids of rows: those are the database's own. */
const figuresOf = (a: ReturnType<typeof answer>) =>
  a.ok ? JSON.stringify(a, (key, value: unknown) => (key === 'id' ? undefined : value)) : a.reason.code;

describe('random workspaces', () => {
  it('go from file to database to file to database unchanged, and price as before', async () => {
    for (let seed = 1; seed <= runs(14); seed++) {
      const made = randomWorkspace(seed, 25);
      // two of one name are told before anything is written
      expect(namesTwice(made).every((f) => f.path.endsWith('.name'))).toBe(true);
      const named = <T extends { id: string; name: string }>(rows: readonly T[]) =>
        rows.map((r) => ({ ...r, name: `${r.name} ${r.id}` }));
      const random = {
        ...made,
        ladders: named(made.ladders),
        recipes: named(made.recipes),
        lists: named(made.lists),
        groups: named(made.groups),
        // each was entered at a moment of its own
        costs: made.costs.map((c, i) => ({ ...c, entry: made.costs.length - i })),
        posted: [...made.posted].map((p, i) => ({ ...p, entry: i + 1 })),
      };
      expect(namesTwice(random)).toEqual([]);
      const first = await throughDatabase(parsed(writeWorkspace(random)), RANDOM_DAY);
      const text = writeWorkspace(first);
      const second = await throughDatabase(parsed(text), RANDOM_DAY);
      expect(writeWorkspace(second)).toBe(text);
      const [before, after] = [new Prepared(renumbered(random)), new Prepared(first)];
      for (const item of renumbered(random).items)
        for (const list of renumbered(random).lists) {
          const asked = {
            kind: 'recipe' as const,
            item: item.id,
            pack: item.packs[0]!.id,
            list: list.id,
            day: RANDOM_DAY,
          };
          expect(figuresOf(answer(after, asked, { buildUp: false }))).toBe(
            figuresOf(answer(before, asked, { buildUp: false })),
          );
        }
    }
  });
});
