import type { Step } from '../buildup/steps.ts';
import type { BuyerQuestion } from '../lists/buyer.ts';
import type { Unposted } from '../lists/list-price.ts';
import type { Dec } from '../numbers/decimal.ts';
import type { Outcome, Reason } from '../reasons.ts';
import type { Day } from '../numbers/day.ts';
import type { ChargePeriod } from './charges.ts';
import type { FloorOutcome } from './floors.ts';
import type { BreakCounting } from './lowest-price.ts';
import type { TaxLine } from './tax-sums.ts';

export const REDUCTION_KINDS = ['percent_off', 'amount_off', 'price'] as const;

export interface QuoteLineQuestion {
  readonly id: string;
  readonly item: string;
  readonly pack: string;
  readonly quantity: string;
  /** A reduction the seller gives by hand, on the goods, never on the deposit. */
  readonly reduction?: {
    readonly kind: (typeof REDUCTION_KINDS)[number];
    readonly value: string;
    /** Goods for nothing are meant. */
    readonly zeroConfirmed?: boolean;
  } | null;
  /** The part of the quote it stands in. */
  readonly section?: string | null;
  readonly attributes?: Readonly<Record<string, string>> | null;
}

/** A proportional charge on a quote; a quote that was accepted keeps the rate, least and most of that day here. */
export interface QuoteCharge {
  readonly charge: string;
  readonly percent?: string | null;
  /** In the quote's currency. */
  readonly least?: string | null;
  readonly most?: string | null;
  /** Only the lines of these sections are covered; absent or empty: of all. */
  readonly sections?: readonly string[] | null;
  /** How many months or years a charge per period is for; absent: one. */
  readonly periods?: string | null;
}

/** A reduction on the goods of a quote: per cent, or an amount as the list shows prices. */
export interface WholeReduction {
  readonly kind: 'percent_off' | 'amount_off';
  readonly value: string;
  /** Only of the lines of these sections; absent or empty: of all. */
  readonly sections?: readonly string[] | null;
  /** An amount that was given on goods of this total: it is carried as the same share of the goods as they are now. */
  readonly ofGoods?: string | null;
}

export interface QuoteQuestion {
  readonly buyer: BuyerQuestion;
  /** The list chosen by hand: it answers before those that come after it for the buyer; absent: the buyer's, line by line. */
  readonly list?: string | null;
  readonly day: Day;
  readonly lines: readonly QuoteLineQuestion[];
  readonly charges?: readonly QuoteCharge[];
  readonly reduction?: WholeReduction | null;
  readonly attributes?: Readonly<Record<string, string>> | null;
  /** Absent: a price that is not posted is refused. */
  readonly unposted?: Unposted;
}

export interface BrokenFloor {
  readonly floor: string;
  readonly name: string;
  readonly outcome: FloorOutcome;
  /** Whether its figure is made from cost: then it is shown only to who may see cost. */
  readonly fromCost: boolean;
  /** The least unit price, as the list shows it, rounded up to the list's decimals. */
  readonly least: Dec;
  /** How far the price was under it, as the list shows it. */
  readonly short: Dec;
}

/** An earlier price that a rule proposes to be struck beside the price asked. */
export interface StruckPrice {
  readonly rule: string;
  /** As the list shows it, per pack; null: the ledger knows none. */
  readonly price: Dec | null;
  /** The lowest that was posted in the 30 days before, and since when. */
  readonly lowest: Dec | null;
  readonly on: Day | null;
  /** Only what is true and higher may be shown. */
  readonly shown: boolean;
  readonly why: string | null;
}

export interface PricedLine {
  readonly id: string;
  /** The list that gave the price. */
  readonly list: string;
  /** Per pack, as the list shows it; an average over the slices where breaks are sliced (only for showing). */
  readonly unitPrice: Dec;
  readonly listPrice: Dec;
  /** As the list shows it, to the currency's minor unit, after the line's share of a reduction on the whole quote. */
  readonly total: Dec;
  /** The line's share of a reduction on the whole quote, as the list shows prices. */
  readonly shareOfReduction: Dec;
  /** Units that cost nothing but their deposit. */
  readonly freeUnits: Dec;
  /** Net of tax and deposit. */
  readonly netTotal: Dec;
  /** The total by tax rate: goods and deposit, as the list shows prices. */
  readonly taxed: readonly { readonly percent: string; readonly shown: Dec }[];
  /** Landed cost of the line in the quote's currency; null: unknown. */
  readonly costTotal: Dec | null;
  readonly margin: Dec | null;
  /** Net total less landed cost. */
  readonly profit: Dec | null;
  /** The usual price, where a dated entry stands that is dearer. */
  readonly dearerThanUsual: Dec | null;
  readonly struck: StruckPrice | null;
  readonly brokenFloor: BrokenFloor | null;
  readonly floorsNotApplied: readonly { readonly id: string; readonly name: string; readonly why: string }[];
  /** Names of the rules that ask for approval. */
  readonly asks: readonly string[];
  /** Why the line must not be sold as it is: floors and rules that refuse it. */
  readonly refused: readonly Reason[];
  readonly slices: readonly { readonly from: Dec; readonly quantity: Dec; readonly price: Dec }[];
  /** The breaks that reach the line, also those of the buyer's group or of the list its price is taken from; null: none do. */
  readonly breaks: BreakCounting | null;
  /** "Buy 3 more and pay less in all." */
  readonly buyMore: { readonly buy: Dec; readonly saves: Dec } | null;
  readonly steps: readonly Step[];
}

/** A line of the quote that is no item: a proportional charge, or one that a rule added. */
export interface PricedCharge {
  readonly id: string;
  readonly name: string;
  readonly kind: 'proportional' | 'rule';
  /** As the list shows prices, to the minor unit. */
  readonly total: Dec;
  readonly net: Dec;
  readonly taxPercent: string;
  /** Net total of what it covers; only for proportional ones. */
  readonly covered: Dec | null;
  /** The rate, least and most it was computed with, in the quote's currency; only for proportional ones. */
  readonly terms: {
    readonly percent: string;
    readonly least: string | null;
    readonly most: string | null;
    readonly sections: readonly string[] | null;
    readonly periods: string | null;
  } | null;
  /** What amount, least and most are for, where it is charged per period; the total is for all periods. */
  readonly period: ChargePeriod | null;
  readonly steps: readonly Step[];
}

export interface PricedQuote {
  readonly currency: string;
  readonly taxIn: boolean;
  /** The list in whose currency and terms the quote is. */
  readonly list: string;
  readonly lines: readonly { readonly id: string; readonly priced: Outcome<PricedLine> }[];
  readonly charges: readonly PricedCharge[];
  /** Asked and possible, where a reduction on the whole quote was asked; as the list shows prices. */
  readonly reduction: {
    readonly asked: Dec;
    readonly given: Dec;
    readonly possible: Dec;
    /** The goods it was asked on, as the list shows them. */
    readonly goods: Dec;
    readonly refused: Reason | null;
  } | null;
  /** Sum of the line totals and charges, as the list shows them. */
  readonly linesTotal: Dec;
  readonly taxes: readonly TaxLine[];
  readonly net: Dec;
  readonly toPay: Dec;
  /** Profit ÷ net sales over the lines whose cost is known; null where none is. */
  readonly margin: Dec | null;
  /** Net sales less landed cost over the same lines. */
  readonly profit: Dec | null;
  readonly outcome: 'fine' | 'asks_approval' | 'refused' | 'incomplete';
}
