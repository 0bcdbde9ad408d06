import { eq, sql } from 'drizzle-orm';
import type { PgTable } from 'drizzle-orm/pg-core';
import { KINDS } from '#contract/records/kinds.ts';
import { MORE, type WithMore } from '#contract/records/more.ts';
import { pruned } from '#contract/records/schema.ts';
import { renumbered } from '#contract/workspace-file/renumber.ts';
import { lastDayOf } from '#core/lists/posted-price.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import { costs } from '../costs/tables.ts';
import { itemColumns, packColumns } from '../items/columns.ts';
import { keepItemLinks } from '../items/register.ts';
import { items, packs } from '../items/tables.ts';
import { postingLines, postings } from '../ledger/tables.ts';
import { priceListGroups, priceLists } from '../lists/tables.ts';
import { people } from '../people/tables.ts';
import type { Tx } from '../platform/database.ts';
import { breakRows, breakTables, floors } from '../quotes/tables.ts';
import { toBody, writeRecipe } from '../recipes/store.ts';
import { recipes } from '../recipes/tables.ts';
import { keepLinks } from '../records/links.ts';
import { records } from '../records/tables.ts';
import { writeLadder } from '../rounding/store.ts';
import { ladders } from '../rounding/tables.ts';
import { categories, customerGroups, customers, exchangeRates, suppliers, taxRates } from '../setup/tables.ts';

type Row = Readonly<Record<string, unknown>>;
const number = (id: string) => Number(id);
const orNull = (id: string | null | undefined) => (id === null || id === undefined ? null : Number(id));
const BATCH = 1000;

/** Rows with numbers of their own, a batch at a time. */
async function put<T extends PgTable>(
  tx: Tx,
  table: T,
  rows: readonly (T['$inferInsert'] & { id?: number })[],
): Promise<void> {
  for (let at = 0; at < rows.length; at += BATCH)
    await tx
      .insert(table)
      .overridingSystemValue()
      .values(rows.slice(at, at + BATCH) as never);
}

/** What of a record has no column: as it is declared. */
const moreOf = (name: WithMore, row: object): Record<string, unknown> =>
  Object.fromEntries(
    Object.entries(pruned(MORE[name].fields, row as Row)).filter(([k, v]) => k in MORE[name].fields && v !== undefined),
  );

/** Writes a whole workspace into a database that holds none; everything is entered by one person at one moment. */
export async function writeWorkspaceRows(tx: Tx, sent: Workspace, personId: number, at: Date): Promise<void> {
  const ws = renumbered(sent);
  await writeCatalogue(tx, ws);
  await writeBuyers(tx, ws);
  await writeDeclared(tx, ws);
  await writeItems(tx, ws, personId, at);
  await writePrices(tx, ws);
  await writeQuoteRules(tx, ws);
  await writePosted(tx, ws, personId, at);
  for (const table of [
    ...['categories', 'suppliers', 'customer_groups', 'customers', 'records', 'items', 'packs', 'costs', 'ladders'],
    ...['recipes', 'price_lists', 'break_tables', 'floors', 'postings', 'posting_lines'],
  ])
    // what is made later is numbered after what the file brought
    await tx.execute(
      sql`select max(nextval(pg_get_serial_sequence(${table}, 'id'))) from generate_series(1, (select coalesce(max(id), 0) from ${sql.identifier(table)}))`,
    );
}

async function writeCatalogue(tx: Tx, ws: Workspace): Promise<void> {
  // a category may stand before the one it lies below
  await put(
    tx,
    categories,
    ws.categories.map((c) => ({ id: number(c.id), name: c.name })),
  );
  for (const c of ws.categories.filter((x) => x.parent !== null))
    await tx
      .update(categories)
      .set({ parentId: orNull(c.parent) })
      .where(eq(categories.id, number(c.id)));
  await put(
    tx,
    suppliers,
    ws.suppliers.map((s) => ({
      id: number(s.id),
      version: s.version,
      name: s.name,
      currency: s.currency,
      freightPer: s.landed.freight?.per ?? null,
      freightAmount: s.landed.freight?.amount.amount ?? null,
      freightCurrency: s.landed.freight?.amount.currency ?? null,
      dutyPercent: s.landed.dutyPercent ?? null,
      handlingAmount: s.landed.handling?.amount ?? null,
      handlingCurrency: s.landed.handling?.currency ?? null,
      overheadPercent: s.landed.overheadPercent ?? null,
      more: moreOf('suppliers', s.landed),
    })),
  );
  await put(
    tx,
    taxRates,
    ws.taxes.map((t) => ({
      taxClass: t.taxClass,
      percent: t.percent,
      validFrom: t.from,
      more: moreOf('tax-rates', t),
    })),
  );
  await put(
    tx,
    exchangeRates,
    ws.rates.map((r) => ({ fromCurrency: r.from, toCurrency: r.to, day: r.day, rate: r.rate })),
  );
}

