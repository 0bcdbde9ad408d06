import { and, asc, eq, inArray, notInArray } from 'drizzle-orm';
import type { Fields } from '#contract/records/declare.ts';
import { ITEM } from '#contract/records/item.ts';
import { pruned, schemaOf } from '#contract/records/schema.ts';
import type { Item, Recommended } from '#core/items/item.ts';
import { holdState } from '../ledger/audit.ts';
import { postingLines } from '../ledger/tables.ts';
import type { Queries, Tx } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { breakTables, floors, quoteLines } from '../quotes/tables.ts';
import { recipes, upliftRows } from '../recipes/tables.ts';
import { putMember, refuseFaults } from '../records/check.ts';
import { keepLinks, refuseWhileLinked } from '../records/links.ts';
import type { Register } from '../setup/register.ts';
import { taxRates } from '../setup/tables.ts';
import { itemColumns, packColumns } from './columns.ts';
import { refuseUndeclared } from './described.ts';
import { items, packs } from './tables.ts';
import type { Stored } from '../setup/stored.ts';
import type { PackBody, ItemBody, Amount } from './item-body.ts';

const amount = (a: string | null, currency: string | null): Amount | null =>
  a !== null && currency !== null ? { amount: a, currency } : null;
const recommended = (a: string | null, currency: string | null, taxIn: boolean): Recommended | null => {
  const price = amount(a, currency);
  return price && { ...price, taxIn };
};

export async function readItemBodies(db: Queries, only?: number): Promise<(ItemBody & Stored)[]> {
  const rows = await db
    .select()
    .from(items)
    .where(only === undefined ? undefined : eq(items.id, only))
    .orderBy(asc(items.id));
  const ofItem = only === undefined ? undefined : eq(packs.itemId, only);
  const packRows = await db.select().from(packs).where(ofItem).orderBy(asc(packs.id));
  const packsOf = new Map<number, typeof packRows>();
  for (const p of packRows) {
    const of = packsOf.get(p.itemId);
    if (of) of.push(p);
    else packsOf.set(p.itemId, [p]);
  }
  return rows.map((i) => ({
    id: String(i.id),
    version: i.version,
    sku: i.sku,
    name: i.name,
    category: String(i.categoryId),
    unit: i.unit,
    brand: i.brand,
    model: i.model,
    supplier: i.supplierId === null ? null : String(i.supplierId),
    supplierCode: i.supplierCode,
    weightKg: i.weightKg,
    taxClass: i.taxClass,
    packs: (packsOf.get(i.id) ?? []).map((p) => ({
      id: String(p.id),
      name: p.name,
      units: p.units,
      barcode: p.barcode,
      deposit: amount(p.depositAmount, p.depositCurrency),
      depositTaxClass: p.depositTaxClass,
      unitDeposit: amount(p.unitDepositAmount, p.unitDepositCurrency),
      unitDepositTaxClass: p.unitDepositTaxClass,
    })),
    rrp: recommended(i.rrpAmount, i.rrpCurrency, i.rrpTaxIn),
    map: recommended(i.mapAmount, i.mapCurrency, i.mapTaxIn),
    attributes: Object.keys(i.attributes).length > 0 ? i.attributes : null,
    order:
      (i.orderLeast ?? i.orderMost ?? i.orderStep ?? i.orderFor[0])
        ? { least: i.orderLeast, most: i.orderMost, step: i.orderStep, for: i.orderFor }
        : null,
    retiredFrom: i.retiredFrom,
  }));
}

const fault = (path: string, message: string) => refused('fields_wrong', {}, { faults: [{ path, message }] });

/** An item as the core would see it, so that the rules of the workspace file hold for it. */
export const asCore = (body: ItemBody, id: string): Item => {
  const { order, attributes, supplierCode: _, retiredFrom: _r, ...item } = body;
  return {
    ...item,
    id,
    ...(attributes ? { attributes } : {}),
    packs: body.packs.map(({ barcode: _b, ...p }) => p),
    ...(order ? { order } : {}),
  };
};

/** Rules whose tables have a column for an item. */
export async function refuseWhileNamed(tx: Tx, sku: string, id: number): Promise<void> {
  const named = [
    ...(await tx.select({ name: breakTables.name }).from(breakTables).where(eq(breakTables.item, id))).map(
      (b) => `quantity breaks “${b.name}”`,
    ),
    ...(await tx.select({ name: floors.name }).from(floors).where(eq(floors.item, id))).map((f) => `floor “${f.name}”`),
    ...(
      await tx
        .selectDistinct({ name: recipes.name })
        .from(upliftRows)
        .innerJoin(recipes, eq(recipes.id, upliftRows.recipeId))
        .where(eq(upliftRows.itemId, id))
    ).map((r) => `recipe “${r.name}”`),
  ];
  if (named.length > 0) throw refused('in_use', { what: `Item ${sku}`, by: named.slice(0, 5).join(', ') });
}

