import { type SQL, desc, eq, inArray, sql } from 'drizzle-orm';
import type { PgTable } from 'drizzle-orm/pg-core';
import type { ItemFileTaken } from '#contract/item-file.ts';
import { costs } from '../costs/tables.ts';
import { audit, holdState, revisionText, revisionsOf } from '../ledger/audit.ts';
import { postingLines } from '../ledger/tables.ts';
import { people } from '../people/tables.ts';
import type { Context } from '../platform/context.ts';
import { type Queries, type Tx, inTransaction } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { quoteLines } from '../quotes/tables.ts';
import { refuseWhileLinked } from '../records/links.ts';
import { itemColumns, packColumns } from './columns.ts';
import { asCore, refuseWhileNamed } from './register.ts';
import { type ItemFileOutcome, itemFiles, items, packs } from './tables.ts';
import type { CheckedItemFile } from './checked-file.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

const CHUNK = 2_000;
type Row = Record<string, unknown>;

const snake = (key: string) => key.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`);
const asJson = (rows: readonly Row[]) =>
  JSON.stringify(rows.map((r) => Object.fromEntries(Object.entries(r).map(([k, v]) => [snake(k), v]))));
const listed = (names: readonly string[], of: (name: string) => SQL) => sql.join(names.map(of), sql`, `);

/** Writes rows over those with the same id, a few thousand at a time: a statement for each of 100,000 would take minutes. */
async function overwrite(tx: Tx, table: PgTable, rows: readonly Row[]): Promise<void> {
  const [first] = rows;
  if (!first) return;
  const set = Object.keys(first).filter((k) => k !== 'id');
  for (let i = 0; i < rows.length; i += CHUNK)
    await tx.execute(sql`
      update ${table} t set ${listed(set, (k) => sql`${sql.identifier(snake(k))} = r.${sql.identifier(snake(k))}`)}
      from jsonb_populate_recordset(null::${table}, ${asJson(rows.slice(i, i + CHUNK))}::jsonb) r where t.id = r.id`);
}

/** The columns of an item that a file may set. */
const rowOf = (body: CheckedItemFile['writes'][number]['body']) => ({
  ...itemColumns(asCore(body, '')),
  supplierCode: body.supplierCode,
  retiredFrom: body.retiredFrom,
});
const packRow = (item: number, p: CheckedItemFile['writes'][number]['body']['packs'][number]) => ({
  ...packColumns(item, p),
  barcode: p.barcode,
});

/** Takes in what a file changes, as it was seen: refused where the books are no longer as they were then. */
export async function takeItemFile(
  context: Context,
  person: SignedIn,
  { fileName, content, state }: { readonly fileName: string; readonly content: Buffer; readonly state: string },
  found: CheckedItemFile,
): Promise<ItemFileTaken> {
  return inTransaction(context.db, async (tx) => {
    await holdState(tx);
    const now = revisionText({ ...(await revisionsOf(tx)), posted: 0 });
    if (state !== found.state || now !== state) throw refused('item_file_state', {});
    for (const { body, before } of found.writes)
      if (before && body.retiredFrom !== null && before.retiredFrom === null) {
        await refuseWhileLinked(tx, `Item ${body.sku}`, 'items', Number(before.id));
        await refuseWhileNamed(tx, body.sku, Number(before.id));
      }
    const changed = found.writes.filter((w) => w.before !== null);
    const fresh = found.writes.filter((w) => w.before === null);
    const outcome: ItemFileOutcome = { added: [], changed: [], packs: [] };
    const ids = changed.map((w) => Number(w.before!.id));
    const was = new Map<number, typeof items.$inferSelect>();
    for (let i = 0; i < ids.length; i += CHUNK)
      for (const r of await tx
        .select()
        .from(items)
        .where(inArray(items.id, ids.slice(i, i + CHUNK))))
        was.set(r.id, r);
    await overwrite(
      tx,
      items,
      changed.map((w) => ({ id: Number(w.before!.id), version: w.before!.version + 1, ...rowOf(w.body) })),
    );
    outcome.changed = ids.map((id) => was.get(id)!);
    for (let i = 0; i < fresh.length; i += CHUNK) {
      const made = await tx
        .insert(items)
        .values(fresh.slice(i, i + CHUNK).map((w) => rowOf(w.body)))
        .returning({ id: items.id, sku: items.sku });
      outcome.added.push(...made.map((m) => m.id));
    }
    await writePacksOf(tx, found.writes, outcome);
    const at = context.now();
    const counts = { new: fresh.length, changed: changed.length };
    const [file] = await tx
      .insert(itemFiles)
      .values({ fileName, content, takenAt: at, takenBy: person.id, outcome, ...namedCounts(counts) })
      .returning({ id: itemFiles.id });
    await audit(tx, {
      at,
      personId: person.id,
      action: 'took in a file of items',
      subject: 'items',
      subjectId: `${counts.new + counts.changed} items`,
      before: null,
      after: {
        file: fileName,
        ...counts,
        rows: found.rows.map((r) => [r.sku, ...r.changes.map((c) => [c.column, c.before, c.after])]),
      },
    });
    return {
      id: String(file!.id),
      fileName,
      takenAt: at.toISOString(),
      takenBy: person.name,
      ...counts,
      takenBack: false,
    };
  });
}

const namedCounts = (c: { new: number; changed: number }) => ({ newCount: c.new, changedCount: c.changed });

async function writePacksOf(tx: Tx, writes: CheckedItemFile['writes'], outcome: ItemFileOutcome): Promise<void> {
  const skus = writes.filter((w) => w.before === null).map((w) => w.body.sku);
  const idOf = new Map<string, number>();
  for (let i = 0; i < skus.length; i += CHUNK)
    for (const r of await tx
      .select({ id: items.id, sku: items.sku })
      .from(items)
      .where(inArray(items.sku, skus.slice(i, i + CHUNK))))
      idOf.set(r.sku, r.id);
  const over: Row[] = [];
  const fresh: (typeof packs.$inferInsert)[] = [];
  for (const { body, before } of writes) {
    const item = before ? Number(before.id) : idOf.get(body.sku)!;
    const known = new Map((before?.packs ?? []).map((p) => [p.id, p]));
    for (const p of body.packs) {
      const old = known.get(p.id);
      if (!old) fresh.push(packRow(item, p));
      else if (JSON.stringify(old) !== JSON.stringify(p)) {
        over.push({ id: Number(p.id), ...packRow(item, p) });
        outcome.packs.push({ id: Number(old.id), ...packRow(item, old) });
      }
    }
  }
  // a barcode that goes from one pack to another is free before it is given
  const freed = over.filter((p) => p['barcode'] !== null).map((p) => Number(p['id']));
  for (let i = 0; i < freed.length; i += CHUNK)
    await tx
      .update(packs)
      .set({ barcode: null })
      .where(inArray(packs.id, freed.slice(i, i + CHUNK)));
  await overwrite(tx, packs, over);
  for (let i = 0; i < fresh.length; i += CHUNK) {
    const made = await tx
      .insert(packs)
      .values(fresh.slice(i, i + CHUNK))
      .returning({ id: packs.id });
    outcome.addedPacks = [...(outcome.addedPacks ?? []), ...made.map((m) => m.id)];
  }
}

export async function listItemFiles(db: Queries): Promise<ItemFileTaken[]> {
  const rows = await db
    .select({
      id: itemFiles.id,
      fileName: itemFiles.fileName,
      takenAt: itemFiles.takenAt,
      takenBy: people.name,
      new: itemFiles.newCount,
      changed: itemFiles.changedCount,
      takenBack: itemFiles.takenBack,
    })
    .from(itemFiles)
    .innerJoin(people, eq(people.id, itemFiles.takenBy))
    .orderBy(desc(itemFiles.id))
    .limit(50);
  return rows.map((r) => ({ ...r, id: String(r.id), takenAt: r.takenAt.toISOString() }));
}

/**
 * Takes a file back: what it changed is as it was before, what it made is gone. Refused as a whole where an item was changed
 * since, or where what it made is in use.
 */
export async function takeBackItemFile(context: Context, person: SignedIn, id: number): Promise<{ items: number }> {
  return inTransaction(context.db, async (tx) => {
    await holdState(tx);
    const [file] = await tx.select().from(itemFiles).where(eq(itemFiles.id, id)).for('update');
    if (!file) throw refused('not_found', { what: 'The file', id: String(id) });
    if (file.takenBack)
      throw refused('not_found', { what: 'The file', id: `${file.fileName}, which is taken back already,` });
    const { added, changed, packs: packsBefore, addedPacks = [] } = file.outcome;
    await refuseChangedSince(tx, changed);
    await refuseUsed(tx, added, addedPacks);
    await drop(tx, packs, addedPacks);
    await drop(tx, items, added);
    const freed = packsBefore.map((p) => Number(p['id']));
    for (let i = 0; i < freed.length; i += CHUNK)
      await tx
        .update(packs)
        .set({ barcode: null })
        .where(inArray(packs.id, freed.slice(i, i + CHUNK)));
    await overwrite(tx, packs, packsBefore);
    await overwrite(
      tx,
      items,
      changed.map((i) => ({ ...i, version: Number(i['version']) + 2 })),
    );
    await tx.update(itemFiles).set({ takenBack: true }).where(eq(itemFiles.id, id));
    const count = added.length + changed.length;
    await audit(tx, {
      at: context.now(),
      personId: person.id,
      action: 'took back a file of items',
      subject: 'items',
      subjectId: `${count} items`,
      after: { file: file.fileName, new: added.length, changed: changed.length },
    });
    return { items: count };
  });
}

async function drop(tx: Tx, table: typeof items | typeof packs, ids: readonly number[]): Promise<void> {
  for (let i = 0; i < ids.length; i += CHUNK) await tx.delete(table).where(inArray(table.id, ids.slice(i, i + CHUNK)));
}

async function refuseChangedSince(tx: Tx, changed: readonly Row[]): Promise<void> {
  const wrote = new Map(changed.map((i) => [Number(i['id']), Number(i['version']) + 1]));
  const ids = [...wrote.keys()];
  for (let i = 0; i < ids.length; i += CHUNK)
    for (const r of await tx
      .select({ id: items.id, version: items.version, sku: items.sku })
      .from(items)
      .where(inArray(items.id, ids.slice(i, i + CHUNK))))
      if (r.version !== wrote.get(r.id)) throw refused('item_file_outdated', { item: r.sku });
}

async function refuseUsed(tx: Tx, added: readonly number[], addedPacks: readonly number[]): Promise<void> {
  const say = async (item: number, by: string) => {
    const [row] = await tx.select({ sku: items.sku }).from(items).where(eq(items.id, item));
    throw refused('in_use', { what: `Item ${row?.sku ?? item}`, by });
  };
  for (let i = 0; i < added.length; i += CHUNK) {
    const some = added.slice(i, i + CHUNK);
    const [cost] = await tx.select({ item: costs.itemId }).from(costs).where(inArray(costs.itemId, some)).limit(1);
    if (cost) await say(cost.item, 'costs');
    for (const item of some) await refuseWhileLinked(tx, 'An item of the file', 'items', item);
  }
  for (let i = 0; i < addedPacks.length; i += CHUNK) {
    const some = addedPacks.slice(i, i + CHUNK);
    const [posted] = await tx
      .select({ item: postingLines.itemId })
      .from(postingLines)
      .where(inArray(postingLines.packId, some))
      .limit(1);
    if (posted) await say(posted.item, 'posted prices');
    const [quoted] = await tx
      .select({ pack: quoteLines.packId, item: packs.itemId })
      .from(quoteLines)
      .innerJoin(packs, eq(packs.id, quoteLines.packId))
      .where(inArray(quoteLines.packId, some))
      .limit(1);
    if (quoted) await say(quoted.item, 'quotes');
  }
}
