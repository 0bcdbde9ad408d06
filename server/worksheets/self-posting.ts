import { and, asc, eq, inArray, sql } from 'drizzle-orm';
import type { SelfPosted, SelfPostingBody } from '#contract/worksheets.ts';
import { type WouldBePosted, runKeptProofs } from '../findings/proofs.ts';
import { audit } from '../ledger/audit.ts';
import { priceLists } from '../lists/tables.ts';
import type { Context } from '../platform/context.ts';
import { type Db, type Queries, type Tx, inTransaction } from '../platform/database.ts';
import { Refused, refused } from '../platform/refused.ts';
import { recordId } from '../setup/one-record.ts';
import { suppliers } from '../setup/tables.ts';
import { today } from '../workspace/asked-day.ts';
import { listsOf, refuseUnfit, requestedLists, wouldBePosted } from './post-worksheet.ts';
import { proposableLists } from './store.ts';
import { selfPostings, worksheetPrices, worksheets } from './tables.ts';
import { bills, costSheets } from '../costs/tables.ts';
import { type CameWith, writeWorksheet } from './write-worksheet.ts';
import { FLAGS } from '#core/bulk/price-rows.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

/** Says which lists post themselves after costs of a supplier; those that are not named do no longer. */
export async function setSelfPosting(
  { db, now }: Pick<Context, 'db' | 'now'>,
  person: SignedIn,
  supplier: number,
  { lists }: SelfPostingBody,
): Promise<void> {
  await inTransaction(db, async (tx) => {
    const [named] = await tx
      .select({ name: suppliers.name })
      .from(suppliers)
      .where(eq(suppliers.id, supplier))
      .for('no key update');
    if (!named) throw refused('not_found', { what: 'The supplier', id: String(supplier) });
    const possible = await proposableLists(tx);
    const asked = lists.map(({ list, most }) => ({ id: recordId('The price list', list), most }));
    const missing = asked.find(({ id }) => !possible.some((l) => l.id === id));
    if (missing) throw refused('not_found', { what: 'An active list with a recipe,', id: String(missing.id) });
    const before = await tx.select().from(selfPostings).where(eq(selfPostings.supplierId, supplier));
    await tx.delete(selfPostings).where(eq(selfPostings.supplierId, supplier));
    const said = { supplierId: supplier, saidBy: person.id, saidAt: now() };
    if (asked.length > 0)
      await tx.insert(selfPostings).values(asked.map(({ id, most }) => ({ ...said, listId: id, most })));
    await audit(tx, {
      at: now(),
      personId: person.id,
      action: 'said which prices post themselves after costs of',
      subject: 'connections',
      subjectId: String(supplier),
      before: { supplier: named.name, lists: before.map((b) => ({ list: String(b.listId), most: b.most })) },
      after: { supplier: named.name, lists },
    });
  });
}

export interface Followed {
  readonly at: Date;
  readonly person: number;
  readonly supplier: number;
  readonly cameWith: CameWith;
  /** What the costs came with, in words. */
  readonly of: string;
  /** The days from which they count. */
  readonly from: readonly string[];
  readonly today: string;
}

/**
 * After costs of a supplier were taken in: where lists are to follow by themselves, writes down the worksheet that does, for
 * the day on which the last of the costs counts. Its computation is queued by whoever keeps it.
 */
export async function followByItself(tx: Tx, of: Followed): Promise<number | null> {
  if (of.from.length === 0) return null;
  const said = await tx
    .select({ list: selfPostings.listId, most: selfPostings.most })
    .from(selfPostings)
    .where(eq(selfPostings.supplierId, of.supplier))
    .orderBy(asc(selfPostings.listId));
  const possible = new Set((await proposableLists(tx)).map((l) => l.id));
  const lists = said.filter((s) => possible.has(s.list));
  if (lists.length === 0) return null;
  return writeWorksheet(tx, {
    at: of.at,
    person: of.person,
    reason: `By itself, after the costs of ${of.of}`,
    day: of.from.reduce((last, d) => (d > last ? d : last), of.today),
    lists: lists.map((l) => l.list),
    cameWith: of.cameWith,
    byItself: { decided: false, lists: lists.map((l) => ({ list: String(l.list), most: l.most, left: null })) },
  });
}

