import { asc, eq, inArray } from 'drizzle-orm';
import { PLAIN, type PlainBody } from '#contract/records/plain.ts';
import { dec } from '#core/numbers/decimal.ts';
import { ascending, breakFaults } from '#core/quotes/breaks.ts';
import { items } from '../items/tables.ts';
import type { Tx } from '../platform/database.ts';
import { refused, wrongField } from '../platform/refused.ts';
import { declaredAs, flatRegister } from '../setup/flat-register.ts';
import type { Register } from '../setup/register.ts';
import { breakRows, breakTables, floors } from './tables.ts';

export const breakRegister: Register<PlainBody<'breaks'> & { more?: Record<string, unknown> }> = {
  ...declaredAs(PLAIN.breaks),
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

/** A rule for a brand that no item has reaches nothing: a letter was missed. */
async function knownBrand(tx: Tx, brand: string): Promise<void> {
  const rows = await tx.selectDistinct({ brand: items.brand }).from(items);
  const known = rows.flatMap((r) => r.brand ?? []);
  if (known.includes(brand)) return;
  const near = known.find((k) => k.toLowerCase().slice(0, 3) === brand.toLowerCase().slice(0, 3));
  throw wrongField('brand', `no item is of the brand "${brand}"${near ? `; is "${near}" meant?` : ''}`);
}

export const floorRegister = flatRegister(PLAIN.floors, floors, async (tx, body) => {
  if (body.kind === 'amount' && !body.currency) throw wrongField('currency', 'an amount needs its currency');
  if (body.kind === 'margin' && dec(body.value).gte(100)) throw wrongField('value', 'a margin must be less than 100 %');
  if (body.brand) await knownBrand(tx, body.brand);
});
