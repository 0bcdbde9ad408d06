import { guessable, hashPassword } from '../people/password.ts';
import { asc, eq, inArray } from 'drizzle-orm';
import { type PersonBody, personBody } from '#contract/people.ts';
import {
  type BreakTableBody,
  type ListBody,
  breakTableBody,
  categoryBody,
  customerBody,
  customerGroupBody,
  exchangeRateBody,
  floorBody,
  listBody,
  settingsBody,
  supplierBody,
  taxRateBody,
} from '#contract/setup.ts';
import { KINDS } from '#contract/records/kinds.ts';
import type { WithMore } from '#contract/records/more.ts';
import type { AnyPgColumn, PgTable } from 'drizzle-orm/pg-core';
import type { InferType } from 'yup';
import { dec } from '#core/numbers/decimal.ts';
import { ascending, breakFaults } from '#core/quotes/breaks.ts';
import { costs } from '../costs/tables.ts';
import { items } from '../items/tables.ts';
import { postingLines } from '../ledger/tables.ts';
import type { Tx } from '../platform/database.ts';
import { priceListGroups, priceLists } from '../lists/tables.ts';
import { people, session } from '../people/tables.ts';
import { refused } from '../platform/refused.ts';
import { breakRows, breakTables, floors } from '../quotes/tables.ts';
import { withMore } from '../records/more.ts';
import { readDeclared } from '../records/load.ts';
import { recordRegister } from '../records/register.ts';
import { lockstepRegister } from '../items/lockstep-register.ts';
import { type Register, flatRegister } from './register.ts';
import { readSettings } from './settings.ts';
import {
  categories,
  customerGroups,
  customers,
  exchangeRates,
  suppliers,
  taxRates,
  workspaceSettings,
} from './tables.ts';
import { sql } from 'drizzle-orm';

const rules = { readRight: 'see_cost', changeRight: 'edit_rules' } as const;
const open = { readRight: 'read', changeRight: 'edit_rules' } as const;

/** Advisory locks of records that hold a rule together: whoever changes one of them waits for the other. */
const TURNS = { categories: 7304, people: 7305 } as const;

const fault = (path: string, message: string) => refused('fields_wrong', {}, { faults: [{ path, message }] });

/** A category may not lie below itself. */
async function noCircle(tx: Tx, body: { parentId: string | null }, id: number | null): Promise<void> {
  // two moves at the same time could make a circle that neither sees: they take turns
  await tx.execute(sql`select pg_advisory_xact_lock(${TURNS.categories})`);
  const rows = await tx.select().from(categories);
  const parents = new Map(rows.map((c) => [c.id, c.parentId]));
  for (
    let at = body.parentId === null ? null : Number(body.parentId), steps = 0;
    at !== null && at !== undefined;
    at = parents.get(at) ?? null
  ) {
    if (at === id || ++steps > 100)
      throw refused(
        'fields_wrong',
        {},
        { faults: [{ path: 'parentId', message: 'a category may not lie below itself' }] },
      );
  }
}

type Settings = InferType<typeof settingsBody>;

/** The time zone and the currency must be known; books that hold prices stay in their currency. */
async function checkSettings(tx: Tx, body: Settings): Promise<void> {
  if (!Intl.supportedValuesOf('timeZone').includes(body.timeZone) && body.timeZone !== 'UTC')
    throw fault('timeZone', `"${body.timeZone}" is no time zone; write it like Europe/Berlin`);
  if (!Intl.supportedValuesOf('currency').includes(body.currency))
    throw fault('currency', `"${body.currency}" is no currency; write it like EUR`);
  const now = await readSettings(tx);
  if (body.currency === now.currency) return;
  const [posted] = await tx.select({ id: postingLines.id }).from(postingLines).limit(1);
  const [cost] = await tx.select({ id: costs.id }).from(costs).limit(1);
  if (posted || cost)
    throw fault(
      'currency',
      `the books are in ${now.currency} and hold ${posted ? 'posted prices' : 'costs'}: their currency cannot change`,
    );
}

const settings = flatRegister<Settings>({
  ...rules,
  readRight: 'read',
  name: 'settings',
  title: 'The workspace',
  body: settingsBody,
  table: workspaceSettings,
  single: true,
  check: checkSettings,
});
/** A rule for a brand that no item has reaches nothing: a letter was missed. */
async function knownBrand(tx: Tx, brand: string): Promise<void> {
  const rows = await tx.selectDistinct({ brand: items.brand }).from(items);
  const known = rows.flatMap((r) => r.brand ?? []);
  if (known.includes(brand)) return;
  const near = known.find((k) => k.toLowerCase().slice(0, 3) === brand.toLowerCase().slice(0, 3));
  throw fault('brand', `no item is of the brand "${brand}"${near ? `; is "${near}" meant?` : ''}`);
}