async function writeBuyers(tx: Tx, ws: Workspace): Promise<void> {
  await put(
    tx,
    customerGroups,
    ws.groups.map((g) => ({ id: number(g.id), version: g.version, name: g.name, rank: g.rank })),
  );
  const bodies = ws.customers.map((c) => ({
    id: number(c.id),
    name: c.name,
    groupId: orNull(c.groups[0]),
    more: moreOf('customers', { ...c, otherGroups: c.groups.slice(1) }),
  }));
  await put(tx, customers, bodies);
  for (const c of bodies) await keepLinks(tx, { kind: 'customers', id: c.id }, MORE.customers.fields, c.more);
}

async function writeDeclared(tx: Tx, ws: Workspace): Promise<void> {
  const rows = KINDS.flatMap(({ name }) =>
    name === 'entries'
      ? ws.lists.flatMap((l) => (l.entries ?? []).map((e) => ({ name, row: { ...e, list: l.id } as unknown as Row })))
      : (ws as unknown as Record<string, readonly Row[]>)[name]!.map((row) => ({ name, row })),
  );
  await put(
    tx,
    records,
    rows.map(({ name, row: { id, version, ...body } }) => ({
      id: Number(id),
      kind: name,
      version: (version as number | undefined) ?? 1,
      body,
    })),
  );
  for (const { name, row } of rows)
    await keepLinks(tx, { kind: name, id: Number(row['id']) }, KINDS.find((k) => k.name === name)!.fields, row);
}

async function writeItems(tx: Tx, ws: Workspace, personId: number, at: Date): Promise<void> {
  await put(
    tx,
    items,
    ws.items.map((i) => ({ id: number(i.id), ...itemColumns(i) })),
  );
  for (const i of ws.items) if (i.order?.for?.length) await keepItemLinks(tx, number(i.id), i.order.for);
  await put(
    tx,
    packs,
    ws.items.flatMap((i) => i.packs.map((p) => ({ id: number(p.id), ...packColumns(number(i.id), p) }))),
  );
  // of two costs for the same day the one entered later counts, and what is kept tells that by the higher number
  const numbers = ws.costs.map((c) => number(c.id)).sort((a, b) => a - b);
  await put(
    tx,
    costs,
    [...ws.costs]
      .sort((a, b) => a.entry - b.entry)
      .map((c, i) => ({
        id: numbers[i]!,
        itemId: number(c.item),
        supplierId: number(c.supplier),
        amount: c.cost.amount,
        reducedAmount: c.reduced?.amount ?? null,
        reducedCurrency: c.reduced && c.reduced.currency !== c.cost.currency ? c.reduced.currency : null,
        currency: c.cost.currency,
        quantityPrices: c.quantityPrices?.length ? c.quantityPrices : null,
        feeAmount: c.fee?.amount ?? null,
        feeOf: c.fee?.of ?? null,
        packUnits: c.packUnits,
        validFrom: c.from,
        validTo: c.to ?? null,
        origin: c.origin,
        released: c.released ?? false,
        enteredBy: personId,
        enteredAt: at,
      })),
  );
}

