import { and, asc, desc, eq } from 'drizzle-orm';
import type { QuoteBody, QuoteState, QuoteSummary, QuoteView } from '#contract/quotes.ts';
import { type ChosenList, chooseList } from '#core/lists/choose-list.ts';
import type { Outcome } from '#core/reasons.ts';
import { buyerOf } from '#core/lists/buyer.ts';
import type { QuoteQuestion } from '#core/quotes/questions.ts';
import type { Prepared } from '#core/workspace/index.ts';
import { priceLists } from '../lists/tables.ts';
import { auditEntries } from '../ledger/tables.ts';
import { people } from '../people/tables.ts';
import type { Queries, Tx } from '../platform/database.ts';
import { refused, refusedFor } from '../platform/refused.ts';
import { customers } from '../setup/tables.ts';
import { asNow, quoteFigures } from './figures.ts';
import { quoteDecisions, quoteLines, quotes } from './tables.ts';

export type QuoteRow = typeof quotes.$inferSelect;
export type LineRow = typeof quoteLines.$inferSelect;

export async function findQuote(db: Queries, id: number, lock = false): Promise<{ quote: QuoteRow; lines: LineRow[] }> {
  const query = db.select().from(quotes).where(eq(quotes.id, id));
  const [quote] = lock ? await query.for('no key update') : await query;
  if (!quote) throw refused('not_found', { what: 'The quote', id: String(id) });
  const lines = await db.select().from(quoteLines).where(eq(quoteLines.quoteId, id)).orderBy(asc(quoteLines.position));
  return { quote, lines };
}

/** The list a customer buys from on a day, or why there is none. */
function ownList(ws: Prepared, customer: string, day: string): Outcome<ChosenList> {
  const buyer = buyerOf(ws, { customer });
  return buyer.ok ? chooseList(ws, buyer.value, day) : buyer;
}

/** The list that a quote is priced from: the customer's own, unless another was asked for with a reason. */
export function listFor(ws: Prepared, body: Pick<QuoteBody, 'customer' | 'list' | 'listReason'>, day: string): string {
  const customer = ws.customers.get(body.customer);
  if (!customer) throw refused('not_found', { what: 'The customer', id: body.customer });
  const own = ownList(ws, customer.id, day);
  if (body.list === null) {
    if (!own.ok) throw refusedFor(own.reason);
    return own.value.list.id;
  }
  if (!ws.lists.has(body.list)) throw refused('not_found', { what: 'The price list', id: body.list });
  const other = !own.ok || own.value.list.id !== body.list;
  if (other && !body.listReason)
    throw refused(
      'fields_wrong',
      {},
      { faults: [{ path: 'listReason', message: 'say why another list than the customer’s own is taken' }] },
    );
  return body.list;
}

export function questionOf(ws: Prepared, quote: QuoteRow, lines: readonly LineRow[], day: string): QuoteQuestion {
  return {
    list: String(quote.listId),
    // a customer that is no longer active keeps the quotes it has
    buyer: ws.customers.has(String(quote.customerId)) ? { customer: String(quote.customerId) } : {},
    day,
    lines: lines.map((l) => ({
      id: String(l.position),
      item: String(l.itemId),
      pack: String(l.packId),
      quantity: l.quantity,
      reduction: l.reductionKind && l.reductionValue ? { kind: l.reductionKind, value: l.reductionValue } : null,
    })),
  };
}

export async function writeQuoteLines(tx: Tx, quoteId: number, body: QuoteBody): Promise<void> {
  await tx.delete(quoteLines).where(eq(quoteLines.quoteId, quoteId));
  if (body.lines.length === 0) return;
  await tx.insert(quoteLines).values(
    body.lines.map((l, position) => ({
      quoteId,
      position,
      itemId: Number(l.item),
      packId: Number(l.pack),
      quantity: l.quantity,
      reductionKind: l.reductionValue === null ? null : l.reductionKind,
      reductionValue: l.reductionKind === null ? null : l.reductionValue,
    })),
  );
}

export async function listQuotes(db: Queries): Promise<QuoteSummary[]> {
  const rows = await db
    .select({
      id: quotes.id,
      version: quotes.version,
      number: quotes.number,
      customer: quotes.customerId,
      customerName: customers.name,
      listName: priceLists.name,
      day: quotes.day,
      state: quotes.state,
      writtenBy: people.name,
    })
    .from(quotes)
    .innerJoin(customers, eq(customers.id, quotes.customerId))
    .innerJoin(priceLists, eq(priceLists.id, quotes.listId))
    .innerJoin(people, eq(people.id, quotes.writtenBy))
    .orderBy(desc(quotes.id))
    .limit(1000);
  return rows.map((r) => ({ ...r, id: String(r.id), customer: String(r.customer) }));
}

/** A quote with its figures: those of the day it was issued, else computed now. */
export async function viewQuote(db: Queries, ws: Prepared, today: string, id: number): Promise<QuoteView> {
  const { quote, lines } = await findQuote(db, id);
  const [names] = await db
    .select({ customerName: customers.name, listName: priceLists.name, writtenBy: people.name })
    .from(quotes)
    .innerJoin(customers, eq(customers.id, quotes.customerId))
    .innerJoin(priceLists, eq(priceLists.id, quotes.listId))
    .innerJoin(people, eq(people.id, quotes.writtenBy))
    .where(eq(quotes.id, id));
  const decided = await db
    .select({
      decision: quoteDecisions.decision,
      note: quoteDecisions.note,
      by: people.name,
      at: quoteDecisions.decidedAt,
      version: quoteDecisions.quoteVersion,
    })
    .from(quoteDecisions)
    .innerJoin(people, eq(people.id, quoteDecisions.decidedBy))
    .where(eq(quoteDecisions.quoteId, id))
    .orderBy(asc(quoteDecisions.id));
  const hands = await db
    .select({ by: people.name, at: auditEntries.at, did: auditEntries.action })
    .from(auditEntries)
    .innerJoin(people, eq(people.id, auditEntries.personId))
    .where(and(eq(auditEntries.subject, 'quotes'), eq(auditEntries.subjectId, String(id))))
    .orderBy(asc(auditEntries.id));
  const customer = ws.customers.get(String(quote.customerId));
  const own = customer ? ownList(ws, customer.id, today) : null;
  const group = customer?.groups[0] ? ws.groups.get(customer.groups[0]) : undefined;
  return {
    id: String(quote.id),
    version: quote.version,
    number: quote.number,
    customer: String(quote.customerId),
    ...names!,
    day: quote.day,
    state: quote.state as QuoteState,
    group: group?.id ?? null,
    groupName: group?.name ?? null,
    list: String(quote.listId),
    listWhy: quote.listReason ? `chosen by hand: ${quote.listReason}` : own?.ok ? own.value.why : '',
    listLost: own?.ok ? own.value.lost.map((l) => ({ name: l.name, why: l.why })) : [],
    listReason: quote.listReason,
    validUntil: quote.validUntil,
    note: quote.note,
    writtenById: String(quote.writtenBy),
    lines: lines.map((l) => ({
      item: String(l.itemId),
      pack: String(l.packId),
      quantity: l.quantity,
      reductionKind: l.reductionKind,
      reductionValue: l.reductionValue,
    })),
    figures: quote.issued ? asNow(quote.issued) : quoteFigures(ws, questionOf(ws, quote, lines, today)),
    decisions: decided.map((d) => ({ ...d, at: d.at.toISOString() })),
    hands: hands.map((h) => ({ ...h, at: h.at.toISOString() })),
  };
}
