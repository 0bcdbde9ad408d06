import { eq, sql } from 'drizzle-orm';
import { QUOTE_STATE_NAMES, type QuoteBody, type QuoteFigures } from '#contract/quotes.ts';
import { RIGHT_NAMES } from '#contract/people.ts';
import { audit } from '../ledger/audit.ts';
import type { Context } from '../platform/context.ts';
import { type Tx, inTransaction } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import { workspaceIn } from '../workspace/state.ts';
import { keepTerms } from './kept-terms.ts';
import { asNow, quoteFigures } from './figures.ts';
import {
  type LineRow,
  type QuoteRow,
  bodyOf,
  findQuote,
  listFor,
  questionOf,
  termsOf,
  writeQuoteLines,
} from './store.ts';
import { quoteDecisions, quotes } from './tables.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

export async function log(
  context: Pick<Context, 'now'>,
  tx: Tx,
  person: SignedIn,
  action: string,
  id: number,
  before?: unknown,
  after?: unknown,
): Promise<void> {
  await audit(tx, {
    at: context.now(),
    personId: person.id,
    action,
    subject: 'quotes',
    subjectId: String(id),
    before,
    after,
  });
}

export async function writeQuote(context: Context, person: SignedIn, day: string, body: QuoteBody): Promise<number> {
  return inTransaction(context.db, async (tx) => {
    const { ws } = await workspaceIn(tx, context.db, day);
    const list = listFor(ws, body, day);
    // numbers without gaps or doubles: one writer at a time takes the next
    await tx.execute(sql`select pg_advisory_xact_lock(7303)`);
    const year = day.slice(0, 4);
    const last = await tx.execute<{ n: number | null }>(
      sql`select max(substring(number from 6)::int) as n from quotes where number like ${`${year}-%`}`,
    );
    const number = `${year}-${String((last.rows[0]?.n ?? 0) + 1).padStart(4, '0')}`;
    const [row] = await tx
      .insert(quotes)
      .values({
        number,
        customerId: Number(body.customer),
        listId: Number(list),
        listReason: body.list === null ? null : body.listReason,
        day,
        validUntil: body.validUntil,
        note: body.note,
        terms: termsOf(body),
        writtenBy: person.id,
        changedBy: person.id,
        writtenAt: context.now(),
      })
      .returning({ id: quotes.id });
    await writeQuoteLines(tx, row!.id, body);
    await log(context, tx, person, 'wrote a quote', row!.id, null, { number, lines: body.lines.length });
    return row!.id;
  });
}

export function expectVersion(quote: QuoteRow, version: number): void {
  if (quote.version !== version)
    throw refused(
      'changed_meanwhile',
      { what: `Quote ${quote.number}`, by: 'someone else' },
      { current: { version: quote.version, state: quote.state } },
    );
}

/** Whether the customer has it: then it stays as it is. */
const isOut = (quote: QuoteRow): boolean => quote.state === 'issued' || quote.state === 'accepted';

/** Another's quote is for those who have the right to it. */
export function mayWorkOn(person: SignedIn, quote: QuoteRow): void {
  if (quote.writtenBy !== person.id && !person.rights.has('write_others_quotes'))
    throw refused('right_missing', { right: RIGHT_NAMES.write_others_quotes });
}

/** Changes a quote that has not been issued; an approval that was given or asked for lapses, for it was for other figures. */
export async function changeQuote(
  context: Context,
  person: SignedIn,
  day: string,
  id: number,
  version: number,
  body: QuoteBody,
): Promise<void> {
  await inTransaction(context.db, async (tx) => {
    const { quote, lines } = await findQuote(tx, id, true);
    const { ws } = await workspaceIn(tx, context.db, day);
    const list = listFor(ws, body, day);
    mayWorkOn(person, quote);
    if (isOut(quote)) throw refused('quote_not_draft', { state: QUOTE_STATE_NAMES[quote.state] });
    expectVersion(quote, version);
    await tx
      .update(quotes)
      .set({
        customerId: Number(body.customer),
        listId: Number(list),
        listReason: body.list === null ? null : body.listReason,
        validUntil: body.validUntil,
        note: body.note,
        terms: termsOf(body),
        state: 'draft',
        asked: null,
        askedBy: null,
        changedBy: person.id,
        version: version + 1,
      })
      .where(eq(quotes.id, id));
    await writeQuoteLines(tx, id, body);
    await log(context, tx, person, 'changed a quote', id, { state: quote.state, ...bodyOf(quote, lines) }, body);
  });
}