async function writePrices(tx: Tx, ws: Workspace): Promise<void> {
  for (const l of ws.ladders) {
    await put(tx, ladders, [{ id: number(l.id), name: l.name, currency: l.currency, byDefault: false, version: 1 }]);
    const rungs = l.rungs.map((r) => ({
      ...r,
      to: r.to ?? null,
      endings: [...r.endings],
      downUntil: r.downUntil ?? null,
      upFrom: r.upFrom ?? null,
      offset: r.offset ?? null,
    }));
    const body = { name: l.name, currency: l.currency, byDefault: l.byDefault ?? false, rungs };
    await writeLadder(tx, number(l.id), body, l.version);
  }
  await put(
    tx,
    priceLists,
    ws.lists.map((l) => ({
      id: number(l.id),
      version: l.version,
      name: l.name,
      currency: l.currency,
      taxIn: l.taxIn,
      decimals: l.decimals ?? null,
      advertised: l.advertised ?? false,
      active: l.active,
      validFrom: l.from ?? null,
      validTo: l.to ?? null,
      rank: l.rank,
      more: moreOf('lists', l),
    })),
  );
  await put(
    tx,
    priceListGroups,
    ws.lists.flatMap((l) => l.groups.map((g) => ({ listId: number(l.id), groupId: number(g) }))),
  );
  for (const r of ws.recipes) {
    await put(tx, recipes, [{ id: number(r.id), name: r.name, basisKind: r.basis.kind, version: 1, more: {} }]);
    await writeRecipe(tx, number(r.id), toBody(r), r.version);
  }
  for (const l of ws.lists) {
    if (l.recipe)
      await tx
        .update(priceLists)
        .set({ recipeId: number(l.recipe) })
        .where(eq(priceLists.id, number(l.id)));
    await keepLinks(tx, { kind: 'lists', id: number(l.id) }, MORE.lists.fields, moreOf('lists', l));
  }
}

async function writeQuoteRules(tx: Tx, ws: Workspace): Promise<void> {
  await put(
    tx,
    breakTables,
    ws.breaks.map((t) => ({
      id: number(t.id),
      version: t.version,
      name: t.name,
      listId: number(t.list),
      itemId: orNull(t.item),
      categoryId: orNull(t.category),
      way: t.way,
      count: t.count,
      more: moreOf('breaks', t),
    })),
  );
  await put(
    tx,
    breakRows,
    ws.breaks.flatMap((t) =>
      t.rows.map((r) => ({ tableId: number(t.id), fromQuantity: r.from, kind: r.kind, value: r.value })),
    ),
  );
  for (const t of ws.breaks)
    await keepLinks(tx, { kind: 'breaks', id: number(t.id) }, MORE.breaks.fields, moreOf('breaks', t));
  await put(
    tx,
    floors,
    ws.floors.map((f) => ({
      id: number(f.id),
      version: f.version,
      name: f.name,
      kind: f.kind,
      value: f.value,
      currency: f.currency ?? null,
      itemId: orNull(f.item),
      categoryId: orNull(f.category),
      brand: f.brand ?? null,
      groupId: orNull(f.group),
      outcome: f.outcome,
      active: f.active,
      more: moreOf('floors', f),
    })),
  );
}

/** Postings as they are in the file; who set a price by hand is known by name alone, as somebody who may not sign in. */
async function writePosted(tx: Tx, ws: Workspace, personId: number, at: Date): Promise<void> {
  const strangers = new Map<string, number>();
  for (const name of new Set([...ws.posted].flatMap((p) => p.handSet?.by ?? []))) {
    const signIn = `from a file: ${name.toLowerCase()}`;
    const [made] = await tx
      .insert(people)
      .values({ name, signIn, passwordHash: '', role: 'reader', active: false })
      .returning({ id: people.id });
    strangers.set(name, made!.id);
  }
  const heads = new Map<string, typeof postings.$inferInsert & { id: number }>();
  for (const p of ws.posted) {
    const known = heads.get(p.posting);
    heads.set(p.posting, {
      id: number(p.posting),
      listId: number(p.list),
      kind: 'post',
      reason: 'from a workspace file',
      effective: known && known.effective > p.from ? known.effective : p.from,
      postedBy: (p.handSet && strangers.get(p.handSet.by)) ?? known?.postedBy ?? personId,
      postedAt: at,
    });
  }
  await put(tx, postings, [...heads.values()]);
  await put(
    tx,
    postingLines,
    [...ws.posted].map((p) => ({
      id: p.entry,
      postingId: number(p.posting),
      listId: number(p.list),
      itemId: number(p.item),
      packId: number(p.pack),
      effective: p.from,
      after: p.price,
      handSetReason: p.handSet?.reason ?? null,
      lastDay: lastDayOf(p),
    })),
  );
}