const supplierRegister = flatRegister({
  ...rules,
  name: 'suppliers',
  title: 'The supplier',
  body: supplierBody,
  table: suppliers,
  removable: true,
  check: async (_, body: InferType<typeof supplierBody>) => {
    if (body.freightPer && !body.freightAmount) throw fault('freightAmount', 'freight needs an amount');
    if (body.freightAmount && !body.freightPer)
      throw fault('freightPer', 'choose whether freight goes by weight or per unit');
    if (body.freightAmount && !body.freightCurrency) throw fault('freightCurrency', 'an amount needs its currency');
    if (body.handlingAmount && !body.handlingCurrency) throw fault('handlingCurrency', 'an amount needs its currency');
  },
});
const categoryRegister = flatRegister<{ name: string; parentId: string | null }>({
  ...open,
  name: 'categories',
  title: 'The category',
  body: categoryBody,
  table: categories,
  references: ['parentId'],
  removable: true,
  check: noCircle,
});
const taxRegister = flatRegister({
  ...open,
  name: 'tax-rates',
  title: 'The tax rate',
  body: taxRateBody,
  table: taxRates,
  removable: true,
  check: async (tx, { taxClass }: InferType<typeof taxRateBody>) => {
    const { taxClasses } = (await readDeclared(tx)).members;
    if (taxClasses.length > 0 && !taxClasses.some((c) => c.name === taxClass))
      throw fault(
        'taxClass',
        `is declared first under Setup, Tax classes; there are ${taxClasses.map((c) => c.name).join(', ')}`,
      );
  },
});
const rateRegister = flatRegister({
  ...rules,
  name: 'exchange-rates',
  title: 'The exchange rate',
  body: exchangeRateBody,
  table: exchangeRates,
  removable: true,
});
const groupRegister = flatRegister({
  ...open,
  name: 'customer-groups',
  title: 'The customer group',
  body: customerGroupBody,
  table: customerGroups,
  removable: true,
});
const customerRegister = flatRegister({
  ...open,
  name: 'customers',
  title: 'The customer',
  body: customerBody,
  table: customers,
  references: ['groupId'],
});
const floorRegister = flatRegister({
  ...rules,
  name: 'floors',
  title: 'The floor',
  body: floorBody,
  table: floors,
  references: ['itemId', 'categoryId', 'groupId'],
  removable: true,
  check: async (tx, body: InferType<typeof floorBody>) => {
    if (body.kind === 'amount' && !body.currency) throw fault('currency', 'an amount needs its currency');
    if (body.kind === 'margin' && dec(body.value).gte(100)) throw fault('value', 'a margin must be less than 100 %');
    if (body.brand) await knownBrand(tx, body.brand);
  },
});

const listRegister: Register<ListBody> = {
  ...open,
  name: 'lists',
  title: 'The price list',
  body: listBody,
  read: async (db, only) => {
    const rows = await db
      .select()
      .from(priceLists)
      .where(only === undefined ? undefined : eq(priceLists.id, only))
      .orderBy(asc(priceLists.rank), asc(priceLists.id));
    const groups = await db.select().from(priceListGroups);
    return rows.map(({ recipeId, id, more: _more, ...l }) => ({
      ...l,
      id: String(id),
      recipe: recipeId === null ? null : String(recipeId),
      groups: groups.filter((g) => g.listId === id).map((g) => String(g.groupId)),
    }));
  },
  check: (_, body, id) => {
    if (id === null && body.active)
      throw fault('active', 'a new list begins inactive: activate it once it holds what it should');
    if (body.validFrom && body.validTo && body.validTo < body.validFrom)
      throw fault('validTo', 'the last day lies before the first');
    return Promise.resolve();
  },
  write: async (tx, id, { recipe, groups, ...body }, version) => {
    const head = { ...body, version, recipeId: recipe === null ? null : Number(recipe) };
    const [row] =
      id === null
        ? await tx.insert(priceLists).values(head).returning({ id: priceLists.id })
        : await tx.update(priceLists).set(head).where(eq(priceLists.id, id)).returning({ id: priceLists.id });
    const listId = row!.id;
    await tx.delete(priceListGroups).where(eq(priceListGroups.listId, listId));
    if (groups.length > 0) await tx.insert(priceListGroups).values(groups.map((g) => ({ listId, groupId: Number(g) })));
    return listId;
  },
};

