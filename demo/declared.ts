import { type KINDS, kindNamed } from '#contract/records/kinds.ts';
import { pruned, schemaOf } from '#contract/records/schema.ts';
import { asc, eq } from 'drizzle-orm';
import type { Tx } from '../server/platform/database.ts';
import { keepLinks } from '../server/records/links.ts';
import { priceLists } from '../server/lists/tables.ts';
import { records } from '../server/records/tables.ts';
import { customers } from '../server/setup/tables.ts';
import { daysBefore } from './days.ts';

interface House {
  readonly tx: Tx;
  readonly today: string;
  readonly category: Readonly<Record<string, number>>;
  readonly group: Readonly<Record<string, number>>;
  readonly list: { readonly counter: number; readonly yards: number };
  readonly item: ReadonlyMap<string, { readonly id: number }>;
}

type KindName = (typeof KINDS)[number]['name'];

/** Where Brannholm sends goods, what moves together, what counts together, and what its lists and quotes do besides. */
export async function loadDeclared(house: House): Promise<void> {
  const { tx, today, category, group, list, item } = house;
  const put = async (name: KindName, body: Record<string, unknown>): Promise<string> => {
    const kind = kindNamed(name)!;
    const kept = pruned(kind.fields, schemaOf(kind.fields).validateSync(body) as Record<string, unknown>);
    const [row] = await tx.insert(records).values({ kind: name, body: kept }).returning({ id: records.id });
    await keepLinks(tx, { kind: name, id: row!.id }, kind.fields, kept);
    return String(row!.id);
  };
  const idOf = (sku: string) => String(item.get(sku)!.id);
  const inCategory = (key: string) => ({ category: String(category[key]) });

  const home = await put('regions', { name: 'Home waters', countries: ['FI', 'AX'], currency: 'EUR', tax: 'charged' });
  await put('regions', {
    name: 'Baltic',
    countries: ['EE', 'LV', 'LT'],
    currency: 'EUR',
    tax: 'charged',
    inside: home,
  });
  const scandinavia = await put('regions', {
    name: 'Scandinavia',
    countries: ['SE', 'NO', 'DK'],
    currency: 'SEK',
    tax: 'none',
  });
  await put('regions', { name: 'The isles', countries: ['GB', 'IM', 'JE', 'GG'], currency: 'GBP', tax: 'none' });
  await put('regions', {
    name: 'Rest of the world',
    countries: ['US', 'CA', 'AU', 'NZ'],
    currency: 'USD',
    tax: 'none',
  });

  const blue = [...item.keys()].filter((sku) => sku.startsWith('BL-08-')).sort();
  await put('lockstep', {
    name: 'Braided line 8 mm, every colour',
    lead: idOf(blue[0]!),
    members: blue.slice(1).map(idOf),
  });

  await put('pools', { name: 'Shackles of any size', items: [inCategory('shackles')] });
  await put('pools', { name: 'Flares of any kind', items: [inCategory('flares')] });

  await put('charges', {
    name: 'Rigging inspection cover',
    percent: '4',
    least: { amount: '45.00', currency: 'EUR' },
    taxClass: 'standard',
    covers: [inCategory('running')],
  });

  const [first] = await tx
    .select({ id: customers.id })
    .from(customers)
    .where(eq(customers.groupId, group['yards']!))
    .orderBy(asc(customers.id))
    .limit(1);
  await put('reductions', {
    name: 'Small cord for the first yard',
    customer: String(first!.id),
    scope: inCategory('cord'),
    kind: 'percent_off',
    value: '4',
  });
  await put('reductions', {
    name: 'Winter storage coatings',
    group: String(group['yards']),
    scope: inCategory('topside'),
    kind: 'percent_off',
    value: '3',
    from: daysBefore(today, -14),
    to: daysBefore(today, -75),
  });

  await put('entries', {
    list: String(list.counter),
    scope: inCategory('flares'),
    kind: 'percent_off',
    value: '8',
    from: daysBefore(today, -10),
    to: daysBefore(today, -24),
  });

  await put('entries', {
    list: String(list.counter),
    scope: inCategory('topside'),
    kind: 'percent_off',
    value: '12',
    from: daysBefore(today, 9),
    to: daysBefore(today, -12),
  });
  // what one drum of the navy line costs was agreed once, and stays
  await put('entries', {
    list: String(list.counter),
    scope: { item: idOf('BL-12-NA'), pack: 'drum' },
    kind: 'price',
    value: '479.00',
  });
  await put('reductions', {
    name: 'Club members',
    group: String(group['club']),
    scope: {},
    kind: 'percent_off',
    value: '5',
  });
  await put('reductions', {
    name: 'Club members, safety',
    group: String(group['club']),
    scope: inCategory('safety'),
    kind: 'percent_off',
    value: '8',
  });

  // the counter list for the north: in its own currency, five per cent off
  const north = {
    currency: 'SEK',
    taxIn: false,
    active: true,
    rank: 6,
    more: {
      regions: [scandinavia],
      parent: { list: String(list.counter), percent: '-5', factor: null, rate: null },
    },
  };
  await tx.insert(priceLists).values({ name: 'Scandinavia', ...north });

  await put('rules', {
    name: 'Cut lengths',
    active: true,
    mode: 'every',
    rules: [
      {
        id: '1',
        name: 'Braided line cut short of five metres',
        when: {
          all: [
            { fact: 'item.category', operator: 'is', value: String(category['braid']) },
            { fact: 'line.pack', operator: 'is', value: 'metre' },
            { fact: 'line.quantity', operator: 'less_than', value: '5' },
          ],
        },
        effects: [{ kind: 'charge', name: 'Cutting to length', value: '2.50', currency: 'EUR', taxClass: 'standard' }],
      },
    ],
  });
}
