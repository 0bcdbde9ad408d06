import { and, eq } from 'drizzle-orm';
import type { AcceptBody, ChainDocument, ChainView, ChangeOrderBody } from '#contract/change-orders.ts';
import { RIGHT_NAMES } from '#contract/people.ts';
import { QUOTE_STATE_NAMES } from '#contract/quotes.ts';
import { type Tx, inTransaction } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { type Here, chainOf, changesOf, itemsIn, keeping, looking } from './chain.ts';
import { keepTerms, withItems } from './kept-terms.ts';
import { expectVersion, log, mayWorkOn } from './operations.ts';
import { type QuoteRow, findQuote } from './store.ts';
import { quoteChanges, quotes } from './tables.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

export const viewChain = async (context: Here, id: number, today: string): Promise<ChainView> =>
  (await chainOf(looking(context), id, today)).view;

export const tryChange = async (
  context: Here,
  person: SignedIn,
  id: number,
  today: string,
  body: ChangeOrderBody,
): Promise<ChainView> =>
  (await chainOf(looking(context), id, today, { body, by: person.name, personId: person.id })).view;

/** The customer's yes to an issued quote; from here on it is changed by change orders only. */
export async function acceptQuote(
  context: Here,
  person: SignedIn,
  id: number,
  today: string,
  { version, note, credits }: AcceptBody,
): Promise<void> {
  await inTransaction(context.db, async (tx) => {
    const { quote, lines } = await findQuote(tx, id, true);
    mayWorkOn(person, quote);
    expectVersion(quote, version);
    if (quote.state !== 'issued') throw refused('quote_not_issued', { state: QUOTE_STATE_NAMES[quote.state] });
    if (quote.validUntil && quote.validUntil < today) throw refused('quote_expired', { day: quote.validUntil });
    const ws = await keeping(context, tx).on(quote.issuedOn ?? quote.day);
    const kept =
      quote.kept ??
      (await keepTerms(
        tx,
        ws,
        lines.map((l) => String(l.itemId)),
        String(quote.customerId),
      ));
    await tx
      .update(quotes)
      .set({ state: 'accepted', acceptedOn: today, acceptedNote: note, credits, kept, version: version + 1 })
      .where(eq(quotes.id, id));
    await log(context, tx, person, 'wrote down that the customer accepted', id, null, { note, credits });
    const { view } = await chainOf(keeping(context, tx), id, today);
    const [first] = view.documents;
    // a quote that an earlier release issued has no terms of its own: they are taken on only where they make its figures
    if (first!.toPayInAll !== quote.issued!.toPay) throw refused('quote_terms_gone');
  });
}

/** Keeps the draft of a change; there is one at a time. */
export async function keepChange(
  context: Here,
  person: SignedIn,
  id: number,
  today: string,
  version: number,
  body: ChangeOrderBody,
): Promise<void> {
  await inTransaction(context.db, async (tx) => {
    const quote = await acceptedQuote(tx, person, id, version);
    const rows = await changesOf(tx, id);
    const number = rows.filter((r) => r.state === 'issued').length + 1;
    await chainOf(keeping(context, tx), id, today, { body, by: person.name, personId: person.id });
    const row = { state: 'draft' as const, day: today, body, writtenBy: person.id, writtenAt: context.now() };
    await tx
      .insert(quoteChanges)
      .values({ quoteId: id, number, ...row })
      .onConflictDoUpdate({ target: [quoteChanges.quoteId, quoteChanges.number], set: row });
    await raise(tx, quote);
    await log(context, tx, person, `wrote change order ${number}`, id, null, body);
  });
}

export async function dropChange(context: Here, person: SignedIn, id: number, version: number): Promise<void> {
  await inTransaction(context.db, async (tx) => {
    const quote = await acceptedQuote(tx, person, id, version);
    const gone = await tx
      .delete(quoteChanges)
      .where(and(eq(quoteChanges.quoteId, id), eq(quoteChanges.state, 'draft')))
      .returning({ number: quoteChanges.number, body: quoteChanges.body });
    if (gone.length === 0) throw refused('no_change_draft');
    await raise(tx, quote);
    await log(context, tx, person, `dropped the draft of change order ${gone[0]!.number}`, id, gone[0]!.body);
  });
}

/** Issues the draft with the figures of this moment. What asks for approval is issued by a second person who may approve. */
export async function issueChange(
  context: Here,
  person: SignedIn,
  id: number,
  today: string,
  version: number,
): Promise<void> {
  await inTransaction(context.db, async (tx) => {
    const { quote } = await findQuote(tx, id, true);
    expectVersion(quote, version);
    const { view, states } = await chainOf(keeping(context, tx), id, today);
    const draft = view.documents.at(-1)!;
    if (draft.state !== 'draft') throw refused('no_change_draft');
    const [row] = (await changesOf(tx, id)).filter((r) => r.state === 'draft');
    const alerts = new Set(draft.alerts.map((a) => a.alert));
    if (alerts.has('refused')) throw refused('change_refused');
    if (alerts.has('needs_approval')) {
      if (!person.rights.has('approve') || person.id === row!.writtenBy) throw refused('change_needs_second');
    } else {
      if (!person.rights.has('write_quotes')) throw refused('right_missing', { right: RIGHT_NAMES.write_quotes });
      mayWorkOn(person, quote);
    }
    const own = row!.body.terms === 'today';
    const kept = own
      ? await keepTerms(tx, states.ofChange(row!.number), itemsIn(row!.body.lines), String(quote.customerId))
      : null;
    const issued: ChainDocument = { ...draft, state: 'issued', day: today };
    await tx
      .update(quoteChanges)
      .set({ state: 'issued', day: today, issued, kept, issuedBy: person.id, issuedAt: context.now() })
      .where(and(eq(quoteChanges.quoteId, id), eq(quoteChanges.number, row!.number)));
    // an item that the change added is from now on priced as it was then, like those of the quote
    if (!own)
      await tx
        .update(quotes)
        .set({ kept: withItems(quote.kept!, states.accepted) })
        .where(eq(quotes.id, id));
    await raise(tx, quote);
    await log(context, tx, person, `issued change order ${row!.number}`, id, null, {
      toPay: issued.toPay,
      toPayInAll: issued.toPayInAll,
    });
  });
}

async function acceptedQuote(tx: Tx, person: SignedIn, id: number, version: number): Promise<QuoteRow> {
  const { quote } = await findQuote(tx, id, true);
  mayWorkOn(person, quote);
  expectVersion(quote, version);
  if (quote.state !== 'accepted') throw refused('quote_not_accepted', { state: QUOTE_STATE_NAMES[quote.state] });
  return quote;
}

const raise = (tx: Tx, quote: QuoteRow) =>
  tx
    .update(quotes)
    .set({ version: quote.version + 1 })
    .where(eq(quotes.id, quote.id));