/**
 * Looks at a worksheet that was computed to post itself, list by list: those whose prices stay within what was said, and
 * with which every proof holds, are ordered to be posted, in the name of who said so; of the others it is written down why
 * they wait for a person.
 * Returns whether anything was ordered. Does nothing where it was decided before.
 */
export async function decideByItself(context: Pick<Context, 'db' | 'now'>, id: number): Promise<boolean> {
  const [head] = await context.db.select().from(worksheets).where(eq(worksheets.id, id));
  if (head?.state !== 'draft' || !head.byItself || head.byItself.decided) return false;
  const now = await today(context);
  const said = await stillSaid(context.db, head);
  const decided = await decide(context.db, head, said, now);
  const changed = new Set(await changedLists(context.db, head.id));
  return inTransaction(context.db, async (tx) => {
    const [still] = await tx.select().from(worksheets).where(eq(worksheets.id, id)).for('no key update');
    if (still?.state !== 'draft' || still.byItself?.decided !== false) return false;
    const going = decided.filter((l) => l.left === null && changed.has(l.list)).map((l) => l.list);
    const order = {
      reason: head.reason,
      lists: going,
      share: 'changed' as const,
      lastDay: null,
      asComputed: false,
      // who took the costs in need not be one who may post
      person: said.get(going[0] ?? '')?.by ?? head.madeBy,
    };
    await tx
      .update(worksheets)
      .set({
        byItself: { decided: true, lists: decided },
        ...(going.length > 0 ? { state: 'posting' as const, order, trouble: null } : {}),
      })
      .where(eq(worksheets.id, id));
    return going.length > 0;
  });
}

type Head = typeof worksheets.$inferSelect;
type Decided = SelfPosted['lists'];

/** Lists that are still to post themselves, and who said so: it may have been taken back since. */
async function stillSaid(db: Queries, head: Head): Promise<ReadonlyMap<string, { by: number }>> {
  const supplier =
    head.billId === null
      ? db.select({ id: costSheets.supplierId }).from(costSheets).where(eq(costSheets.id, head.costSheetId!))
      : db.select({ id: bills.supplierId }).from(bills).where(eq(bills.id, head.billId));
  const rows = await db
    .select({ list: selfPostings.listId, by: selfPostings.saidBy })
    .from(selfPostings)
    .where(inArray(selfPostings.supplierId, supplier));
  return new Map(rows.map(({ list, by }) => [String(list), { by }]));
}

/** Lists of a worksheet on which any price changes. */
async function changedLists(db: Queries, worksheet: number): Promise<string[]> {
  const p = worksheetPrices;
  const rows = await db
    .selectDistinct({ list: p.listId })
    .from(p)
    .where(and(eq(p.worksheetId, worksheet), sql`${p.after} is distinct from ${p.before}`));
  return rows.map((r) => String(r.list));
}

async function decide(db: Db, head: Head, said: ReadonlyMap<string, unknown>, now: string): Promise<Decided> {
  const lists = head.byItself!.lists;
  const order = await listsOf(db, head.id);
  const why = new Map<string, string | null>();
  // those that others are made from come first
  for (const { list, madeFrom } of order) {
    const own = lists.find((l) => l.list === list)!;
    const parent = madeFrom.find((p) => why.get(p));
    if (!said.has(list)) why.set(list, 'it is no longer to post itself');
    else if (parent) why.set(list, `it is made from ${nameOf(order, parent)}, which waits`);
    else why.set(list, await whyLeft(db, head, own));
  }
  const left = (): Decided => lists.map((l) => ({ ...l, left: why.get(l.list) ?? null }));
  const going = () => order.filter((l) => why.get(l.list) === null).map((l) => l.list);
  const leaveRest = (reason: string) => going().forEach((list) => why.set(list, reason));
  if (going().length === 0) return left();
  const unproven = await whyUnproven(db, head, going());
  if (unproven) {
    leaveRest(unproven);
    return left();
  }
  try {
    await refuseUnfit(
      db,
      head,
      { reason: '', lists: going(), share: 'changed', lastDay: null, asComputed: false },
      now,
    );
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    leaveRest(error.message);
  }
  return left();
}

