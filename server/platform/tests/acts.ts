import { plusDays } from '#core/numbers/day.ts';
import type { Dice } from '#core/numbers/dice.ts';
import { type Person, TODAY, type Workshop, postAll } from './workshop.ts';

interface Kept {
  id: string;
  version: number;
  [field: string]: unknown;
}

/** One thing that somebody does, with figures from the dice. */
type Act = (dice: Dice) => Promise<unknown>;

/** What people do to rules, costs, items and prices in a day. */
export function acts(of: () => { shop: Workshop; admin: Person; day?: string }): readonly Act[] {
  return [
    (dice) =>
      of().admin.post('/reductions', {
        name: `r${dice.whole(0, 1e6)}`,
        group: of().shop.shop.group,
        scope: {},
        kind: 'percent_off',
        value: String(dice.whole(1, 9)),
      }),
    async (dice) => {
      const all = (await of().admin.get('/reductions')).body as Kept[];
      if (all.length > 0) await of().admin.delete(`/reductions/${all[0]!.id}`, { version: all[0]!.version });
      return dice;
    },
    (dice) =>
      of().admin.post('/costs', {
        item: dice.pick(of().shop.shop.items),
        supplier: of().shop.shop.supplier,
        amount: `${dice.whole(150, 400)}.00`,
        currency: 'GBP',
        packUnits: '220',
        validFrom: dice.pick(['2026-03-01', TODAY, '2026-03-12']),
      }),
    async (dice) => {
      const { id, ...item } = (await of().admin.get(`/items/${dice.pick(of().shop.shop.items)}`)).body as Kept;
      await of().admin.put(`/items/${id}`, { ...item, weightKg: `0.${dice.whole(10, 99)}` });
    },
    // where nothing has moved there is nothing to post
    (dice) =>
      postAll(of().admin, dice.pick([of().shop.shop.counter, of().shop.shop.yards]), of().day).catch(() => null),
    async (dice) => {
      const [latest] = (await of().admin.get('/postings')).body as { id: string }[];
      if (latest) await of().admin.post(`/postings/${latest.id}/reverse`, { reason: `undo ${dice.whole(1, 9)}` });
    },
    async (dice) => {
      const recipes = (await of().admin.get('/recipes')).body as (Kept & { uplift: object[] })[];
      const { id, ...recipe } = dice.pick(recipes);
      const [first, ...rest] = recipe.uplift;
      const uplift = [{ ...first, value: String(dice.whole(5, 60)) }, ...rest];
      await of().admin.put(`/recipes/${id}`, { ...recipe, uplift });
    },
    async (dice) => {
      const [table] = (await of().admin.get('/breaks')).body as (Kept & { rows: object[] })[];
      if (!table) return;
      const { id, ...breaks } = table;
      const rows = [{ from: String(dice.whole(2, 40)), kind: 'percent_off', value: String(dice.whole(1, 9)) }];
      await of().admin.put(`/breaks/${id}`, { ...breaks, rows });
    },
    // from a day to come on: it may be changed at once too before then
    async (dice) => {
      const { admin, day: today = TODAY } = of();
      const day = plusDays(today, dice.whole(1, 9));
      const [register, field, value] = dice.pick([
        ['suppliers', 'overheadPercent', `${dice.whole(0, 4)}.25`],
        ['lists', 'rank', dice.whole(1, 9)],
        ['customer-groups', 'rank', dice.whole(1, 9)],
      ] as const);
      const { id, version, ...body } = dice.pick((await admin.get(`/${register}`)).body as Kept[]);
      const planned = { ...body, [field]: value };
      await admin.post('/changes-to-come', {
        register,
        record: id,
        version,
        day,
        reason: 'r',
        upon: [],
        body: planned,
      });
    },
    async (dice) => {
      const all = (await of().admin.get('/changes-to-come')).body as Kept[];
      const dropped = all.length > 3 ? dice.pick(all) : null;
      if (dropped) await of().admin.delete(`/changes-to-come/${dropped.id}`, { version: dropped.version });
    },
    async (dice) => {
      const { id, ...supplier } = dice.pick((await of().admin.get('/suppliers')).body as Kept[]);
      await of().admin.put(`/suppliers/${id}`, { ...supplier, overheadPercent: `${dice.whole(0, 4)}.5` });
    },
  ];
}
