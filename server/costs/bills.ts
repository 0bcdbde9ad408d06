import { and, desc, eq, inArray, not, sql } from 'drizzle-orm';
import type { BillBody, BillSummary, BillView } from '#contract/bills.ts';
import type { CostChange, CostFlag } from '#contract/costs.ts';
import { billTotal } from '#core/costs/bill-total.ts';
import { dec, money } from '#core/numbers/decimal.ts';
import { minorUnits } from '#core/numbers/currency.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { items } from '../items/tables.ts';
import { audit } from '../ledger/audit.ts';
import { people } from '../people/tables.ts';
import type { Context } from '../platform/context.ts';
import { type Queries, type Tx, inTransaction } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { suppliers } from '../setup/tables.ts';
import { catalogueOf } from '../workspace/catalogue.ts';
import { rulesOn } from '../to-come/rules-on.ts';
import { PROPOSALS } from '../worksheets/proposals.ts';
import { followByItself } from '../worksheets/self-posting.ts';
import { CodeBook, compareRows } from './compare-sheet.ts';
import type { SheetRow } from './read-rows.ts';
import { bills, costs } from './tables.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

type Bill = typeof bills.$inferSelect;
/** The database, and what time it is. */
type Here = Pick<Context, 'db' | 'now'>;
type HereWithJobs = Pick<Context, 'db' | 'now' | 'jobs'>;

/** What makes a person look again before costs count. */
const WRONG: readonly CostFlag[] = [
  'decimal_shift',
  'piece_for_pack',
  'pack_for_piece',
  'large_move',
  'other_currency',
  'other_pack',
];

export async function listBills(db: Queries, only?: number): Promise<BillSummary[]> {
  const rows = await db
    .select({ bill: bills, supplierName: suppliers.name, writtenBy: people.name })
    .from(bills)
    .innerJoin(suppliers, eq(suppliers.id, bills.supplierId))
    .innerJoin(people, eq(people.id, bills.writtenBy))
    .where(only === undefined ? undefined : eq(bills.id, only))
    .orderBy(desc(bills.id))
    .limit(200);
  const finals = [...new Set(rows.flatMap((r) => r.bill.finalBy ?? []))];
  const names = new Map(
    finals.length === 0
      ? []
      : (await db.select({ id: people.id, name: people.name }).from(people).where(inArray(people.id, finals))).map(
          (p) => [p.id, p.name] as const,
        ),
  );
  return rows.map(({ bill: b, supplierName, writtenBy }) => ({
    id: String(b.id),
    version: b.version,
    supplier: String(b.supplierId),
    supplierName,
    number: b.number,
    day: b.day,
    currency: b.currency,
    state: b.state,
    total: money(billTotal(b.lines), minorUnits(b.currency)),
    lines: b.lines.length,
    writtenBy,
    finalBy: b.finalBy === null ? null : (names.get(b.finalBy) ?? null),
  }));
}

async function find(db: Queries, id: number): Promise<Bill> {
  const [bill] = await db.select().from(bills).where(eq(bills.id, id));
  if (!bill) throw refused('not_found', { what: 'The bill', id: String(id) });
  return bill;
}

/** Locks a bill and holds it to the version that was seen. */
async function locked(tx: Tx, id: number, version: number): Promise<Bill> {
  const [bill] = await tx.select().from(bills).where(eq(bills.id, id)).for('update');
  if (!bill) throw refused('not_found', { what: 'The bill', id: String(id) });
  if (bill.version !== version)
    throw refused(
      'changed_meanwhile',
      { what: 'The bill', by: 'someone else' },
      { current: { ...bodyOf(bill), version: bill.version } },
    );
  return bill;
}

async function draft(tx: Tx, id: number, version: number): Promise<Bill> {
  const bill = await locked(tx, id, version);
  if (bill.state !== 'draft') throw refused('bill_final', {});
  return bill;
}

const bodyOf = (b: Bill): BillBody => ({
  supplier: String(b.supplierId),
  number: b.number,
  day: b.day,
  currency: b.currency,
  note: b.note,
  fee: b.fee,
  lines: b.lines,
});

const columnsOf = (body: BillBody) => ({
  supplierId: Number(body.supplier),
  number: body.number,
  day: body.day,
  currency: body.currency,
  note: body.note ?? null,
  fee: body.fee ?? null,
  lines: body.lines,
});