const nameOf = (lists: readonly { list: string; name: string }[], id: string) =>
  lists.find((l) => l.list === id)?.name ?? id;

/** What a person has to look at in the prices proposed for a list; null: nothing. */
async function whyLeft(db: Queries, head: Head, { list, most }: Decided[number]): Promise<string | null> {
  const p = worksheetPrices;
  const count = (of: ReturnType<typeof sql>) => sql<number>`count(*) filter (where ${of})::int`;
  const asked = await requestedLists(db, head.id, { lists: [list], share: 'changed' });
  const [n] = await db
    .select({
      held: count(sql`${p.flag} = ${FLAGS.indexOf('floor_above_ceiling')}`),
      gone: count(sql`${p.after} is null`),
      first: count(sql`${p.before} is null and ${p.after} is not null`),
      ending: count(sql`${p.after} is distinct from ${p.before} and exists (
        select 1 from posting_lines l where l.list_id = ${p.listId} and l.item_id = ${p.itemId} and l.pack_id = ${p.packId}
          and l.effective <= ${head.day} and l.last_day >= ${head.day})`),
      far: count(sql`abs(${p.after} - ${p.before}) * 100 > ${most}::numeric * ${p.before}`),
    })
    .from(p)
    .where(and(eq(p.worksheetId, head.id), eq(p.listId, Number(list))));
  const some = (k: number, one: string, many: string) => (k === 1 ? `one ${one}` : `${k} ${many}`);
  if (n!.held > 0) return `${some(n!.held, 'price has', 'prices have')} a floor above a ceiling`;
  if (n!.gone > 0) return `${some(n!.gone, 'price', 'prices')} could not be computed`;
  if (n!.first > 0) return `${some(n!.first, 'price', 'prices')} would be posted for the first time`;
  if (n!.ending > 0) return `${some(n!.ending, 'price is', 'prices are')} posted only until a day`;
  if (asked?.some((l) => l.beyond !== null)) return 'a second person has to agree to posting it';
  if (n!.far > 0) return `${some(n!.far, 'price', 'prices')} would move by more than ${most} %`;
  return null;
}

/** Which proof does not hold as it is, or would not with the proposed prices of some lists in force; null: all do. */
async function whyUnproven(db: Db, head: Head, lists: readonly string[]): Promise<string | null> {
  const failing = async (prices: readonly WouldBePosted[]) =>
    (await runKeptProofs(db, prices)).filter((proof) => !proof.holds).map((proof) => proof.name);
  const asItIs = await failing([]);
  if (asItIs.length > 0)
    return asItIs.length === 1
      ? `the proof “${asItIs[0]}” fails`
      : `${asItIs.length} proofs fail, such as “${asItIs[0]}”`;
  const prices: WouldBePosted[] = [];
  for (const list of lists)
    for (const row of await wouldBePosted(db, head.id, Number(list)))
      prices.push({ list, item: String(row.item), pack: String(row.pack), price: row.after, from: head.day });
  const then = await failing(prices);
  if (then.length === 0) return null;
  return then.length === 1
    ? `with it the proof “${then[0]}” would fail`
    : `with it ${then.length} proofs would fail, such as “${then[0]}”`;
}

/** For the inbox: by supplier, the lists that post themselves. */
export async function selfPostingsOf(db: Queries) {
  return db
    .select({
      supplier: selfPostings.supplierId,
      list: selfPostings.listId,
      name: priceLists.name,
      most: selfPostings.most,
    })
    .from(selfPostings)
    .innerJoin(priceLists, eq(priceLists.id, selfPostings.listId))
    .orderBy(asc(priceLists.rank), asc(priceLists.id));
}

/** Drafts that are to post themselves and were not looked at: their server is gone. */
export const undecided = async (db: Queries): Promise<number[]> =>
  (
    await db
      .select({ id: worksheets.id })
      .from(worksheets)
      .where(and(inArray(worksheets.state, ['draft']), sql`${worksheets.byItself} ->> 'decided' = 'false'`))
  ).map((w) => w.id);
