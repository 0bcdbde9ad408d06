import type { QuoteBody } from '#contract/quotes.ts';
import { type BuyerQuestion, buyerOf } from '#core/lists/buyer.ts';
import { type ChosenList, chooseList } from '#core/lists/choose-list.ts';
import type { QuoteQuestion } from '#core/quotes/questions.ts';
import type { Outcome } from '#core/reasons.ts';
import type { Prepared } from '#core/workspace/prepared.ts';

/** What of a quote decides who buys. */
export type BuyerTerms = Pick<QuoteBody, 'customer'> &
  Partial<Pick<QuoteBody, 'country' | 'region' | 'regionReason' | 'channel'>>;

export function buyerTerms(ws: Prepared, q: BuyerTerms): BuyerQuestion {
  return {
    // a customer that is no longer active keeps the quotes it has
    customer: ws.customers.has(q.customer) ? q.customer : null,
    country: q.country ?? null,
    region: q.region ?? null,
    regionReason: q.regionReason ?? null,
    channel: q.channel ?? null,
  };
}

/** The list a customer buys from on a day, or why there is none. */
export function ownList(ws: Prepared, q: BuyerTerms, day: string): Outcome<ChosenList> {
  const buyer = buyerOf(ws, buyerTerms(ws, q));
  return buyer.ok ? chooseList(ws, buyer.value, day) : buyer;
}

type Line = QuoteBody['lines'][number];

export const linesAsked = (
  lines: readonly Line[],
  id: (line: Line, n: number) => string = (_, n) => String(n),
): QuoteQuestion['lines'] =>
  lines.map((l, n) => ({
    id: id(l, n),
    item: l.item,
    pack: l.pack,
    quantity: l.quantity,
    section: l.section,
    reduction:
      l.reductionKind && l.reductionValue
        ? { kind: l.reductionKind, value: l.reductionValue, zeroConfirmed: l.zeroConfirmed }
        : null,
  }));

/**
 * A quote as the core is asked about it. Where `list` is the one proposed for the buyer, every line is priced as a price
 * check prices it: by the buyer's lists in their order. Any other list was chosen by hand.
 */
export function askedOf(
  ws: Prepared,
  q: BuyerTerms & Pick<QuoteBody, 'lines'> & Partial<Pick<QuoteBody, 'charges' | 'reduction'>>,
  list: string,
  day: string,
): QuoteQuestion {
  const own = ownList(ws, q, day);
  return {
    list: own.ok && own.value.list.id === list ? null : list,
    buyer: buyerTerms(ws, q),
    day,
    lines: linesAsked(q.lines),
    charges: q.charges ?? [],
    reduction: q.reduction ?? null,
  };
}
