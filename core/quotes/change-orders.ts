import { Derivation, type Step } from '../buildup/steps.ts';
import { type Dec, ZERO, dec, divide, percent, plain } from '../numbers/decimal.ts';
import { type Outcome, figure } from '../reasons.ts';
import type { Day } from '../numbers/day.ts';
import type { QuotesView } from './view.ts';
import { priceQuote } from './price-quote.ts';
import type { PricedCharge, PricedQuote, QuoteCharge, QuoteQuestion, WholeReduction } from './questions.ts';
import { TaxSums } from './tax-sums.ts';

export interface ChangeQuestion {
  readonly id: string;
  readonly day: Day;
  /** Whose lists, rules and breaks count: those of the day of acceptance (the default) or of the change. */
  readonly terms?: 'acceptance' | 'today';
  /** The whole quote as it will be, not only what changes. */
  readonly lines: QuoteQuestion['lines'];
  /** Absent: as before the change. */
  readonly charges?: readonly QuoteCharge[];
  /** Absent: as before the change; an amount as the same share of the goods. */
  readonly reduction?: QuoteQuestion['reduction'];
}

export interface ChainQuestion {
  /** As it was accepted, on the day of acceptance. */
  readonly accepted: QuoteQuestion;
  readonly changes: readonly ChangeQuestion[];
  /** Whether money is given back where a change makes less of what was charged. */
  readonly credits: 'allowed' | 'none';
}

export const CHANGE_ALERTS = ['base_rises_charge_does_not', 'not_credited', 'needs_approval', 'refused'] as const;
export type ChangeAlert = (typeof CHANGE_ALERTS)[number];

/** What was, what will be and the difference; as the list shows prices. */
export interface Part {
  readonly id: string;
  readonly name: string;
  readonly was: Dec;
  readonly now: Dec;
  /** What earlier documents of the chain charged. */
  readonly charged: Dec;
  /** What this document asks (below 0: gives back). */
  readonly difference: Dec;
  /** What would have been given back, and stays charged. */
  readonly notCredited: Dec;
}

export interface ChargePart extends Part {
  readonly covered: Dec;
  readonly steps: readonly Step[];
}

export interface ChainDocument {
  readonly id: string;
  readonly day: Day;
  /** The price of the quote as it now is, under the terms that count. */
  readonly state: PricedQuote;
  readonly lines: readonly { readonly id: string; readonly was: Dec; readonly now: Dec; readonly difference: Dec }[];
  /** All lines that are no proportional charge, together. */
  readonly goods: Part;
  /** An amount off the whole quote that was carried over as the same share of the goods. */
  readonly reductionCarried: ReductionCarried | null;
  readonly charges: readonly ChargePart[];
  readonly tax: Dec;
  /** To pay with this document, tax in; below 0 to give back. */
  readonly toPay: Dec;
  /** All documents up to this one. */
  readonly toPayInAll: Dec;
  readonly alerts: readonly { readonly alert: ChangeAlert; readonly part: string }[];
}

/** Figures as the list shows prices. */
export interface ReductionCarried {
  readonly amount: Dec;
  readonly onGoods: Dec;
  /** In per cent of the goods. */
  readonly share: Dec;
  readonly now: Dec;
}

/** Amounts by tax rate, as the list shows prices. */
interface Charged {
  readonly total: Dec;
  readonly byRate: readonly { readonly percent: string; readonly shown: Dec }[];
}

const NOTHING: Charged = { total: ZERO, byRate: [] };

/**
 * A chain of documents: the accepted quote and every change to it. Each is priced as a whole; the difference is the new
 * state less what all earlier documents charged, for the goods together and for every proportional charge by itself.
 * Without credits a part never asks less than it has charged. docs/arithmetic.md, "Change orders".
 */
