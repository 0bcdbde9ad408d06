import type { Scope } from '#core/items/scope.ts';
import { writeRecipe } from '#server/recipes/store.ts';
import { writeLadder } from '#server/rounding/store.ts';
import { priceListGroups, priceLists } from '#server/lists/tables.ts';
import { breakRows, breakTables, floors } from '#server/quotes/tables.ts';
import { daysBefore } from './days.ts';
import type { Demo } from './demo.ts';

const rung = (
  from: string,
  to: string | null,
  step: string,
  endings: string[],
  direction: 'nearest' | 'up' | 'down' | 'cuts',
  downUntil: string | null = null,
  upFrom: string | null = null,
) => ({ from, to, step, endings, direction, downUntil, upFrom });

const row = (scope: Scope, method: 'markup' | 'margin' | 'percent_off', value: string) => ({
  id: '',
  scope,
  method,
  value,
  currency: null,
});
const guard = (kind: 'not_below_cost' | 'least_margin' | 'rrp' | 'raise_only', percent: string | null = null) => ({
  kind,
  percent,
  amount: null,
});

/** Ladders, recipes, the lists they make, breaks and floors. */
export async function loadRecipesAndLists(demo: Demo, regions: Readonly<Record<string, string>>): Promise<void> {
  const { tx, category, list } = demo;
  const counterLadder = await writeLadder(
    tx,
    null,
    {
      name: 'Counter endings',
      currency: 'EUR',
      rungs: [
        rung('0', '2', '0.05', ['0.00'], 'nearest'),
        rung('2', '25', '1', ['0.80'], 'cuts', '0.30', '0.55'),
        rung('25', '150', '1', ['0.40', '0.90'], 'nearest'),
        rung('150', '800', '10', ['8'], 'up'),
        rung('800', null, '50', ['0'], 'cuts', '15', '35'),
      ],
    },
    1,
  );
  const tradeLadder = await writeLadder(
    tx,
    null,
    {
      name: 'Trade, five cents',
      currency: 'EUR',
      rungs: [
        rung('0', '2', '0.01', ['0'], 'nearest'),
        rung('2', '50', '0.05', ['0'], 'nearest'),
        rung('50', null, '0.50', ['0'], 'nearest'),
      ],
    },
    1,
  );
  const inCategory = (key: string) => ({ category: String(category[key]) });
  const counterRecipe = await writeRecipe(
    tx,
    null,
    {
      name: 'Counter, from landed cost',
      basis: { kind: 'landed' },
      ladder: String(counterLadder),
      uplift: [
        row({}, 'markup', '58'),
        row(inCategory('rope'), 'markup', '62'),
        row({ ...inCategory('rope'), pack: 'drum' }, 'markup', '41'),
        row(inCategory('anchoring'), 'markup', '48'),
        row(inCategory('shackles'), 'margin', '45'),
        row(inCategory('deck'), 'markup', '70'),
        row(inCategory('fasteners'), 'margin', '52'),
        row({ ...inCategory('fasteners'), pack: 'carton' }, 'margin', '38'),
        row(inCategory('coatings'), 'markup', '44'),
        row(inCategory('safety'), 'margin', '46'),
        row(inCategory('electrics'), 'markup', '54'),
        row({ ...inCategory('cable'), pack: 'drum' }, 'markup', '36'),
        row(inCategory('stores'), 'margin', '41'),
      ],
      guards: [guard('not_below_cost'), guard('least_margin', '18'), guard('rrp')],
    },
    1,
  );
  const lists = await tx
    .insert(priceLists)
    .values({ name: 'Counter', currency: 'EUR', taxIn: true, advertised: true, rank: 9, recipe: counterRecipe })
    .returning();
  list['counter'] = lists[0]!.id;
  const yardRecipe = await writeRecipe(
    tx,
    null,
    {
      name: 'Boatyards, 12 % under counter',
      basis: { kind: 'list', list: String(list['counter']) },
      ladder: String(tradeLadder),
      uplift: [row({}, 'percent_off', '12')],
      guards: [guard('not_below_cost'), guard('least_margin', '12'), guard('raise_only')],
    },
    1,
  );
  const yards = await tx
    .insert(priceLists)
    .values({ name: 'Boatyards', currency: 'EUR', taxIn: false, rank: 1, recipe: yardRecipe })
    .returning();
  list['yards'] = yards[0]!.id;
  await tx.insert(priceListGroups).values({ listId: list['yards']!, groupId: demo.group['yards']! });
  await otherLists(demo, regions, String(tradeLadder), String(counterLadder));
  await quoteRules(demo);
}

