import type { Step } from '#core/buildup/steps.ts';
import { dec, money } from '#core/numbers/decimal.ts';
import { type InferType, array, boolean, object, string } from 'yup';
import { dayText, decimalText, idText, optional, positiveText, priceText, wholeNumber, text } from './fields.ts';

const countryText = () =>
  text().matches(/^[A-Z]{2}$/, { message: 'must be a country code such as NO', excludeEmptyString: true });
const section = () => text().max(80);

/** The lines of a quote. */
export const quoteLines = () =>
  array(
    object({
      item: idText().required(),
      pack: idText().required(),
      quantity: positiveText().required(),
      /** The part of the quote it stands in. */
      section: optional(section()),
      reductionKind: optional(string().oneOf(['percent_off', 'amount_off', 'price'] as const)),
      reductionValue: optional(positiveText()),
      /** Goods for nothing are meant. */
      zeroConfirmed: boolean().default(false),
    })
      .noUnknown()
      .test('reduction', '', function (line) {
        if ((line.reductionKind === null) === (line.reductionValue === null)) return true;
        return this.createError({
          path: `${this.path}.reductionValue`,
          message: 'a reduction needs its kind and its value',
        });
      }),
  )
    .required()
    .max(2000);

/** Proportional charges on a quote: on all its lines or on those of some sections; for how many months or years. */
export const quoteCharges = () =>
  array(
    object({
      charge: idText().required(),
      sections: array(section().required()).max(100).default([]),
      periods: optional(priceText()),
    }).noUnknown(),
  )
    .max(50)
    .default([]);

/** A reduction on the goods of the whole quote, or of some of its sections: per cent, or an amount as the list shows prices. */
export const wholeReduction = () =>
  object({
    kind: string()
      .oneOf(['percent_off', 'amount_off'] as const)
      .required(),
    value: positiveText().required(),
    sections: array(section().required()).max(100).default([]),
  })
    .noUnknown()
    .nullable()
    .default(null);

export const quoteBody = object({
  customer: idText().required('Choose a customer'),
  /** Where the goods go; empty: the customer's country. */
  country: optional(countryText()),
  /** Goes before the country's own region, and then needs its reason. */
  region: optional(idText()),
  regionReason: optional(text().max(200)),
  channel: optional(text().max(120)),
  list: optional(idText()),
  listReason: optional(text().max(200)),
  validUntil: optional(dayText()),
  note: text().default('').max(2000),
  lines: quoteLines(),
  charges: quoteCharges(),
  reduction: wholeReduction(),
  /** What the customer was told it would come to, tax in, in the quote's currency: stands beside the sum, never in it. */
  estimate: optional(positiveText()),
}).noUnknown();
export type QuoteBody = InferType<typeof quoteBody>;
export type QuoteLineBody = QuoteBody['lines'][number];

export const changeQuoteBody = quoteBody.concat(object({ version: wholeNumber().required() }));
export const versionBody = object({ version: wholeNumber().required() }).noUnknown();
export const decideBody = object({
  version: wholeNumber().required(),
  decision: string()
    .oneOf(['approved', 'declined'] as const)
    .required(),
  note: text().default('').max(1000),
}).noUnknown();

export interface QuoteLineFigures {
  sku: string;
  name: string;
  packName: string;
  quantity: string;
  listPrice: string | null;
  unitPrice: string | null;
  total: string | null;
  reason: string | null;
  /** The figures are null for who may not see what they are made from. */
  broken: {
    /** Null: not for who may not see what it is made from. */
    name: string | null;
    outcome: 'lift' | 'ask' | 'refuse';
    least: string | null;
    short: string | null;
    fromCost: boolean;
  } | null;
  slices: { from: string; quantity: string; price: string }[];
  /** The list that gave the price, where it is not the quote's own. */
  otherList: string | null;
  /** Of the quantity, what costs nothing but its deposit. */
  freeUnits: string | null;
  /** The usual price, where a dated one stands that is dearer. */
  dearerThanUsual: string | null;
  /** An earlier price shown struck beside the price: only where it is true and higher. */
  struck: string | null;
  /** Rules that ask for approval, by name. */
  asks: string[];
  /** Floors that could not be held against the price, and why. */
  floorsNotApplied: { name: string; why: string }[];
  /** Of a reduction on the whole quote, as the list shows prices; null: none. */
  shareOfReduction: string | null;
  /** Net of tax and deposit; null: no price. */
  netTotal: string | null;
  /** Net total less landed cost; only for those who may see costs. */
  profit: string | null;
  /** Why an earlier price that a rule proposes is not shown; null: it is, or none is proposed. */
  notStruck: string | null;
  /** Rules that refuse the line, in words; a floor that refuses it stands in `broken`. */
  refused: string[];
  breakWords: string | null;
  buyMore: { buy: string; saves: string } | null;
  /** Only for those who may see costs. */
  margin: string | null;
  steps: readonly Step[];
}