export function priceChain(
  ws: QuotesView,
  q: ChainQuestion,
  /** What counts for a change under the terms of its own day, where that is another state than `ws`. */
  ofChange: (change: ChangeQuestion) => QuotesView = () => ws,
): Outcome<readonly ChainDocument[]> {
  const first = priceQuote(ws, q.accepted);
  if (!first.ok) return first;
  const frozen = frozenCharges(first.value);
  const chain = new Chain(q.credits);
  const accepted = chain.add('accepted', q.accepted.day, first.value);
  if (!accepted.ok) return accepted;
  const out = [accepted.value];
  let charges = frozen;
  let reduction = asShare(q.accepted.reduction ?? null, first.value);
  for (const [i, change] of q.changes.entries()) {
    if (change.charges) charges = change.charges.map((c) => ({ ...frozen.find((f) => f.charge === c.charge), ...c }));
    const told = change.reduction !== undefined;
    if (told) reduction = change.reduction ?? null;
    const own = change.terms === 'today';
    const state = priceQuote(own ? ofChange(change) : ws, {
      ...q.accepted,
      day: own ? change.day : q.accepted.day,
      lines: change.lines,
      charges,
      reduction,
    });
    const document = state.ok ? chain.add(change.id, change.day, state.value, told ? null : reduction) : state;
    if (told && state.ok) reduction = asShare(reduction, state.value);
    if (!document.ok) {
      const { reason } = document;
      return { ok: false, reason: { ...reason, path: `changes/${i}/${reason.path}` } };
    }
    out.push(document.value);
  }
  return figure(out);
}

/** An amount off the whole quote, bound to the goods it was given on. */
function asShare(reduction: WholeReduction | null, { reduction: given }: PricedQuote): WholeReduction | null {
  if (reduction?.kind !== 'amount_off' || !given || reduction.ofGoods) return reduction;
  return { ...reduction, ofGoods: plain(given.goods) };
}

/** The charges with the rate, least and most of the day of acceptance. */
function frozenCharges(priced: PricedQuote): QuoteCharge[] {
  return priced.charges.flatMap((c) => (c.terms ? [{ charge: c.id, ...c.terms }] : []));
}

class Chain {
  private goods: Charged = NOTHING;
  private readonly charges = new Map<string, Charged>();
  private readonly names = new Map<string, string>();
  private state: PricedQuote | null = null;
  private inAll = ZERO;
  private taxInAll = ZERO;

  constructor(private readonly credits: ChainQuestion['credits']) {}

  /** `carried`: the reduction on the whole quote where it comes from an earlier document. */
  add(id: string, day: Day, state: PricedQuote, carried: WholeReduction | null = null): Outcome<ChainDocument> {
    const failed = state.lines.find((l) => !l.priced.ok)?.priced;
    if (failed && !failed.ok) return failed;
    const alerts: { alert: ChangeAlert; part: string }[] = [];
    if (state.outcome === 'asks_approval') alerts.push({ alert: 'needs_approval', part: 'quote' });
    if (state.outcome === 'refused') alerts.push({ alert: 'refused', part: 'quote' });
    const before = this.state;
    const goodsNow = goodsOf(state);
    const goods = this.part('goods', 'lines', before ? goodsOf(before).total : ZERO, goodsNow, this.goods);
    this.goods = this.kept(goodsNow, this.goods);
    const seen = new Set(this.charges.keys());
    for (const c of state.charges) if (c.kind === 'proportional') seen.add(c.id);
    const charges = [...seen].map((charge): ChargePart => {
      const now = proportional(state, charge);
      const was = before ? proportional(before, charge) : undefined;
      if (now) this.names.set(charge, now.name);
      const charged = this.charges.get(charge) ?? NOTHING;
      const chargedNow = now ? chargedFor(now) : NOTHING;
      const part = this.part(charge, this.names.get(charge)!, was?.total ?? ZERO, chargedNow, charged);
      this.charges.set(charge, this.kept(chargedNow, charged));
      const covered = now?.covered ?? ZERO;
      if (before && covered.gt(was?.covered ?? ZERO) && part.difference.lte(0))
        alerts.push({ alert: 'base_rises_charge_does_not', part: charge });
      return { ...part, covered, steps: chargeSteps(now, part, state.currency) };
    });
    for (const p of [goods, ...charges])
      if (!p.notCredited.isZero()) alerts.push({ alert: 'not_credited', part: p.id });
    const totals = this.totals(state);
    const document: ChainDocument = {
      id,
      day,
      state,
      lines: lineParts(before, state),
      goods,
      reductionCarried: carriedOver(carried, state),
      charges,
      tax: totals.tax.minus(this.taxInAll),
      toPay: totals.toPay.minus(this.inAll),
      toPayInAll: totals.toPay,
      alerts,
    };
    this.taxInAll = totals.tax;
    this.inAll = totals.toPay;
    this.state = state;
    return figure(document);
  }