/** The lists of the other groups, of regions, and of a fair. */
async function otherLists(
  demo: Demo,
  regions: Readonly<Record<string, string>>,
  trade: string,
  counter: string,
): Promise<void> {
  const { tx, list, today, category } = demo;
  const inCategory = (key: string) => ({ category: String(category[key]) });
  const put = async (
    key: string,
    name: string,
    more: Partial<typeof priceLists.$inferInsert> & { rank: number },
    group: string | null,
  ) => {
    const row = { name, currency: 'EUR', taxIn: false, ...more };
    const [made] = await tx.insert(priceLists).values(row).returning({ id: priceLists.id });
    if (more.recipe) list[key] = made!.id;
    if (group) await tx.insert(priceListGroups).values({ listId: made!.id, groupId: demo.group[group]! });
  };
  const resale = await writeRecipe(
    tx,
    null,
    {
      name: 'Resale, from landed cost',
      basis: { kind: 'landed' },
      ladder: trade,
      uplift: [
        row({}, 'margin', '26'),
        row(inCategory('rope'), 'margin', '24'),
        row(inCategory('deck'), 'margin', '31'),
        row(inCategory('electrics'), 'margin', '22'),
        row({ ...inCategory('fasteners'), pack: 'carton' }, 'margin', '19'),
      ],
      guards: [guard('not_below_cost'), guard('least_margin', '12')],
    },
    1,
  );
  await put('resale', 'Resale', { rank: 2, recipe: resale }, 'resale');
  const charter = await writeRecipe(
    tx,
    null,
    {
      name: 'Charter fleets, 8 % under counter',
      basis: { kind: 'list', list: String(list['counter']) },
      ladder: trade,
      uplift: [row({}, 'percent_off', '8'), row(inCategory('safety'), 'percent_off', '5')],
      guards: [guard('not_below_cost'), guard('least_margin', '15')],
    },
    1,
  );
  await put('charter', 'Charter fleets', { rank: 3, recipe: charter }, 'charter');
  const staff = await writeRecipe(
    tx,
    null,
    {
      name: 'Staff, cost and a little',
      basis: { kind: 'landed' },
      ladder: counter,
      uplift: [row({}, 'markup', '12')],
      guards: [guard('not_below_cost')],
    },
    1,
  );
  await put('staff', 'Staff', { rank: 4, taxIn: true, recipe: staff }, 'staff');
  const pounds = await writeLadder(
    tx,
    null,
    {
      name: 'Pounds, to five pence',
      currency: 'GBP',
      rungs: [rung('0', '10', '0.05', ['0'], 'up'), rung('10', null, '1', ['0.50', '0.95'], 'nearest')],
    },
    1,
  );
  const isles = await writeRecipe(
    tx,
    null,
    {
      name: 'The isles, from landed cost',
      basis: { kind: 'landed' },
      ladder: String(pounds),
      uplift: [
        row({}, 'markup', '66'),
        row(inCategory('safety'), 'markup', '59'),
        row(inCategory('coatings'), 'markup', '71'),
      ],
      guards: [guard('not_below_cost'), guard('least_margin', '20')],
    },
    1,
  );
  await put(
    'isles',
    'The isles',
    { rank: 5, currency: 'GBP', recipe: isles, more: { regions: [regions['isles']!] } },
    null,
  );
  const under = (percent: string, rate: string | null = null) => ({
    parent: { list: String(list['counter']), percent, factor: null, rate },
  });
  // in its own currency, five per cent off
  await put(
    'north',
    'Scandinavia',
    { rank: 6, currency: 'SEK', more: { regions: [regions['scandinavia']!], ...under('-5') } },
    null,
  );
  await put(
    'baltic',
    'Baltic',
    { rank: 7, taxIn: true, more: { regions: [regions['baltic']!], ...under('-3') } },
    null,
  );
  // at a rate that was agreed for the year
  await put(
    'world',
    'Rest of the world',
    { rank: 8, currency: 'USD', more: { regions: [regions['world']!], ...under('4', '1.10') } },
    null,
  );
  await put(
    'fair',
    'Boat fair',
    {
      rank: 0,
      taxIn: true,
      advertised: true,
      from: daysBefore(today, 2),
      to: daysBefore(today, -5),
      // what is shouted out at the fair is looked at by two
      more: { channels: ['boat fair'], ...under('-10'), secondPersonBeyond: '0' },
    },
    null,
  );
}

/** Breaks of both ways, and floors. */
async function quoteRules({ tx, category, list }: Demo): Promise<void> {
  const tables = await tx
    .insert(breakTables)
    .values([
      {
        name: 'Shackles by the dozen',
        list: list['yards']!,
        category: category['shackles']!,
        way: 'whole',
        count: 'item',
      },
      {
        name: 'Line by the length',
        list: list['yards']!,
        category: category['braid']!,
        way: 'whole',
        count: 'item',
      },
      {
        name: 'Fasteners in numbers',
        list: list['counter']!,
        category: category['fasteners']!,
        way: 'sliced',
        count: 'item',
      },
      {
        name: 'Cable by the length',
        list: list['resale']!,
        category: category['cable']!,
        way: 'sliced',
        count: 'item',
      },
    ])
    .returning();
  await tx.insert(breakRows).values([
    { tableId: tables[0]!.id, fromQuantity: '12', kind: 'percent_off', value: '5' },
    { tableId: tables[0]!.id, fromQuantity: '48', kind: 'percent_off', value: '9' },
    // six since two months ago: demo/changed-break.ts
    { tableId: tables[1]!.id, fromQuantity: '50', kind: 'percent_off', value: '5' },
    { tableId: tables[1]!.id, fromQuantity: '200', kind: 'percent_off', value: '11' },
    { tableId: tables[2]!.id, fromQuantity: '50', kind: 'percent_off', value: '4' },
    { tableId: tables[2]!.id, fromQuantity: '200', kind: 'percent_off', value: '10' },
    { tableId: tables[3]!.id, fromQuantity: '100', kind: 'percent_off', value: '3' },
    { tableId: tables[3]!.id, fromQuantity: '500', kind: 'percent_off', value: '7' },
  ]);
  await tx.insert(floors).values([
    { name: 'Least margin on rope', kind: 'margin', value: '20', category: category['rope']!, outcome: 'ask' },
    { name: 'Least margin on hardware', kind: 'margin', value: '15', category: category['deck']!, outcome: 'lift' },
    {
      name: 'Advertised prices of safety gear',
      kind: 'map',
      value: '100',
      category: category['safety']!,
      outcome: 'ask',
    },
    { name: 'Never below a margin of 5 %', kind: 'margin', value: '5', outcome: 'refuse' },
  ]);
}
