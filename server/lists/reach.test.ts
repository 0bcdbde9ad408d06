import { describe, expect, it } from 'vitest';
import { renumbered } from '#contract/workspace-file/renumber.ts';
import { reachBetween } from '#core/workspace/reach.ts';
import { Dice } from '#core/numbers/dice.ts';
import { toEnd } from '#core/pausable.ts';
import { runs } from '#core/tests/runs.ts';
import { type Moved, Prepared } from '#core/workspace/prepared.ts';
import type { PostedPrice } from '#core/lists/posted-price.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import { RANDOM_DAY, randomWorkspace } from '../../bench/tests/random-workspace.ts';
import type { PackedTable } from '../windows/pack.ts';
import { listRowTable, listTable, packTable, withPatch } from './list-table.ts';

/** One thing that somebody changes. */
type Change = (w: Workspace, dice: Dice) => { readonly then: Workspace; readonly moved?: Moved };

const at = <T>(rows: readonly T[], n: number, change: (row: T) => T): T[] =>
  rows.map((row, i) => (i === n ? change(row) : row));
const any = (rows: readonly unknown[], dice: Dice) => dice.whole(0, rows.length - 1);
const price = (dice: Dice) => `${dice.whole(1, 400)}.${dice.whole(10, 99)}`;

/** Items, their costs and what is posted for them: told as the database tells it. */
const ofItem = (w: Workspace, then: Workspace, id: string): { then: Workspace; moved: Moved } => {
  const of = (ws: Workspace) => ws.items.filter((i) => i.id === id);
  const costs = then.costs.filter((c) => c.item === id);
  return {
    then: { ...w, items: then.items, costs: then.costs },
    moved: { items: { items: new Set([id]), now: of(then), costs } },
  };
};

const CHANGES: Readonly<Record<string, Change>> = {
  'an uplift row': (w, dice) => ({
    then: {
      ...w,
      recipes: at(w.recipes, any(w.recipes, dice), (r) => ({
        ...r,
        uplift: at(r.uplift, any(r.uplift, dice), (row) => ({ ...row, value: String(dice.whole(5, 90)) })),
      })),
    },
  }),
  'the ladder of a list': (w, dice) => ({
    then: {
      ...w,
      lists: at(w.lists, any(w.lists, dice), (l) => ({
        ...l,
        ladder: w.ladders.find((d) => d.currency === l.currency)?.id ?? null,
      })),
    },
  }),
  'a rung': (w, dice) => ({
    then: {
      ...w,
      ladders: at(w.ladders, any(w.ladders, dice), (l) => ({ ...l, rungs: l.rungs.map((r) => ({ ...r, step: '5' })) })),
    },
  }),
  'a category': (w, dice) => ({
    then: { ...w, categories: at(w.categories, any(w.categories, dice), (c) => ({ ...c, name: `${c.name} anew` })) },
  }),
  'another parent of a category': (w, dice) => ({
    then: {
      ...w,
      categories: at(w.categories, any(w.categories, dice), (c) => ({
        ...c,
        parent: w.categories.find((p) => p.parent === null && p.id !== c.id)?.id ?? null,
      })),
    },
  }),
  'what a supplier asks for bringing goods in': (w, dice) => ({
    then: {
      ...w,
      suppliers: at(w.suppliers, any(w.suppliers, dice), (s) => ({
        ...s,
        landed: { ...s.landed, dutyPercent: String(dice.whole(1, 30)) },
      })),
    },
  }),
  'terms of a supplier from a day on': (w, dice) => ({
    then: {
      ...w,
      landed: [
        ...w.landed,
        {
          id: '900',
          version: 1,
          supplier: dice.pick(w.suppliers).id,
          scope: dice.whole(0, 1) ? {} : { category: dice.pick(w.categories).id },
          from: '2020-01-01',
          dutyPercent: String(dice.whole(1, 30)),
        },
      ],
    },
  }),
  'an exchange rate': (w, dice) => ({
    then: { ...w, rates: at(w.rates, any(w.rates, dice), (r) => ({ ...r, rate: `${dice.whole(1, 20)}.5` })) },
  }),
  'what quotes alone are made of': (w) => ({
    then: {
      ...w,
      listChoice: 'lowest',
      customers: [{ id: '1', name: 'Anna', groups: ['1'] }],
      floors: [{ id: '1', version: 1, name: 'half', kind: 'margin', value: '50', outcome: 'lift', active: true }],
      reductions: [
        { id: '1', version: 1, name: 'half', group: '1', scope: {}, kind: 'percent_off', value: '50' },
        { id: '2', version: 1, name: 'half', customer: '1', scope: {}, kind: 'percent_off', value: '50' },
      ],
      breaks: w.lists.map((l, n) => ({
        id: String(n + 1),
        version: 1,
        name: 'from one on',
        list: l.id,
        way: 'whole' as const,
        count: 'line' as const,
        rows: [{ from: '1', kind: 'percent_off' as const, value: '50' }],
      })),
      pools: [{ id: '1', version: 1, name: 'all', items: [{}] }],
      rules: [],
      charges: [],
      proofs: [],
    },
  }),
  'the weight of an item': (w, dice) => {
    const n = any(w.items, dice);
    const weightKg = `0.${dice.whole(10, 99)}`;
    return ofItem(w, { ...w, items: at(w.items, n, (i) => ({ ...i, weightKg })) }, w.items[n]!.id);
  },
  'a new item': (w, dice) => {
    const like = dice.pick(w.items);
    const id = String(900_000 + dice.whole(1, 9999));
    const item = { ...like, id, sku: `new ${id}`, packs: like.packs.map((p, n) => ({ ...p, id: `${id}${n}` })) };
    return ofItem(w, { ...w, items: [...w.items, item] }, id);
  },
  'an item that goes': (w, dice) => {
    const { id } = dice.pick(w.items);
    return ofItem(w, { ...w, items: w.items.filter((i) => i.id !== id) }, id);
  },
  'a cost': (w, dice) => {
    const n = any(w.costs, dice);
    const changed = at(w.costs, n, (c) => ({ ...c, cost: { ...c.cost, amount: price(dice) } }));
    return ofItem(w, { ...w, costs: changed }, w.costs[n]!.item);
  },
  'a posted price': (w, dice) => {
    const item = dice.pick(w.items);
    const [list, pack] = [dice.pick(w.lists).id, item.packs[0]!.id];
    const now: PostedPrice = {
      list,
      item: item.id,
      pack,
      price: price(dice),
      from: RANDOM_DAY,
      posting: '9',
      entry: 999_999,
    };
    const posted = [...[...w.posted].filter((p) => p.list !== list || p.pack !== pack), now];
    const ofIt = posted.filter((p) => p.item === item.id);
    return { then: { ...w, posted }, moved: { posted: new Map([[item.id, ofIt]]) } };
  },
};

