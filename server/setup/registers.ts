import { hashPassword } from '../people/session-routes.ts';
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
import { breakFaults } from '#core/quotes/breaks.ts';
import { priceListGroups, priceLists } from '../lists/tables.ts';
import { people, session } from '../people/tables.ts';
import { refused } from '../platform/refused.ts';
import { breakRows, breakTables, floors } from '../quotes/tables.ts';
import { type Register, flatRegister } from './register.ts';
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

/** A category may not lie below itself. */
async function noCircle(
  tx: Parameters<NonNullable<Register<object>['check']>>[0],
  body: { parentId: string | null },
  id: number | null,
): Promise<void> {
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

const settings = flatRegister({
  ...rules,
  readRight: 'read',
  name: 'settings',
  title: 'The workspace',
  body: settingsBody,
  table: workspaceSettings,
});
const supplierRegister = flatRegister({
  ...rules,
  name: 'suppliers',
  title: 'The supplier',
  body: supplierBody,
  table: suppliers,
  removable: true,
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
    return rows.map(({ recipeId, id, ...l }) => ({
      ...l,
      id: String(id),
      recipe: recipeId === null ? null : String(recipeId),
      groups: groups.filter((g) => g.listId === id).map((g) => String(g.groupId)),
    }));
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

const breakRegister: Register<BreakTableBody> = {
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
      path: `rows[${f.row}]`,
      message: f.code.replaceAll('_', ' '),
    }));
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
    if (id === null && !body.password)
      throw refused('fields_wrong', {}, { faults: [{ path: 'password', message: 'a new person needs a password' }] });
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

export const registers: readonly Register<never>[] = [
  settings,
  supplierRegister,
  categoryRegister,
  taxRegister,
  rateRegister,
  groupRegister,
  customerRegister,
  floorRegister,
  listRegister,
  breakRegister,
  personRegister,
] as unknown as readonly Register<never>[];