/** What each line's cost would change; nothing is written. */
async function changesOf(db: Queries, bill: Bill): Promise<CostChange[]> {
  const lines = bill.lines.map((l, i) => ({ ...l, row: i + 1 })).filter((l) => l.kind !== 'return');
  const ids = [...new Set(lines.map((l) => Number(l.item)))];
  if (ids.length === 0) return [];
  const known = await db.select().from(items).where(inArray(items.id, ids));
  const skus = new Map(known.map((i) => [String(i.id), i.sku]));
  const rows = lines.map((l): SheetRow => ({
    row: l.row,
    code: skus.get(l.item) ?? l.item,
    barcode: null,
    cost: l.price,
    reduced: null,
    quantityPrices: [],
    currency: bill.currency,
    packUnits: l.packUnits,
    packSaid: true,
    validFrom: bill.day,
    validTo: null,
    name: '',
    unit: null,
    weightKg: null,
    rrp: null,
    map: null,
    listedTwice: false,
  }));
  const codes = new CodeBook(
    known.map((i) => ({ id: String(i.id), sku: i.sku, supplier: null, supplierCode: null })),
    String(bill.supplierId),
  );
  const theirs = await db
    .select()
    .from(costs)
    .where(and(inArray(costs.itemId, ids), not(costs.takenBack)))
    .orderBy(costs.id);
  // of the catalogue only the items of the bill
  const ws = new Prepared({
    ...(await rulesOn(db, bill.day)),
    ...catalogueOf({ items: known, packs: [], costs: theirs }),
  });
  const found = compareRows(ws, rows, codes, { supplier: String(bill.supplierId), today: bill.day, addNew: false });
  const perUnit = (c: CostChange) => dec(c.after.amount).div(c.after.packUnits);
  return found.map((c, i) => {
    const others = found.filter((o, n) => n !== i && o.item === c.item);
    const flags = c.flags.filter((f) => f !== 'held_by_typed');
    // a bill displaces a typed cost by its day
    return others.some((o) => !perUnit(o).eq(perUnit(c))) ? { ...c, flags: [...flags, 'other_line'] } : { ...c, flags };
  });
}

export async function viewBill(db: Queries, id: number): Promise<BillView> {
  const bill = await find(db, id);
  const [summary] = await listBills(db, id);
  return {
    ...summary!,
    note: bill.note,
    body: bodyOf(bill),
    changes: bill.outcome ?? (await changesOf(db, bill)),
  };
}

async function check(tx: Tx, body: BillBody): Promise<void> {
  const [supplier] = await tx
    .select({ id: suppliers.id })
    .from(suppliers)
    .where(eq(suppliers.id, Number(body.supplier)));
  if (!supplier) throw refused('fields_wrong', {}, { faults: [{ path: 'supplier', message: 'is no supplier' }] });
  const ids = [...new Set(body.lines.map((l) => Number(l.item)))];
  const known = new Set(
    (await tx.select({ id: items.id }).from(items).where(inArray(items.id, ids))).map((i) => String(i.id)),
  );
  const faults = body.lines.flatMap((l, i) =>
    known.has(l.item) ? [] : [{ path: `lines[${i}].item`, message: 'is no item' }],
  );
  if (faults.length > 0) throw refused('fields_wrong', {}, { faults });
}

/** Writes a bill down as a draft, or changes one. */
export async function writeBill(
  context: Here,
  person: SignedIn,
  body: BillBody,
  seen: { readonly id: number; readonly version: number } | null,
): Promise<number> {
  return inTransaction(context.db, async (tx) => {
    const before = seen && (await draft(tx, seen.id, seen.version));
    await check(tx, body);
    const at = context.now();
    const [row] = seen
      ? await tx
          .update(bills)
          .set({ ...columnsOf(body), version: seen.version + 1 })
          .where(eq(bills.id, seen.id))
          .returning({ id: bills.id })
      : await tx
          .insert(bills)
          .values({ ...columnsOf(body), writtenBy: person.id, writtenAt: at })
          .returning({ id: bills.id });
    await audit(tx, {
      at,
      personId: person.id,
      action: before ? 'changed' : 'wrote down',
      subject: 'bills',
      subjectId: String(row!.id),
      // a draft makes no price
      layers: [],
      before: before && bodyOf(before),
      after: body,
    });
    return row!.id;
  });
}

/**
 * The fee each cost bears a share of: what the bill asked besides, over all its goods. A corrected price keeps that of the
 * bill which brought the goods.
 */
