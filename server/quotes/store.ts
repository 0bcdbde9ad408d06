import { and, asc, desc, eq, sql } from 'drizzle-orm';
import type { QuoteBody, QuoteState, QuoteSummary, QuoteView } from '#contract/quotes.ts';
import { buyerOf } from '#core/lists/buyer.ts';
import type { QuoteQuestion } from '#core/quotes/questions.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import { priceLists } from '../lists/tables.ts';
import { auditEntries } from '../ledger/tables.ts';
import { people } from '../people/tables.ts';
import type { Queries, Tx } from '../platform/database.ts';
import { refused, refusedFor } from '../platform/refused.ts';
import { customers } from '../setup/tables.ts';
import { keepLinks } from '../records/links.ts';
import { asNow, quoteFigures } from './figures.ts';
import { type BuyerTerms, askedOf, buyerTerms, ownList } from './question.ts';
import { type QuoteTerms, quoteDecisions, quoteLines, quotes } from './tables.ts';

export type QuoteRow = typeof quotes.$inferSelect;
export type LineRow = typeof quoteLines.$inferSelect;

export async function findQuote(db: Queries, id: number, lock = false): Promise<{ quote: QuoteRow; lines: LineRow[] }> {
  const query = db.select().from(quotes).where(eq(quotes.id, id));
  const [quote] = lock ? await query.for('no key update') : await query;
  if (!quote) throw refused('not_found', { what: 'The quote', id: String(id) });
  const lines = await db.select().from(quoteLines).where(eq(quoteLines.quoteId, id)).orderBy(asc(quoteLines.position));
  return { quote, lines };
}

/** The list that a quote is priced from: the customer's own, unless another was asked for with a reason. */
export function listFor(ws: Prepared, body: BuyerTerms & Pick<QuoteBody, 'list' | 'listReason'>, day: string): string {
  const customer = ws.customers.get(body.customer);
  if (!customer) throw refused('not_found', { what: 'The customer', id: body.customer });
  if (body.region && !ws.regions.has(body.region)) throw refused('not_found', { what: 'The region', id: body.region });
  const own = ownList(ws, body, day);
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

/** The region the goods go to, by name, and why the list is the one that answers. */
export function whereTo(ws: Prepared, body: BuyerTerms & Pick<QuoteBody, 'list' | 'listReason'>, day: string) {
  const buyer = buyerOf(ws, buyerTerms(ws, body));
  const own = ownList(ws, body, day);
  return {
    regionName: buyer.ok && buyer.value.region ? (ws.regions.get(buyer.value.region)?.name ?? null) : null,
    listWhy: body.listReason ? `chosen by hand: ${body.listReason}` : own.ok ? own.value.why : '',
    listLost: own.ok ? own.value.lost.map((l) => ({ name: l.name, why: l.why })) : [],
  };
}

/** A quote as it is kept, in the form in which it was sent. */
export function bodyOf(quote: QuoteRow, lines: readonly LineRow[]): QuoteBody {
  const { country, region, regionReason, channel, charges, reduction, estimate } = quote.terms;
  return {
    customer: String(quote.customerId),
    country: country ?? null,
    region: region ?? null,
    regionReason: regionReason ?? null,
    channel: channel ?? null,
    list: quote.listReason ? String(quote.listId) : null,
    listReason: quote.listReason,
    validUntil: quote.validUntil,
    note: quote.note,
    charges: charges ?? [],
    reduction: reduction ?? null,
    estimate: estimate ?? null,
    lines: lines.map((l) => ({
      item: String(l.itemId),
      pack: String(l.packId),
      quantity: l.quantity,
      section: l.section,
      reductionKind: l.reductionKind,
      reductionValue: l.reductionValue,
      zeroConfirmed: l.zeroConfirmed,
    })),
  };
}

export const questionOf = (ws: Prepared, quote: QuoteRow, lines: readonly LineRow[], day: string): QuoteQuestion =>
  askedOf(ws, bodyOf(quote, lines), String(quote.listId), day);

/** What of a quote stands in no column of its own. */
export const termsOf = ({
  country,
  region,
  regionReason,
  channel,
  charges,
  reduction,
  estimate,
}: QuoteBody): QuoteTerms => ({
  country,
  region,
  regionReason,
  channel,
  charges,
  reduction,
  estimate,
});

/** The charges that a quote names are not removed while it stands. */
export const keepQuoteLinks = (tx: Tx, id: number, { charges }: Pick<QuoteBody, 'charges'>): Promise<void> =>
  keepLinks(
    tx,
    { kind: 'quotes', id },
    { charges: { type: 'many', to: 'charges', title: 'charges' } },
    {
      charges: charges.map((c) => c.charge),
    },
  );

export async function writeQuoteLines(tx: Tx, quoteId: number, body: QuoteBody): Promise<void> {
  await keepQuoteLinks(tx, quoteId, body);
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
      section: l.section,
      zeroConfirmed: l.zeroConfirmed,
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
      toPay: sql<string | null>`${quotes.issued}->>'toPay'`,
      currency: priceLists.currency,
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
    .select({
      customerName: customers.name,
      listName: priceLists.name,
      writtenBy: people.name,
      currency: priceLists.currency,
    })
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
  const group = customer?.groups[0] ? ws.groups.get(customer.groups[0]) : undefined;
  const body = bodyOf(quote, lines);
  return {
    ...body,
    ...whereTo(ws, body, today),
    id: String(quote.id),
    version: quote.version,
    number: quote.number,
    ...names!,
    day: quote.day,
    toPay: quote.issued?.toPay ?? null,
    state: quote.state as QuoteState,
    group: group?.id ?? null,
    groupName: group?.name ?? null,
    list: String(quote.listId),
    writtenById: String(quote.writtenBy),
    figures: quote.issued ? asNow(quote.issued) : quoteFigures(ws, questionOf(ws, quote, lines, today)),
    decisions: decided.map((d) => ({ ...d, at: d.at.toISOString() })),
    hands: hands.map((h) => ({ ...h, at: h.at.toISOString() })),
  };
}
