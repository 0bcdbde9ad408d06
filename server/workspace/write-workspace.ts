import { eq, sql } from 'drizzle-orm';
import type { PgTable } from 'drizzle-orm/pg-core';
import { KINDS } from '#contract/records/kinds.ts';
import { renumbered } from '#contract/workspace-file/renumber.ts';
import { lastDayOf } from '#core/lists/posted-price.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import { costs } from '../costs/tables.ts';
import { itemColumns, packColumns } from '../items/columns.ts';
import { keepItemLinks } from '../items/register.ts';
import { items, packs } from '../items/tables.ts';
import { postingLines, postings } from '../ledger/tables.ts';
import { priceLists } from '../lists/tables.ts';
import { people } from '../people/tables.ts';
import type { Tx } from '../platform/database.ts';
import { writeRecipe } from '../recipes/store.ts';
import { recipes } from '../recipes/tables.ts';
import { keepLinks } from '../records/links.ts';
import { records } from '../records/tables.ts';
import { writeLadder } from '../rounding/store.ts';
import { ladders } from '../rounding/tables.ts';
import type { ColumnTable } from '../setup/column-table.ts';
import { MEMBER_ROWS } from './member-rows.ts';

type Row = Readonly<Record<string, unknown>>;
const number = (id: string) => Number(id);
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

/** Writes a whole workspace into a database that holds none; everything is entered by one person at one moment. */
export async function writeWorkspaceRows(tx: Tx, sent: Workspace, personId: number, at: Date): Promise<void> {
  const ws = renumbered(sent);
  const { breaks, floors, lists, ...before } = MEMBER_ROWS;
  const load = async (of: Record<string, ColumnTable>, from: Workspace) => {
    for (const [member, rows] of Object.entries(of))
      await rows.load(tx, (from as unknown as Record<string, readonly object[]>)[member]!);
  };
  await load(before as Record<string, ColumnTable>, { ...ws, categories: fromTheTop(ws.categories) });
  await writeDeclared(tx, ws);
  await writeItems(tx, ws, personId, at);
  // a list has a recipe, and a recipe may start from a list
  await load({ lists } as unknown as Record<string, ColumnTable>, {
    ...ws,
    lists: ws.lists.map((l) => ({ ...l, recipe: null })),
  });
  await writePrices(tx, ws);
  await load({ breaks, floors } as unknown as Record<string, ColumnTable>, ws);
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

/** Every category after the one it lies below. */
function fromTheTop(categories: Workspace['categories']): Workspace['categories'] {
  const parents = new Map(categories.map((c) => [c.id, c.parent]));
  const depth = (id: string): number => {
    let steps = 0;
    for (let at = parents.get(id); at && steps < categories.length; at = parents.get(at)) steps++;
    return steps;
  };
  return [...categories].sort((a, b) => depth(a.id) - depth(b.id));
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
  for (const i of ws.items) if (i.order?.for?.length) await keepItemLinks(tx, number(i.id), i.order);
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
    await writeLadder(tx, number(l.id), l, l.version);
  }
  for (const r of ws.recipes) {
    await put(tx, recipes, [{ id: number(r.id), name: r.name, basisKind: r.basis.kind, version: 1, more: {} }]);
    await writeRecipe(tx, number(r.id), r, r.version);
  }
  for (const l of ws.lists)
    if (l.recipe)
      await tx
        .update(priceLists)
        .set({ recipe: number(l.recipe) })
        .where(eq(priceLists.id, number(l.id)));
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