async function check(tx: Tx, body: ItemBody, id: number | null): Promise<void> {
  await holdState(tx);
  const names = body.packs.map((p) => p.name.toLowerCase());
  const twice = names.findIndex((n, i) => names.indexOf(n) !== i);
  if (twice >= 0) throw fault(`packs[${twice}].name`, 'is the name of another pack of this item');
  const codes = body.packs.flatMap((p) => p.barcode ?? []);
  if (new Set(codes).size !== codes.length) throw fault('packs', 'a barcode stands for one pack only');
  if (codes.length > 0) {
    const [other] = await tx
      .select({ sku: items.sku, itemId: items.id, barcode: packs.barcode })
      .from(packs)
      .innerJoin(items, eq(items.id, packs.itemId))
      .where(and(inArray(packs.barcode, codes), id === null ? undefined : notInArray(packs.itemId, [id])));
    if (other)
      throw fault(
        `packs[${body.packs.findIndex((p) => p.barcode === other.barcode)}].barcode`,
        `stands for ${other.sku} already`,
      );
  }
  for (const [i, l] of (body.order?.for ?? []).entries())
    if ((l.customer ?? null) === null && (l.group ?? null) === null)
      throw fault(`order.for[${i}].customer`, 'choose a customer or a group');
  await refuseUndeclared(tx, { ...body, attributes: body.attributes ?? {} });
  const classes = new Set((await tx.select({ name: taxRates.taxClass }).from(taxRates)).map((t) => t.name));
  if (!classes.has(body.taxClass)) throw fault('taxClass', `is no tax class: ${[...classes].join(', ')}`);
  if (id !== null && body.retiredFrom !== null) {
    // what follows it or is bound to it must be settled first
    await refuseWhileLinked(tx, `Item ${body.sku}`, 'items', id);
    await refuseWhileNamed(tx, body.sku, id);
  }
  await refuseFaults(tx, (ws) => putMember(ws, 'items', asCore(body, String(id ?? 'new'))));
}

async function writePacks(tx: Tx, itemId: number, bodies: readonly PackBody[]): Promise<void> {
  const kept = await tx.select({ id: packs.id, name: packs.name }).from(packs).where(eq(packs.itemId, itemId));
  const known = new Set(kept.map((p) => String(p.id)));
  const stay = new Set(bodies.filter((b) => known.has(b.id)).map((b) => b.id));
  for (const p of kept.filter((k) => !stay.has(String(k.id)))) {
    const [posted] = await tx
      .select({ id: postingLines.id })
      .from(postingLines)
      .where(eq(postingLines.packId, p.id))
      .limit(1);
    const [quoted] = await tx
      .select({ id: quoteLines.quoteId })
      .from(quoteLines)
      .where(eq(quoteLines.packId, p.id))
      .limit(1);
    if (posted || quoted)
      throw refused('in_use', { what: `The pack ${p.name}`, by: posted ? 'posted prices' : 'quotes' });
    await tx.delete(packs).where(eq(packs.id, p.id));
  }
  for (const b of bodies) {
    const row = { ...packColumns(itemId, b), barcode: b.barcode };
    if (known.has(b.id))
      await tx
        .update(packs)
        .set(row)
        .where(eq(packs.id, Number(b.id)));
    else await tx.insert(packs).values(row);
  }
}

/** What of an item points to buyers: they are not removed while it does. */
const BOUND: Fields = { order: ITEM.fields['order']! };
export const keepItemLinks = (tx: Tx, id: number, order: Item['order'] | null): Promise<void> =>
  keepLinks(tx, { kind: 'items', id }, BOUND, { order });

async function write(tx: Tx, id: number | null, sent: ItemBody, version: number): Promise<number> {
  const body = pruned(ITEM.fields, sent);
  const row = {
    ...itemColumns(asCore(body, '')),
    version,
    supplierCode: body.supplierCode,
    retiredFrom: body.retiredFrom,
  };
  const [kept] =
    id === null
      ? await tx.insert(items).values(row).returning({ id: items.id })
      : await tx.update(items).set(row).where(eq(items.id, id)).returning({ id: items.id });
  await writePacks(tx, kept!.id, body.packs);
  await keepItemLinks(tx, kept!.id, body.order);
  return kept!.id;
}

/** Items are made and changed like any other record; they are read through pages of their own, and never removed. */
export const itemRegister: Register<ItemBody> = {
  name: ITEM.name,
  title: 'The item',
  body: schemaOf(ITEM.fields),
  readRight: ITEM.readRight,
  changeRight: ITEM.changeRight,
  read: readItemBodies,
  check,
  write,
};