type Action = 'ask' | 'issue';

/** Asks for approval, or issues: the figures are computed in the same transaction, so nothing stale is ever sent. */
export async function advanceQuote(
  context: Context,
  person: SignedIn,
  day: string,
  id: number,
  version: number,
  action: Action,
): Promise<void> {
  await inTransaction(context.db, async (tx) => {
    const { quote, lines } = await findQuote(tx, id, true);
    mayWorkOn(person, quote);
    expectVersion(quote, version);
    if (isOut(quote) || (action === 'ask' && quote.state !== 'draft'))
      throw refused('quote_not_draft', { state: QUOTE_STATE_NAMES[quote.state] });
    const { ws } = await workspaceIn(tx, context.db, day);
    const figures = figuresNow(ws, quote, lines, day);
    if (action === 'ask') {
      if (figures.outcome === 'fine') throw refused('quote_needs_none');
      await tx
        .update(quotes)
        .set({ state: 'waiting', asked: figures, askedBy: person.id, version: version + 1 })
        .where(eq(quotes.id, id));
      await log(context, tx, person, 'asked for approval', id, null, {
        broken: figures.lines.flatMap((l) => (l.broken ? [{ sku: l.sku, ...l.broken }] : [])),
      });
      return;
    }
    if (quote.validUntil && quote.validUntil < day) throw refused('quote_expired', { day: quote.validUntil });
    if (figures.outcome === 'asks_approval' && quote.state !== 'approved') throw refused('quote_needs_approval');
    if (figures.outcome === 'asks_approval' && quote.asked && whatIsApproved(quote.asked) !== whatIsApproved(figures))
      throw refused('quote_figures_moved');
    await tx
      .update(quotes)
      .set({
        state: 'issued',
        issued: figures,
        issuedAt: context.now(),
        issuedOn: day,
        kept: await keepTerms(
          tx,
          ws,
          lines.map((l) => String(l.itemId)),
          String(quote.customerId),
        ),
        version: version + 1,
      })
      .where(eq(quotes.id, id));
    await log(context, tx, person, 'issued a quote', id, null, {
      net: figures.net,
      toPay: figures.toPay,
      currency: figures.currency,
    });
  });
}

/** What a second person said yes to: every price and charge, every rule that asks, every broken floor and how far it is broken. Field by field: stored JSON does not keep the order of keys. */
function whatIsApproved(figures: QuoteFigures): string {
  const { reduction } = asNow(figures);
  const charges = [...asNow(figures).charges.map((c) => [c.name, c.total]), reduction?.given];
  const lines = asNow(figures).lines.map((l) => [
    l.sku,
    l.quantity,
    l.unitPrice,
    l.total,
    l.broken?.name,
    l.broken?.least,
    l.broken?.short,
    l.asks,
    l.freeUnits,
  ]);
  return JSON.stringify([lines, charges]);
}

function figuresNow(ws: Prepared, quote: QuoteRow, lines: readonly LineRow[], day: string) {
  const figures = quoteFigures(ws, questionOf(ws, quote, lines, day));
  if (figures.outcome === 'incomplete' || figures.lines.length === 0) throw refused('quote_incomplete');
  if (figures.outcome === 'refused') throw refused('quote_refused');
  return figures;
}

/** A second person's yes or no. It is for this version of the quote: changing the quote makes it lapse. */
export async function decideQuote(
  context: Context,
  person: SignedIn,
  id: number,
  version: number,
  decision: 'approved' | 'declined',
  note: string,
): Promise<void> {
  await inTransaction(context.db, async (tx) => {
    const { quote } = await findQuote(tx, id, true);
    expectVersion(quote, version);
    if (quote.state !== 'waiting') throw refused('quote_not_waiting');
    if ([quote.writtenBy, quote.changedBy, quote.askedBy].includes(person.id)) throw refused('own_quote');
    await tx
      .insert(quoteDecisions)
      .values({ quoteId: id, quoteVersion: version, decision, note, decidedBy: person.id, decidedAt: context.now() });
    await tx
      .update(quotes)
      .set({ state: decision === 'approved' ? 'approved' : 'draft', version: version + 1 })
      .where(eq(quotes.id, id));
    await log(context, tx, person, decision === 'approved' ? 'approved a quote' : 'declined a quote', id, null, {
      note,
    });
  });
}
