import { parseArgs } from 'node:util';
import { schemaOf } from '#contract/records/schema.ts';
import type { ListBody } from '#contract/records/plain.ts';
import { lists as listKind } from '#contract/records/price-list.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import { keptLists } from '#server/lists/kept-lists.ts';
import { audit } from '#server/ledger/audit.ts';
import { hashPassword } from '#server/people/password.ts';
import { people } from '#server/people/tables.ts';
import { copyField, copyIn } from '#server/platform/copy.ts';
import { type Database, migrateDatabase, openDatabase } from '#server/platform/database.ts';
import { fromTheBeginning } from '#server/platform/history.ts';
import { records } from '#server/records/tables.ts';
import { writeRecipe } from '#server/recipes/store.ts';
import { writeLadder } from '#server/rounding/store.ts';
import { customerRows, groupRows } from '#server/setup/rows.ts';
import { categories, exchangeRates, suppliers, taxRates, workspaceSettings } from '#server/setup/tables.ts';
import { DEMO_PASSWORD, PEOPLE } from './brannholm.ts';
import { largeBuyers } from './large-buyers.ts';
import { largeWorkspace } from './large-workspace.ts';

/** Loads the large workspace into an empty database. */
export async function loadLarge(database: Database, itemCount: number): Promise<void> {
  const w = largeWorkspace(itemCount);
  const category = new Map<string, number>();
  const supplier = new Map<string, number>();
  const person = await database.db.transaction(async (tx) => {
    await fromTheBeginning(tx);
    await tx
      .insert(workspaceSettings)
      .values({ name: 'Brannholm Chandlers', currency: 'EUR', timeZone: 'Europe/Berlin', supplierChoice: 'preferred' });
    const passwordHash = await hashPassword(DEMO_PASSWORD);
    const [first] = await tx
      .insert(people)
      .values(PEOPLE.map((p) => ({ ...p, passwordHash })))
      .returning();
    for (const c of w.categories) {
      const [made] = await tx
        .insert(categories)
        .values({ name: c.name, parent: c.parent === null ? null : category.get(c.parent)! })
        .returning();
      category.set(c.id, made!.id);
    }
    for (const s of w.suppliers) {
      const { freight, handling } = s.landed;
      const [made] = await tx
        .insert(suppliers)
        .values({
          name: s.name,
          currency: s.currency,
          freightPer: freight?.per ?? null,
          freightAmount: freight?.amount.amount ?? null,
          freightCurrency: freight?.amount.currency ?? null,
          dutyPercent: s.landed.dutyPercent ?? null,
          handlingAmount: handling?.amount ?? null,
          handlingCurrency: handling?.currency ?? null,
          overheadPercent: s.landed.overheadPercent ?? null,
        })
        .returning();
      supplier.set(s.id, made!.id);
    }
    await tx.insert(taxRates).values(w.taxes.map((t) => ({ taxClass: t.taxClass, percent: t.percent, from: t.from })));
    await tx.insert(exchangeRates).values(w.rates.map((r) => ({ ...r })));
    await writeRules(tx, w);
    return first!.id;
  });
  await copyItems(database, w, { category, supplier, person });
  await database.db.transaction((tx) =>
    audit(tx, {
      at: new Date(),
      personId: person,
      action: 'loaded',
      subject: 'settings',
      subjectId: '1',
      layers: ['catalogue', 'rules', 'posted'],
    }),
  );
}

type Transaction = Parameters<Parameters<Database['db']['transaction']>[0]>[0];