async function feesOf(
  tx: Tx,
  bill: Bill,
  changes: readonly CostChange[],
): Promise<({ amount: string; of: string } | null)[]> {
  const goods = billTotal(bill.lines.filter((l) => l.kind === 'goods'));
  const own = bill.fee !== null && goods.gt(0) ? { amount: bill.fee, of: goods.toFixed() } : null;
  const corrected = changes.filter((c) => bill.lines[c.row - 1]!.kind === 'correction').map((c) => Number(c.item));
  const before = new Map<string, { amount: string; of: string } | null>();
  if (corrected.length > 0)
    for (const c of await tx
      .select()
      .from(costs)
      .where(
        and(
          inArray(costs.itemId, corrected),
          eq(costs.supplierId, bill.supplierId),
          eq(costs.origin, 'bill'),
          eq(costs.currency, bill.currency),
          not(costs.takenBack),
        ),
      )
      .orderBy(costs.validFrom, costs.id))
      before.set(
        String(c.itemId),
        c.feeAmount !== null && c.feeOf !== null ? { amount: c.feeAmount, of: c.feeOf } : null,
      );
  return changes.map((c) => (bill.lines[c.row - 1]!.kind === 'correction' ? (before.get(c.item!) ?? null) : own));
}

/** Makes a bill final: its costs count from its day, against files and typed ones; a line that was sent back says nothing of cost. */
export async function makeFinal(
  context: HereWithJobs,
  person: SignedIn,
  id: number,
  { version, looked }: { readonly version: number; readonly looked: boolean },
  today: string,
): Promise<void> {
  const worksheet = await inTransaction(context.db, async (tx) => {
    const bill = await draft(tx, id, version);
    const changes = await changesOf(tx, bill);
    const odd = changes.filter((c) => c.flags.some((f) => WRONG.includes(f)));
    if (odd.length > 0 && !looked)
      throw refused('bill_looks_odd', { count: String(odd.length), first: `${odd[0]!.sku ?? odd[0]!.code}` });
    const at = context.now();
    const fees = await feesOf(tx, bill, changes);
    const values = changes.map((c, i) => ({
      itemId: Number(c.item),
      supplierId: bill.supplierId,
      amount: c.after.amount,
      currency: bill.currency,
      packUnits: c.after.packUnits,
      feeAmount: fees[i]?.amount ?? null,
      feeOf: fees[i]?.of ?? null,
      validFrom: bill.day,
      origin: 'bill' as const,
      billId: id,
      enteredBy: person.id,
      enteredAt: at,
    }));
    if (values.length > 0) await tx.insert(costs).values(values);
    await tx
      .update(bills)
      .set({ state: 'final', version: version + 1, finalBy: person.id, outcome: changes })
      .where(eq(bills.id, id));
    await audit(tx, {
      at,
      personId: person.id,
      action: 'made final',
      subject: 'bills',
      subjectId: String(id),
      after: { number: bill.number, costs: values.length },
    });
    return followByItself(tx, {
      at,
      person: person.id,
      supplier: bill.supplierId,
      cameWith: { bill: id },
      of: `bill ${bill.number}`,
      from: values.map((v) => v.validFrom),
      today,
    });
  });
  if (worksheet !== null) await context.jobs.enqueue(PROPOSALS, worksheet);
}

/** Takes a final bill back: its costs count for nothing any more, what was known before counts again, and it is a draft. */
export async function takeBackBill(context: Here, person: SignedIn, id: number, version: number): Promise<void> {
  await inTransaction(context.db, async (tx) => {
    const bill = await locked(tx, id, version);
    if (bill.state !== 'final') throw refused('bill_draft', {});
    const gone = await tx
      .update(costs)
      .set({ takenBack: true })
      .where(and(eq(costs.billId, id), not(costs.takenBack)))
      .returning({ id: costs.id });
    await tx
      .update(bills)
      .set({ state: 'draft', version: version + 1, finalBy: null, outcome: sql`null` })
      .where(eq(bills.id, id));
    await audit(tx, {
      at: context.now(),
      personId: person.id,
      action: 'took back the costs of',
      subject: 'bills',
      subjectId: String(id),
      after: { number: bill.number, costs: gone.length },
    });
  });
}

/** Throws a draft away; what it said stays in the record of changes. A bill whose costs once counted stays. */
export async function dropBill(context: Here, person: SignedIn, id: number, version: number): Promise<void> {
  await inTransaction(context.db, async (tx) => {
    const bill = await draft(tx, id, version);
    const [counted] = await tx.select({ id: costs.id }).from(costs).where(eq(costs.billId, id)).limit(1);
    if (counted) throw refused('in_use', { what: `Bill ${bill.number}`, by: 'costs that counted once' });
    await tx.delete(bills).where(eq(bills.id, id));
    await audit(tx, {
      at: context.now(),
      personId: person.id,
      action: 'removed',
      subject: 'bills',
      subjectId: String(id),
      // a draft makes no price
      layers: [],
      before: bodyOf(bill),
    });
  });
}
