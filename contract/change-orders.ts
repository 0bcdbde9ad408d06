import { type InferType, array, boolean, object, string } from 'yup';
import type { ChangeAlert } from '#core/quotes/change-orders.ts';
import { text, versionNumber } from './fields.ts';
import {
  type QuoteFigures,
  type WrittenCharge,
  type WrittenLine,
  type WrittenReduction,
  quoteCharges,
  quoteLines,
  wholeReduction,
} from './quotes.ts';

/** The customer's yes to an issued quote. */
export const acceptBody = object({
  version: versionNumber(),
  note: text().default('').max(1000),
  /** Whether money is given back where a later change makes less of what was charged. */
  credits: boolean().required(),
}).noUnknown();
export type AcceptBody = InferType<typeof acceptBody>;

/** A change to an accepted quote: the whole as it will be, not only what changes. */
export const changeOrderBody = object({
  reason: text().required('Say what the change is').max(400),
  /** Whose prices and rules count: those of the day of acceptance, or of the change. */
  terms: string()
    .oneOf(['acceptance', 'today'] as const)
    .required(),
  lines: quoteLines(),
  /** By line: the line of the document before that it goes on from; empty: a new line. */
  goesOnFrom: array(text().max(20).defined()).required().max(2000),
  charges: quoteCharges(),
  /** The reduction on the whole stays as agreed, an amount as the same share of the goods. */
  reductionStays: boolean().default(true),
  reduction: wholeReduction(),
}).noUnknown();
export type ChangeOrderBody = InferType<typeof changeOrderBody>;

/** Against the number of documents that were seen, and the state of the draft. */
export const keepChangeBody = changeOrderBody.concat(object({ version: versionNumber() }));

export const CHANGE_ALERT_TEXT: Record<ChangeAlert, string> = {
  base_rises_charge_does_not: 'what it covers rises, but it does not',
  not_credited: 'comes to less than was charged, and is not given back',
  needs_approval: 'needs the approval of a second person',
  refused: 'a floor or a rule refuses it',
};

/** What was, what will be, and what this document asks (below 0: gives back); as the list shows prices. */
export interface ChangePart {
  id: string;
  name: string;
  was: string;
  now: string;
  difference: string;
  /** Would have been given back, and stays charged; null: nothing. */
  notCredited: string | null;
}

/** A change as it was written. */
export interface WrittenChange {
  reason: string;
  terms: 'acceptance' | 'today';
  lines: WrittenLine[];
  goesOnFrom: string[];
  charges: WrittenCharge[];
  reductionStays: boolean;
  reduction: WrittenReduction | null;
}

/** The accepted quote, or a change to it. */
export interface ChainDocument {
  /** 0: the accepted quote; counted from 1: its changes. */
  number: number;
  state: 'accepted' | 'draft' | 'issued';
  day: string;
  reason: string;
  by: string;
  terms: 'acceptance' | 'today';
  lines: (ChangePart & { sku: string; packName: string; quantityWas: string | null; quantityNow: string | null })[];
  goods: ChangePart;
  charges: ChangePart[];
  tax: string;
  toPay: string;
  toPayInAll: string;
  /** An amount off the whole that was carried over as the same share of the goods. */
  carried: { amount: string; onGoods: string; share: string; now: string } | null;
  alerts: { alert: ChangeAlert; part: string; text: string }[];
  /** The whole as it is after this document. */
  figures: QuoteFigures;
  /** What was asked, to go on from. */
  body: WrittenChange;
  /** Names of its lines, which the next document goes on from. */
  keys: string[];
}

export interface ChainView {
  quote: string;
  number: string;
  customerName: string;
  version: number;
  acceptedOn: string;
  acceptedNote: string;
  credits: boolean;
  currency: string;
  taxIn: boolean;
  /** What the customer was told before: never overwritten by what is computed. */
  estimate: string | null;
  documents: ChainDocument[];
}
