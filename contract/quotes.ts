import type { Step } from '#core/buildup/steps.ts';
import { type InferType, array, object, string } from 'yup';
import { dayText, decimalText, idText, optional, positiveText, wholeNumber, text } from './fields.ts';

export const quoteBody = object({
  customer: idText().required('Choose a customer'),
  list: optional(idText()),
  listReason: optional(text().max(200)),
  validUntil: optional(dayText()),
  note: text().default('').max(2000),
  lines: array(
    object({
      item: idText().required(),
      pack: idText().required(),
      quantity: positiveText().required(),
      reductionKind: optional(string().oneOf(['percent_off', 'amount_off', 'price'] as const)),
      reductionValue: optional(positiveText()),
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
    .max(2000),
}).noUnknown();
export type QuoteBody = InferType<typeof quoteBody>;

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
    name: string;
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
  /** Rules that refuse the line, in words; a floor that refuses it stands in `broken`. */
  refused: string[];
  breakWords: string | null;
  buyMore: { buy: string; saves: string } | null;
  /** Only for those who may see costs. */
  margin: string | null;
  steps: readonly Step[];
}

export interface QuoteFigures {
  currency: string;
  taxIn: boolean;
  decimals: number;
  lines: QuoteLineFigures[];
  /** Lines that are no item, as the list shows prices. */
  charges: { name: string; total: string; taxPercent: string }[];
  linesTotal: string;
  taxes: { percent: string; net: string; tax: string }[];
  net: string;
  toPay: string;
  margin: string | null;
  outcome: 'fine' | 'asks_approval' | 'refused' | 'incomplete';
}

export type QuoteState = 'draft' | 'waiting' | 'approved' | 'issued';
export const QUOTE_STATE_NAMES: Record<QuoteState, string> = {
  draft: 'draft',
  waiting: 'waiting for approval',
  approved: 'approved',
  issued: 'issued',
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
  lines: {
    item: string;
    pack: string;
    quantity: string;
    reductionKind: 'percent_off' | 'amount_off' | 'price' | null;
    reductionValue: string | null;
  }[];
  figures: QuoteFigures;
  decisions: { decision: 'approved' | 'declined'; note: string; by: string; at: string; version: number }[];
  writtenById: string;
  /** Every hand that was on it, the first first. */
  hands: { by: string; at: string; did: string }[];
}

/** A quote that is being written: nothing of it is kept. */
export interface QuoteTried {
  list: string;
  figures: QuoteFigures;
}

/** Asking what a customer would pay, without writing a quote. */
export const priceCheckBody = object({
  customer: optional(idText()),
  /** Instead of the customer's own groups. */
  group: optional(idText()),
  /** Where the goods go; empty: the customer's country. */
  country: optional(
    text().matches(/^[A-Z]{2}$/, { message: 'must be a country code such as NO', excludeEmptyString: true }),
  ),
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