/**
 * The total of a line before its share of a discount on the whole quote: that times price and quantity, which a customer can
 * check. The discount is a line of its own below.
 */
export const totalBeforeDiscount = ({ total, shareOfReduction }: QuoteLineFigures): string | null =>
  total === null || shareOfReduction === null
    ? total
    : money(dec(total).plus(shareOfReduction), total.split('.')[1]?.length ?? 0);

/** A line of a quote that is no item; amounts as the list shows prices. */
export interface ShownCharge {
  id: string;
  name: string;
  kind: 'proportional' | 'rule';
  total: string;
  net: string;
  taxPercent: string;
  /** Net total of what it covers; null: a rule added it. */
  covered: string | null;
  /** What it was worked out with; null: a rule added it. */
  terms: {
    percent: string;
    least: string | null;
    most: string | null;
    sections: string[];
    periods: string | null;
  } | null;
  /** What rate, least and most are for; the total is for all periods. */
  period: 'month' | 'year' | null;
  steps: readonly Step[];
}

export interface QuoteFigures {
  currency: string;
  taxIn: boolean;
  decimals: number;
  lines: QuoteLineFigures[];
  /** Lines that are no item, as the list shows prices. */
  charges: ShownCharge[];
  /** What was asked off the whole, and what could be given within the floors (null: not for who may not see costs); as the list shows prices. */
  reduction: { asked: string; given: string; possible: string | null; goods: string; refused: string | null } | null;
  /** Net sales less landed cost over the lines whose cost is known; only for those who may see costs. */
  profit: string | null;
  linesTotal: string;
  taxes: { percent: string; net: string; tax: string }[];
  net: string;
  toPay: string;
  margin: string | null;
  outcome: 'fine' | 'asks_approval' | 'refused' | 'incomplete';
}

export type QuoteState = 'draft' | 'waiting' | 'approved' | 'issued' | 'accepted';
export const QUOTE_STATE_NAMES: Record<QuoteState, string> = {
  draft: 'draft',
  waiting: 'waiting for approval',
  approved: 'approved',
  issued: 'issued',
  accepted: 'accepted',
};

export interface QuoteSummary {
  id: string;
  version: number;
  number: string;
  customer: string;
  customerName: string;
  listName: string;
  day: string;
  state: QuoteState;
  writtenBy: string;
  /** As it was issued, tax in; null: not issued yet, its prices still move. */
  toPay: string | null;
  currency: string;
}

/** A line as it was written. */
export interface WrittenLine {
  item: string;
  pack: string;
  quantity: string;
  section: string | null;
  reductionKind: 'percent_off' | 'amount_off' | 'price' | null;
  reductionValue: string | null;
  zeroConfirmed: boolean;
}
export interface WrittenCharge {
  charge: string;
  sections: string[];
  periods: string | null;
}
export interface WrittenReduction {
  kind: 'percent_off' | 'amount_off';
  value: string;
  sections: string[];
}

export interface QuoteView extends QuoteSummary {
  group: string | null;
  groupName: string | null;
  list: string;
  listWhy: string;
  listLost: { name: string; why: string }[];
  listReason: string | null;
  validUntil: string | null;
  note: string;
  country: string | null;
  region: string | null;
  /** The region the goods go to, by its country or by hand; null: none is known. */
  regionName: string | null;
  regionReason: string | null;
  channel: string | null;
  lines: WrittenLine[];
  charges: WrittenCharge[];
  reduction: WrittenReduction | null;
  estimate: string | null;
  figures: QuoteFigures;
  decisions: { decision: 'approved' | 'declined'; note: string; by: string; at: string; version: number }[];
  writtenById: string;
  /** Every hand that was on it, the first first. */
  hands: { by: string; at: string; did: string }[];
}

/** A quote that is being written: nothing of it is kept. */
export interface QuoteTried {
  list: string;
  listWhy: string;
  regionName: string | null;
  figures: QuoteFigures;
}

/** Asking what a customer would pay, without writing a quote. */
export const priceCheckBody = object({
  customer: optional(idText()),
  /** Instead of the customer's own groups. */
  group: optional(idText()),
  /** Where the goods go; empty: the customer's country. */
  country: optional(countryText()),
  channel: optional(text().max(120)),
  item: idText().required(),
  pack: idText().required(),
  quantity: decimalText().required(),
  day: dayText().required(),
}).noUnknown();
export type PriceCheckBody = InferType<typeof priceCheckBody>;

/** What somebody would pay, and every reason for it. */
export interface PriceCheck {
  /** The list that gives the price; null: none does. */
  list: { id: string; name: string; why: string } | null;
  /** The lists meant for the buyer, in their order, and what became of each. */
  candidates: { name: string; why: string; wins: boolean }[];
  /** Lists that are not meant for the buyer, and why. */
  leftOut: { name: string; why: string }[];
  /** The region the goods go to, by its country; null: none is known. */
  region: string | null;
  figures: QuoteFigures;
  /** How the posted price came about; only for those who may see cost. */
  behind: readonly Step[] | null;
}