  /** What stays charged after a document: the new state, or without credits the highest. */
  private kept(now: Charged, charged: Charged): Charged {
    return this.credits === 'allowed' || now.total.gte(charged.total) ? now : charged;
  }

  private part(id: string, name: string, was: Dec, now: Charged, charged: Charged): Part {
    const difference = this.kept(now, charged).total.minus(charged.total);
    const notCredited = charged.total.plus(difference).minus(now.total);
    return { id, name, was, now: now.total, charged: charged.total, difference, notCredited };
  }

  /** All that is charged so far, its tax rounded once per rate. */
  private totals(state: PricedQuote): { tax: Dec; toPay: Dec } {
    const sums = new TaxSums(state);
    let shown = ZERO;
    for (const c of [this.goods, ...this.charges.values()]) {
      shown = shown.plus(c.total);
      for (const { percent, shown: amount } of c.byRate) sums.add(percent, amount);
    }
    const tax = sums.lines().reduce((sum, t) => sum.plus(t.tax), ZERO);
    return { tax, toPay: state.taxIn ? shown : shown.plus(tax) };
  }
}

function carriedOver(carried: WholeReduction | null, { reduction }: PricedQuote): ReductionCarried | null {
  if (!carried?.ofGoods || !reduction) return null;
  const [amount, onGoods] = [dec(carried.value), dec(carried.ofGoods)];
  if (onGoods.isZero() || reduction.goods.eq(onGoods)) return null;
  return { amount, onGoods, share: percent(divide(amount, onGoods)), now: reduction.asked };
}

const proportional = (state: PricedQuote, id: string): PricedCharge | undefined =>
  state.charges.find((c) => c.kind === 'proportional' && c.id === id);

const chargedFor = (c: PricedCharge): Charged => ({
  total: c.total,
  byRate: [{ percent: c.taxPercent, shown: c.total }],
});

function goodsOf(state: PricedQuote): Charged {
  const byRate: { percent: string; shown: Dec }[] = [];
  let total = ZERO;
  for (const { priced } of state.lines) {
    if (!priced.ok) continue;
    total = total.plus(priced.value.total);
    byRate.push(...priced.value.taxed);
  }
  for (const c of state.charges) {
    if (c.kind !== 'rule') continue;
    total = total.plus(c.total);
    byRate.push({ percent: c.taxPercent, shown: c.total });
  }
  return { total, byRate };
}

function lineParts(before: PricedQuote | null, state: PricedQuote): ChainDocument['lines'] {
  const totals = (quote: PricedQuote | null) =>
    new Map(quote?.lines.map((l) => [l.id, l.priced.ok ? l.priced.value.total : ZERO]) ?? []);
  const [was, now] = [totals(before), totals(state)];
  return [...new Set([...was.keys(), ...now.keys()])].map((id) => {
    const [a, b] = [was.get(id) ?? ZERO, now.get(id) ?? ZERO];
    return { id, was: a, now: b, difference: b.minus(a) };
  });
}

/** The charge on the new whole, less what the chain already charged. */
function chargeSteps(now: PricedCharge | undefined, part: Part, currency: string): readonly Step[] {
  const d = new Derivation();
  const line = { currency, per: 'line' as const };
  if (now) d.continueFrom(now.steps, now.total);
  else
    d.add({
      ...line,
      kind: 'charge',
      operation: { op: 'start', value: '0' },
      facts: { charge: 'no longer on the quote' },
    });
  d.add({
    ...line,
    kind: 'charged_before',
    operation: { op: 'plus', value: plain(part.charged.negated()) },
    facts: { 'charged by earlier documents': plain(part.charged) },
  });
  if (!part.notCredited.isZero()) {
    d.add({
      ...line,
      kind: 'charged_before',
      operation: { op: 'set', value: plain(part.difference) },
      facts: { 'not credited': plain(part.notCredited) },
    });
  }
  return d.steps;
}
