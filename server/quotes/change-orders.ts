import { and, asc, eq } from 'drizzle-orm';
import {
  type AcceptBody,
  CHANGE_ALERT_TEXT,
  type ChainDocument,
  type ChainView,
  type ChangeOrderBody,
  type ChangePart,
} from '#contract/change-orders.ts';
import { RIGHT_NAMES } from '#contract/people.ts';
import { QUOTE_STATE_NAMES } from '#contract/quotes.ts';
import { minorUnits } from '#core/numbers/currency.ts';
import { type Dec, money, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import { type ChainQuestion, type Part, type ChainDocument as Priced, priceChain } from '#core/quotes/change-orders.ts';
import type { Prepared } from '#core/workspace/index.ts';
import { people } from '../people/tables.ts';
import type { Context } from '../platform/context.ts';
import { type Queries, type Tx, inTransaction } from '../platform/database.ts';
import type { SignedIn } from '../platform/http/session.ts';
import { refused, refusedFor } from '../platform/refused.ts';
import { customers } from '../setup/tables.ts';
import { workspaceIn, workspaceOn } from '../workspace/state.ts';
import { figuresOf } from './figures.ts';
import { keepTerms, keptState, withItems } from './kept-terms.ts';
import { expectVersion, log, mayWorkOn } from './operations.ts';
import { askedOf, linesAsked } from './question.ts';
import { type LineRow, type QuoteRow, bodyOf, findQuote } from './store.ts';
import { type KeptTerms, quoteChanges, quotes } from './tables.ts';

/** What of the server these operations need. */
export type Here = Pick<Context, 'db' | 'now'>;

type ChangeRow = Pick<
  typeof quoteChanges.$inferSelect,
  'number' | 'state' | 'day' | 'body' | 'issued' | 'kept' | 'writtenBy'
> & { by: string };

/** What a document is priced by. */
interface States {
  readonly accepted: Prepared;
  readonly ofChange: (number: number) => Prepared;
}

async function changesOf(db: Queries, quote: number): Promise<ChangeRow[]> {
  return db
    .select({
      number: quoteChanges.number,
      state: quoteChanges.state,
      day: quoteChanges.day,
      body: quoteChanges.body,
      issued: quoteChanges.issued,
      kept: quoteChanges.kept,
      writtenBy: quoteChanges.writtenBy,
      by: people.name,
    })
    .from(quoteChanges)
    .innerJoin(people, eq(people.id, quoteChanges.writtenBy))
    .where(eq(quoteChanges.quoteId, quote))
    .orderBy(asc(quoteChanges.number));
}

/** Names of the lines of a change: those it goes on from keep theirs, new ones get a name of their own. */
export function keysOf({ goesOnFrom, lines }: ChangeOrderBody, number: number): string[] {
  return lines.map((_, n) => goesOnFrom[n] || `${number}.${n + 1}`);
}

const itemsIn = (lines: readonly { item: string }[]): string[] => lines.map((l) => l.item);

/** Where a chain is read from: the state of a day, and the database beside it. */
interface Source {
  readonly db: Queries;
  readonly on: (day: string) => Promise<Prepared>;
}
const looking = ({ db }: Here): Source => ({ db, on: async (day) => (await workspaceOn(db, day)).ws });
/** What is kept is priced by a state that nobody changes until it is, read on the transaction's own connection. */
const keeping = ({ db }: Here, tx: Tx): Source => ({ db: tx, on: async (day) => (await workspaceIn(tx, db, day)).ws });

/** The states by which the documents of a chain are priced: kept ones, and for a draft of today the present. */
async function statesOf(
  { db, on }: Source,
  quote: QuoteRow,
  kept: KeptTerms,
  changes: readonly ChangeRow[],
  today: string,
): Promise<States> {
  const customer = String(quote.customerId);
  const named = changes.flatMap((c) => itemsIn(c.body.lines));
  const onDay = (day: string) => () => on(day);
  const accepted = await keptState(db, kept, named, customer, onDay(quote.issuedOn ?? quote.day));
  const own = new Map<number, Prepared>();
  for (const c of changes.filter((change) => change.body.terms === 'today'))
    own.set(c.number, c.kept ? await keptState(db, c.kept, [], customer, onDay(c.day)) : await on(today));
  return { accepted, ofChange: (number) => own.get(number) ?? accepted };
}

function question(
  states: States,
  quote: QuoteRow,
  lines: readonly LineRow[],
  changes: readonly ChangeRow[],
): ChainQuestion {
  const day = quote.issuedOn ?? quote.day;
  return {
    accepted: askedOf(states.accepted, bodyOf(quote, lines), String(quote.listId), day),
    credits: quote.credits ? 'allowed' : 'none',
    changes: changes.map(({ number, day: on, body }) => {
      const keys = keysOf(body, number);
      return {
        id: String(number),
        day: on,
        terms: body.terms,
        lines: linesAsked(body.lines, (_, n) => keys[n]!),
        charges: body.charges,
        ...(body.reductionStays ? {} : { reduction: body.reduction }),
      };
    }),
  };
}

/** A document of the chain in the form that travels. */
function shown(
  ws: Prepared,
  before: Priced | undefined,
  priced: Priced,
  asked: ChainQuestion,
  row: ChangeRow | null,
): ChainDocument {
  const list = ws.lists.get(priced.state.list)!;
  const digits = minorUnits(list.currency);
  const total = (d: Dec) => money(roundHalfUp(d, digits), digits);
  const part = (
    p: Pick<Part, 'id' | 'name' | 'was' | 'now' | 'difference'> & Partial<Pick<Part, 'notCredited'>>,
  ): ChangePart => ({
    id: p.id,
    name: p.name,
    was: total(p.was),
    now: total(p.now),
    difference: total(p.difference),
    notCredited: !p.notCredited || p.notCredited.isZero() ? null : total(p.notCredited),
  });
  const changes = asked.changes;
  const at = row ? changes.findIndex((c) => c.id === String(row.number)) : -1;
  const linesNow = at < 0 ? asked.accepted.lines : changes[at]!.lines;
  const linesBefore = at < 0 ? [] : at === 0 ? asked.accepted.lines : changes[at - 1]!.lines;
  const nameOf = (id: string) => [priced, before].flatMap((d) => d?.charges ?? []).find((c) => c.id === id)?.name ?? id;
  return {
    number: row?.number ?? 0,
    state: row?.state ?? 'accepted',
    day: priced.day,
    reason: row?.body.reason ?? '',
    by: row?.by ?? '',
    terms: row?.body.terms ?? 'acceptance',
    lines: priced.lines.map((l) => {
      const [now, was] = [linesNow, linesBefore].map((lines) => lines.find((x) => x.id === l.id));
      const item = ws.items.get((now ?? was)!.item);
      return {
        ...part({ ...l, name: item?.name ?? '' }),
        sku: item?.sku ?? '',
        packName: item?.packs.find((p) => p.id === (now ?? was)!.pack)?.name ?? '',
        quantityWas: was?.quantity ?? null,
        quantityNow: now?.quantity ?? null,
      };
    }),
    goods: part({ ...priced.goods, name: 'goods' }),
    charges: priced.charges.map(part),
    tax: total(priced.tax),
    toPay: total(priced.toPay),
    toPayInAll: total(priced.toPayInAll),
    carried: priced.reductionCarried && {
      amount: total(priced.reductionCarried.amount),
      onGoods: total(priced.reductionCarried.onGoods),
      share: plain(roundHalfUp(priced.reductionCarried.share, 4)),
      now: total(priced.reductionCarried.now),
    },
    alerts: priced.alerts.map(({ alert, part: id }) => ({
      alert,
      part: id === 'quote' ? 'the quote' : id === 'goods' ? 'the goods' : nameOf(id),
      text: CHANGE_ALERT_TEXT[alert],
    })),
    figures: figuresOf(ws, { list: priced.state.list, lines: linesNow }, priced.state),
    body: row?.body ?? NO_CHANGE,
    keys: linesNow.map((l) => l.id),
  };
}

const NO_CHANGE: ChangeOrderBody = {
  reason: '',
  terms: 'acceptance',
  lines: [],
  goesOnFrom: [],
  charges: [],
  reductionStays: true,
  reduction: null,
};

interface Chain {
  readonly view: ChainView;
  readonly quote: QuoteRow;
  readonly states: States;
}

/** The chain of a quote; `draft`: with this change at its end instead of the draft that is kept. */
async function chainOf(
  source: Source,
  id: number,
  today: string,
  draft?: { body: ChangeOrderBody; by: string; personId: number },
): Promise<Chain> {
  const { db } = source;
  const { quote, lines } = await findQuote(db, id);
  if (quote.state !== 'accepted' || !quote.kept)
    throw refused('quote_not_accepted', { state: QUOTE_STATE_NAMES[quote.state] });
  const rows = await changesOf(db, id);
  const issued = rows.filter((r) => r.state === 'issued');
  const drafts: ChangeRow[] = draft
    ? [
        {
          number: issued.length + 1,
          state: 'draft',
          day: today,
          body: draft.body,
          issued: null,
          kept: null,
          writtenBy: draft.personId,
          by: draft.by,
        },
      ]
    : rows.filter((r) => r.state === 'draft').map((r) => ({ ...r, day: today }));
  const changes = [...issued, ...drafts];
  const states = await statesOf(source, quote, quote.kept, changes, today);
  const asked = question(states, quote, lines, changes);
  const priced = priceChain(states.accepted, asked, (c) => states.ofChange(Number(c.id)));
  if (!priced.ok) throw refusedFor(priced.reason);
  const documents = priced.value.map((d, n) => {
    const row = n === 0 ? null : changes[n - 1]!;
    const ws = row && row.body.terms === 'today' ? states.ofChange(row.number) : states.accepted;
    return row?.issued ?? shown(ws, priced.value[n - 1], d, asked, row);
  });
  const first = bodyOf(quote, lines);
  documents[0] = {
    ...documents[0]!,
    day: quote.acceptedOn!,
    body: { ...NO_CHANGE, lines: first.lines, charges: first.charges, reduction: first.reduction },
  };
  const [customer] = await db
    .select({ name: customers.name })
    .from(customers)
    .where(eq(customers.id, quote.customerId));
  const list = states.accepted.lists.get(String(quote.listId))!;
  return {
    quote,
    states,
    view: {
      quote: String(id),
      number: quote.number,
      customerName: customer!.name,
      version: quote.version,
      acceptedOn: quote.acceptedOn!,
      acceptedNote: quote.acceptedNote,
      credits: quote.credits,
      currency: list.currency,
      taxIn: list.taxIn,
      estimate: first.estimate,
      documents,
    },
  };
}

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