/** Each column as its values, row by row. */
const plainly = ({ columns }: PackedTable) =>
  Object.fromEntries(
    Object.entries(columns).map(([id, column]) => [
      id,
      Array.from(column.codes, (code) =>
        // doubles: the last of their digits hangs on how many rows were worked out together
        code === 0 ? null : 'words' in column ? column.words[code - 1]! : column.values[code - 1]!.toPrecision(12),
      ),
    ]),
  );

/** Changes that may reach many items of a small workspace. */
const OF_MANY = /category|supplier|rate/;

describe('what a change may reach', () => {
  it.each(Object.entries(CHANGES))(
    '%s: rows outside of it are as they were, and the rest put among them is the list worked out anew',
    async (name, change) => {
      let [patched, whole] = [0, 0];
      for (let seed = 1; seed <= runs(40); seed++) {
        const w = renumbered(randomWorkspace(seed, 25));
        const before = new Prepared(w);
        const { then, moved } = change(w, new Dice(seed));
        const after = new Prepared(then, before, moved);
        const reach = reachBetween(before, after);
        const of = (ws: Prepared) => ({ ws, day: RANDOM_DAY, revision: '' });
        const packs = packTable(of(after));
        for (const list of then.lists) {
          const reached = reach(list.id);
          if (reached === 'all') {
            whole++;
            continue;
          }
          patched++;
          const items = then.items.filter((i) => reached.has(i.id));
          const patch = {
            ...(await listRowTable(of(after), list, items)),
            items: Uint32Array.from(items, (i) => Number(i.id)),
          };
          const was = { of: await listTable(of(before), before.lists.get(list.id)!), packs: packTable(of(before)) };
          const made = toEnd(withPatch(was, packs, patch));
          const anew = await listTable(of(after), list);
          expect([seed, list.name, plainly(made.table)]).toEqual([seed, list.name, plainly(anew.table)]);
          expect({ ...made, table: null }).toEqual({ ...anew, table: null });
          if (!OF_MANY.test(name)) expect(items.length).toBeLessThan(then.items.length / 2);
        }
      }
      expect(whole > 0, `${name} reaches whole lists`).toBe(/uplift|ladder|rung|rate/.test(name));
      if (!/rung/.test(name)) expect(patched, `${name} leaves lists as they are`).toBeGreaterThan(0);
    },
  );
});