async function writeRules(tx: Transaction, w: Workspace): Promise<void> {
  const ladder = new Map<string, number>();
  for (const l of w.ladders) {
    const rungs = l.rungs.map((r) => ({
      ...r,
      endings: [...r.endings],
      downUntil: r.downUntil ?? null,
      upFrom: r.upFrom ?? null,
    }));
    ladder.set(l.id, await writeLadder(tx, null, { name: l.name, currency: l.currency, rungs }, 1));
  }
  const { groups, regions, customers } = largeBuyers();
  await groupRows.load(tx, groups);
  await customerRows.load(tx, customers);
  const region = new Map<string, string>();
  for (const { id: _, version: __, ...body } of regions) {
    const [row] = await tx.insert(records).values({ kind: 'regions', body }).returning({ id: records.id });
    region.set(body.name, String(row!.id));
  }
  for (const r of w.recipes) {
    const list = w.lists.find((l) => l.recipe === r.id)!;
    const recipeId = await writeRecipe(
      tx,
      null,
      {
        name: r.name,
        basis: { kind: 'landed' },
        ladder: String(ladder.get(r.ladder!)),
        addOns: (r.addOns ?? []).map((a, n) => ({ when: 'after', scope: {}, ...a, id: String(n + 1) })),
        uplift: r.uplift.map(({ scope: { band }, ...u }) => ({ ...u, scope: { band } })),
        guards: r.guards,
      },
      1,
    );
    // a list is meant for the group, or for the region, of its name
    const { name, currency, taxIn, rank, advertised, active } = list;
    const meant = {
      groups: groups.filter((g) => g.name === name).map((g) => g.id),
      regions: [region.get(name)].filter((found) => found !== undefined),
    };
    const body = { name, currency, taxIn, rank, advertised, active, recipe: String(recipeId), ...meant };
    await keptLists.write(tx, null, schemaOf(listKind.fields).validateSync(body) as ListBody, 1);
  }
}

async function copyItems(
  database: Database,
  w: Workspace,
  made: { category: Map<string, number>; supplier: Map<string, number>; person: number },
): Promise<void> {
  const client = await database.pool.connect();
  const line = (fields: (string | number | null | undefined)[]) => `${fields.map(copyField).join('\t')}\n`;
  function* lines(of: (n: number) => string): Generator<string> {
    for (let n = 0; n < w.items.length; n += 1000)
      yield Array.from({ length: Math.min(1000, w.items.length - n) }, (_, i) => of(n + i)).join('');
  }
  try {
    await client.query('begin');
    await copyIn(
      client,
      'items (id, sku, name, unit, category_id, brand, model, supplier_id, supplier_code, weight_kg, tax_class)',
      lines((n) => {
        const i = w.items[n]!;
        const supplierId = made.supplier.get(i.supplier!);
        const [c, s] = [made.category.get(i.category), supplierId];
        return line([n + 1, i.sku, i.name, i.unit, c, i.brand, i.model, s, `S${n}`, i.weightKg, i.taxClass]);
      }),
    );
    await copyIn(
      client,
      'packs (id, item_id, name, units)',
      lines((n) => line([n + 1, n + 1, 'each', '1'])),
    );
    const at = new Date().toISOString();
    await copyIn(
      client,
      'costs (item_id, supplier_id, amount, currency, pack_units, valid_from, origin, entered_by, entered_at)',
      lines((n) => {
        const c = w.costs[n]!;
        const { amount, currency } = c.cost;
        return line([
          n + 1,
          made.supplier.get(c.supplier),
          amount,
          currency,
          c.packUnits,
          c.from,
          'file',
          made.person,
          at,
        ]);
      }),
    );
    for (const table of ['items', 'packs', 'customer_groups', 'customers'])
      await client.query(`select setval(pg_get_serial_sequence('${table}', 'id'), (select max(id) from ${table}))`);
    await client.query('commit');
    await client.query('analyze');
  } finally {
    client.release();
  }
}

/** As a program: `node --import tsx demo/load-large.ts --items 100000`, into the database that DATABASE_URL names. */
if (process.argv[1]?.endsWith('load-large.ts')) {
  const { values } = parseArgs({ options: { items: { type: 'string', default: '100000' } } });
  const url = process.env['DATABASE_URL'] ?? '';
  await migrateDatabase(url, process.env['MIGRATIONS_URL']);
  const database = openDatabase(url);
  const [known] = await database.db.select({ id: people.id }).from(people).limit(1);
  if (!known) await loadLarge(database, Number(values.items));
  await database.close();
}
