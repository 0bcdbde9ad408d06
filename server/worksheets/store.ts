import { and, asc, desc, eq, inArray, ne, sql } from 'drizzle-orm';
import type { Worksheet } from '#contract/worksheets.ts';
import { minorUnits } from '#core/numbers/currency.ts';
import { entryOf, revisionOf } from '../ledger/audit.ts';
import { bills, costSheets } from '../costs/tables.ts';
import { priceLists } from '../lists/tables.ts';
import { people } from '../people/tables.ts';
import type { Db, Queries, Tx } from '../platform/database.ts';
import { waitingRequests } from '../second-person/ask.ts';
import { COMPUTING_LOCK, isReversal, worksheetLists, worksheets } from './tables.ts';

/** The latest worksheets first. */
const MOST = 100;

export async function readWorksheets(db: Queries, only?: number): Promise<Worksheet[]> {
  const heads = await db
    .select({ worksheet: worksheets, by: people.name, fileName: costSheets.fileName, billNumber: bills.number })
    .from(worksheets)
    .innerJoin(people, eq(people.id, worksheets.madeBy))
    .leftJoin(costSheets, eq(costSheets.id, worksheets.costSheetId))
    .leftJoin(bills, eq(bills.id, worksheets.billId))
    .where(only === undefined ? undefined : eq(worksheets.id, only))
    .orderBy(desc(worksheets.id))
    .limit(MOST);
  const lists = await db
    .select({
      of: worksheetLists,
      name: priceLists.name,
      currency: priceLists.currency,
      decimals: priceLists.decimals,
    })
    .from(worksheetLists)
    .innerJoin(priceLists, eq(priceLists.id, worksheetLists.listId))
    .where(only === undefined ? undefined : eq(worksheetLists.worksheetId, only))
    .orderBy(asc(priceLists.rank), asc(priceLists.id));
  const made = await standingPostings(
    db,
    heads.map((h) => h.worksheet.id),
  );
  const asked = await waitingRequests(
    db,
    heads.map((h) => h.worksheet.id),
  );
  const revision = await revisionOf(db);
  const outdated = new Set<number>();
  for (const { worksheet: w } of heads)
    if (w.state === 'draft' && w.revision !== revision && !(await onlyOwnPostings(db, w))) outdated.add(w.id);
  return heads.map(({ worksheet: w, by, fileName, billNumber }) => ({
    id: String(w.id),
    reason: w.reason,
    day: w.day,
    state: w.state,
    total: w.total,
    done: w.done,
    trouble: w.trouble,
    madeBy: by,
    madeAt: w.madeAt.toISOString(),
    endedAt: w.endedAt?.toISOString() ?? null,
    outdated: outdated.has(w.id),
    costSheet: fileName === null ? null : { id: String(w.costSheetId), fileName },
    bill: billNumber === null ? null : { id: String(w.billId), number: billNumber },
    byItself: w.byItself,
    request: asked.get(w.id) ?? null,
    underWay: w.order && {
      postings: isReversal(w.order) ? w.order.postings : w.order.lists.length,
      written: w.order.written ?? 0,
    },
    lists: lists
      .filter(({ of }) => of.worksheetId === w.id)
      .map(
        ({
          of: { worksheetId: _, listId, explained: __, madeFrom: ___, computed: ____, ...counts },
          name,
          currency,
          decimals,
        }) => ({
          list: String(listId),
          name,
          currency,
          decimals: decimals ?? minorUnits(currency),
          postings: made
            .filter((m) => m.worksheet === w.id && m.list === listId)
            .map((m) => ({ id: String(m.id), stands: m.stands })),
          ...counts,
        }),
      ),
  }));
}

/** The postings of worksheets, each with whether it stands: any of its prices has not been put back. */
export async function standingPostings(
  db: Queries,
  of: readonly number[],
): Promise<{ id: number; list: number; worksheet: number; stands: boolean }[]> {
  if (of.length === 0) return [];
  const { rows } = await db.execute<{ id: number; list: number; worksheet: number; stands: boolean }>(sql`
    select h.id, h.list_id as list, h.worksheet_id as worksheet,
      not exists (select 1 from postings r where r.reverses_id = h.id)
        or (select count(*) from posting_lines l where l.posting_id = h.id)
          > (select count(*) from postings r join posting_lines b on b.posting_id = r.id and b.effective = r.effective
              where r.reverses_id = h.id) as stands
    from postings h where h.kind = 'post' and h.worksheet_id in ${of} order by h.id`);
  return rows;
}

/** Whether nothing but this worksheet's own postings has changed what prices are made from. */
export async function onlyOwnPostings(
  db: Queries,
  head: Pick<typeof worksheets.$inferSelect, 'id' | 'revision'>,
): Promise<boolean> {
  const { rows } = await db.execute<{ others: boolean }>(sql`
    select exists (select 1 from layers where name <> 'posted' and revision > ${entryOf(head.revision!)})
      or exists (select 1 from audit_entries a where a.id > ${entryOf(head.revision!)} and a.subject = 'postings'
        and not exists (select 1 from postings h where h.id = a.subject_id::int and h.worksheet_id = ${head.id} and h.kind = 'post')) as others`);
  return !rows[0]!.others;
}

/** Lists that prices can be proposed for: active, with a recipe. */
export async function proposableLists(db: Queries): Promise<{ id: number; name: string }[]> {
  return db
    .select({ id: priceLists.id, name: priceLists.name })
    .from(priceLists)
    .where(and(eq(priceLists.active, true), ne(sql`coalesce(${priceLists.recipe}, 0)`, 0)))
    .orderBy(asc(priceLists.id));
}

/** Whether no process computes a worksheet; none begins to before the transaction ends. */
export async function nobodyComputes(tx: Tx, worksheet: number): Promise<boolean> {
  const { rows } = await tx.execute<{ free: boolean }>(
    sql`select pg_try_advisory_xact_lock(${COMPUTING_LOCK}, ${worksheet}) as free`,
  );
  return rows[0]!.free;
}

/** Worksheets that are not computed or posted to their end, and by nobody now: their server is gone. */
export async function leftWorksheets(db: Db): Promise<{ id: number; state: string }[]> {
  const unfinished = await db
    .select({ id: worksheets.id, state: worksheets.state })
    .from(worksheets)
    .where(inArray(worksheets.state, ['waiting', 'computing', 'posting', 'reversing']))
    .orderBy(asc(worksheets.id));
  const left: { id: number; state: string }[] = [];
  for (const one of unfinished) if (await db.transaction((tx) => nobodyComputes(tx, one.id))) left.push(one);
  return left;
}