const breakRegister: Register<BreakTableBody & { more?: Record<string, unknown> }> = {
  ...open,
  name: 'breaks',
  title: 'The quantity breaks',
  body: breakTableBody,
  read: async (db, only) => {
    const heads = await db
      .select()
      .from(breakTables)
      .where(only === undefined ? undefined : eq(breakTables.id, only))
      .orderBy(asc(breakTables.id));
    const rows =
      heads.length === 0
        ? []
        : await db
            .select()
            .from(breakRows)
            .where(
              inArray(
                breakRows.tableId,
                heads.map((h) => h.id),
              ),
            )
            .orderBy(asc(breakRows.fromQuantity));
    return heads.map((h) => ({
      id: String(h.id),
      version: h.version,
      name: h.name,
      list: String(h.listId),
      item: h.itemId === null ? null : String(h.itemId),
      category: h.categoryId === null ? null : String(h.categoryId),
      way: h.way,
      count: h.count,
      rows: rows.filter((r) => r.tableId === h.id).map((r) => ({ from: r.fromQuantity, kind: r.kind, value: r.value })),
    }));
  },
  check: async (_, body) => {
    const faults = breakFaults(body.rows).map((f) => ({
      path: `rows[${f.row}].${f.code === 'twice' || f.code.startsWith('from') ? 'from' : 'value'}`,
      message: f.code.replaceAll('_', ' '),
    }));
    const rows = ascending(body.rows);
    rows.forEach((row, i) => {
      const before = rows[i - 1];
      if (before?.kind !== row.kind) return;
      const worse = row.kind === 'price' ? dec(row.value).gt(before.value) : dec(row.value).lt(before.value);
      const at = body.rows.indexOf(row);
      if (worse) faults.push({ path: `rows[${at}].value`, message: `gives less than the break from ${before.from}` });
    });
    if (faults.length > 0) throw refused('fields_wrong', {}, { faults });
  },
  write: async (tx, id, body, version) => {
    const number = (t: string | null) => (t === null ? null : Number(t));
    const head = {
      name: body.name,
      listId: Number(body.list),
      itemId: number(body.item),
      categoryId: number(body.category),
      way: body.way,
      count: body.count,
      more: body.more ?? {},
      version,
    };
    const [row] =
      id === null
        ? await tx.insert(breakTables).values(head).returning({ id: breakTables.id })
        : await tx.update(breakTables).set(head).where(eq(breakTables.id, id)).returning({ id: breakTables.id });
    const tableId = row!.id;
    await tx.delete(breakRows).where(eq(breakRows.tableId, tableId));
    await tx
      .insert(breakRows)
      .values(body.rows.map((r) => ({ tableId, fromQuantity: r.from, kind: r.kind, value: r.value })));
    return tableId;
  },
  remove: async (tx, id) => {
    await tx.delete(breakRows).where(eq(breakRows.tableId, id));
    await tx.delete(breakTables).where(eq(breakTables.id, id));
  },
};

const personRegister: Register<PersonBody> = {
  name: 'people',
  title: 'The person',
  body: personBody,
  readRight: 'manage_people',
  changeRight: 'manage_people',
  read: async (db, only) => {
    const rows = await db
      .select()
      .from(people)
      .where(only === undefined ? undefined : eq(people.id, only))
      .orderBy(asc(people.id));
    return rows.map(({ passwordHash: _, id, ...p }) => ({ ...p, id: String(id), password: null }));
  },
  check: async (tx, body, id) => {
    // two administrators who demote each other at the same moment take turns; the second is then the last
    await tx.execute(sql`select pg_advisory_xact_lock(${TURNS.people})`);
    if (id === null && !body.password)
      throw refused('fields_wrong', {}, { faults: [{ path: 'password', message: 'a new person needs a password' }] });
    const why = body.password && guessable(body.password, [body.name, body.signIn]);
    if (why) throw refused('fields_wrong', {}, { faults: [{ path: 'password', message: why }] });
    if (id === null) return;
    const keepers = (await tx.select().from(people)).filter(
      (p) => p.active && p.role === 'administrator' && p.id !== id,
    );
    if (keepers.length === 0 && (body.role !== 'administrator' || !body.active)) {
      throw refused('fields_wrong', {}, { faults: [{ path: 'role', message: 'one administrator must remain' }] });
    }
  },
  write: async (tx, id, { password, ...body }, version) => {
    const secret = password ? { passwordHash: await hashPassword(password) } : {};
    if (id === null) {
      const [row] = await tx
        .insert(people)
        .values({ ...body, version, passwordHash: '', ...secret })
        .returning({ id: people.id });
      return row!.id;
    }
    await tx
      .update(people)
      .set({ ...body, version, ...secret })
      .where(eq(people.id, id));
    // a new password, or being switched off, ends what was open
    if (password || !body.active) await tx.delete(session).where(sql`(${session.sess}->>'personId')::int = ${id}`);
    return id;
  },
};

const plain = [
  categoryRegister,
  rateRegister,
  groupRegister,
  personRegister,
  ...KINDS.map((k) => (k.name === 'lockstep' ? lockstepRegister(recordRegister(k)) : recordRegister(k))),
] as unknown as readonly Register<never>[];

const wider: readonly [WithMore, unknown, PgTable & { id: AnyPgColumn; more: AnyPgColumn }][] = [
  ['suppliers', supplierRegister, suppliers],
  ['settings', settings, workspaceSettings],
  ['tax-rates', taxRegister, taxRates],
  ['customers', customerRegister, customers],
  ['floors', floorRegister, floors],
  ['lists', listRegister, priceLists],
  ['breaks', breakRegister, breakTables],
];

export const registers: readonly Register<never>[] = [
  ...plain,
  ...wider.map(([name, r, table]) => withMore(name, r as Register<never>, table)),
];
