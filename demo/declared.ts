import { type KINDS, kindNamed } from '#contract/records/kinds.ts';
import { pruned, schemaOf } from '#contract/records/schema.ts';
import { asc, eq } from 'drizzle-orm';
import type { Tx } from '../server/platform/database.ts';
import { keepLinks } from '../server/records/links.ts';
import { records } from '../server/records/tables.ts';
import { customers, taxRates } from '../server/setup/tables.ts';
import { ATTRIBUTES } from './brannholm.ts';
import { daysBefore } from './days.ts';
import { demoItems } from './items.ts';

interface House {
  readonly tx: Tx;
  readonly today: string;
  readonly category: Readonly<Record<string, number>>;
  readonly group: Readonly<Record<string, number>>;
  readonly list: Readonly<Record<string, number>>;
  readonly supplier: Readonly<Record<string, number>>;
  readonly item: ReadonlyMap<string, { readonly id: number }>;
}

type KindName = (typeof KINDS)[number]['name'];

const putter =
  ({ tx }: Pick<House, 'tx'>) =>
  async (name: KindName, body: Record<string, unknown>): Promise<string> => {
    const kind = kindNamed(name)!;
    const kept = pruned(kind.fields, schemaOf(kind.fields).validateSync(body) as Record<string, unknown>);
    const [row] = await tx.insert(records).values({ kind: name, body: kept }).returning({ id: records.id });
    await keepLinks(tx, { kind: name, id: row!.id }, kind.fields, kept);
    return String(row!.id);
  };

/** What items are described by, each value that occurs; brands and tax classes. */
export async function loadDescribed(house: Pick<House, 'tx'>): Promise<void> {
  const put = putter(house);
  const all = demoItems();
  for (const [name, kind, unit] of ATTRIBUTES) {
    const values = kind === 'choice' ? [...new Set(all.flatMap((i) => i.attributes[name] ?? []))] : [];
    await put('attributes', { name, kind, unit, values });
  }
  for (const name of [...new Set(all.map((i) => i.brand))].sort()) await put('brands', { name });
  for (const name of ['standard', 'reduced']) await put('taxClasses', { name });
}

/** Where Brannholm sends goods, with the tax of the region that has its own. */
export async function loadRegions(house: Pick<House, 'tx' | 'today'>): Promise<Record<string, string>> {
  const put = putter(house);
  const eur = { currency: 'EUR', tax: 'charged' };
  const home = await put('regions', { name: 'Home waters', countries: ['FI', 'AX'], ...eur });
  const baltic = await put('regions', { name: 'Baltic', countries: ['EE', 'LV', 'LT'], ...eur, inside: home });
  const scandinavia = await put('regions', {
    name: 'Scandinavia',
    countries: ['SE', 'NO', 'DK'],
    currency: 'SEK',
    tax: 'none',
  });
  const isles = await put('regions', {
    name: 'The isles',
    countries: ['GB', 'IM', 'JE', 'GG'],
    currency: 'GBP',
    tax: 'none',
  });
  const world = await put('regions', {
    name: 'Rest of the world',
    countries: ['US', 'CA', 'AU', 'NZ'],
    currency: 'USD',
    tax: 'none',
  });
  const from = daysBefore(house.today, 580);
  await house.tx.insert(taxRates).values([
    { taxClass: 'standard', percent: '22', from, more: { region: baltic } },
    { taxClass: 'reduced', percent: '9', from, more: { region: baltic } },
  ]);
  return { home, baltic, scandinavia, isles, world };
}

/** What moves together, what counts together, and what its lists and quotes do besides. */
export async function loadDeclared(house: House): Promise<void> {
  const { tx, today, category, group, list, item, supplier } = house;
  const put = putter(house);
  const idOf = (sku: string) => String(item.get(sku)!.id);
  const inCategory = (key: string) => ({ category: String(category[key]) });

  const together = async (name: string, prefix: string) => {
    const skus = [...item.keys()].filter((sku) => sku.startsWith(prefix)).sort();
    await put('lockstep', { name, lead: idOf(skus[0]!), members: skus.slice(1).map(idOf) });
  };
  for (const mm of [6, 8, 10, 12, 14, 16])
    await together(`Braided line ${mm} mm, every colour`, `BL-${String(mm).padStart(2, '0')}-`);
  const shades = [...item.keys()].filter((sku) => sku.startsWith('TP-'));
  for (const [end, name] of [
    ['-075', '0.75 l'],
    ['-25', '2.5 l'],
  ] as const) {
    const skus = shades.filter((sku) => sku.endsWith(end)).sort();
    await put('lockstep', {
      name: `Topside paint ${name}, every shade`,
      lead: idOf(skus[0]!),
      members: skus.slice(1).map(idOf),
    });
  }

  // what changes at the border, and what an order of little costs, in three weeks
  const inThreeWeeks = daysBefore(today, -21);
  await put('landed', {
    supplier: String(supplier['kelwick']),
    scope: inCategory('rope'),
    from: inThreeWeeks,
    dutyPercent: '4.2',
  });
  await put('landed', {
    supplier: String(supplier['norrvaag']),
    scope: {},
    from: inThreeWeeks,
    orderFee: { fee: { amount: '38.00', currency: 'NOK' }, order: '12000' },
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
    list: String(list['counter']),
    scope: inCategory('flares'),
    kind: 'percent_off',
    value: '8',
    from: daysBefore(today, -10),
    to: daysBefore(today, -24),
  });

  await put('entries', {
    list: String(list['counter']),
    scope: inCategory('topside'),
    kind: 'percent_off',
    value: '12',
    from: daysBefore(today, 9),
    to: daysBefore(today, -12),
  });
  // what one drum of the navy line costs was agreed once, and stays
  await put('entries', {
    list: String(list['counter']),
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
