import { asc, eq } from 'drizzle-orm';
import {
  CHANGE_ALERT_TEXT,
  type ChainDocument,
  type ChainView,
  type ChangeOrderBody,
  type ChangePart,
} from '#contract/change-orders.ts';
import { QUOTE_STATE_NAMES } from '#contract/quotes.ts';
import { minorUnits } from '#core/numbers/currency.ts';
import { type Dec, money, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import { type ChainDocument as Priced, type ChainQuestion, type Part, priceChain } from '#core/quotes/change-orders.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import { people } from '../people/tables.ts';
import type { Context } from '../platform/context.ts';
import type { Queries, Tx } from '../platform/database.ts';
import { refused, refusedFor } from '../platform/refused.ts';
import { customers } from '../setup/tables.ts';
import { workspaceIn, workspaceOn } from '../workspace/state.ts';
import { figuresOf } from './figures.ts';
import { keptState } from './kept-terms.ts';
import { askedOf, linesAsked } from './question.ts';
import { type LineRow, type QuoteRow, bodyOf, findQuote } from './store.ts';
import { type KeptTerms, quoteChanges } from './tables.ts';

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

export async function changesOf(db: Queries, quote: number): Promise<ChangeRow[]> {
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

export const itemsIn = (lines: readonly { item: string }[]): string[] => lines.map((l) => l.item);

/** Where a chain is read from: the state of a day, and the database beside it. */
interface Source {
  readonly db: Queries;
  readonly on: (day: string) => Promise<Prepared>;
}
export const looking = ({ db }: Here): Source => ({ db, on: async (day) => (await workspaceOn(db, day)).ws });
/** What is kept is priced by a state that nobody changes until it is, read on the transaction's own connection. */
export const keeping = ({ db }: Here, tx: Tx): Source => ({
  db: tx,
  on: async (day) => (await workspaceIn(tx, db, day)).ws,
});

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
    figures: figuresOf(ws, { lines: linesNow }, priced.state),
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
export async function chainOf(
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
