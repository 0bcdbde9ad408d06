import { array, type InferType, object } from 'yup';
import { dayText, idText, positiveText, text } from './fields.ts';
import type { Window } from './windows.ts';

/** What became of what somebody asked to be posted. */
export interface Posted {
  /** One for each list; empty: a second person has to agree first. */
  postings: string[];
  /** Prices that are posted, or would be. */
  lines: number;
  /** The request that waits for a second person; null: it was posted. */
  request: string | null;
}

/** Lets prices fall that "raise only" keeps up: on several lists in one posting, or on none. */
export const letFallBody = object({
  effective: dayText().required(),
  reason: text().required('Say why').max(400),
  prices: array(
    object({
      list: idText().required(),
      item: idText().required(),
      pack: idText().required(),
      /** As it was seen. */
      before: positiveText().required(),
      after: positiveText().required(),
    }).noUnknown(),
  )
    .required()
    .min(1, 'Choose at least one price')
    .max(50_000),
}).noUnknown();
export type LetFallBody = InferType<typeof letFallBody>;

export const REQUEST_STATES = ['waiting', 'posted', 'refused', 'withdrawn'] as const;
export type RequestState = (typeof REQUEST_STATES)[number];

export const refuseRequestBody = object({ why: text().required('Say why').max(400) }).noUnknown();

/** A posting that somebody asked for and that a second person has to agree to. */
export interface PostingRequest {
  id: string;
  state: RequestState;
  reason: string;
  effective: string;
  lastDay: string | null;
  by: string;
  at: string;
  /** Asked for by whoever looks: somebody else agrees. */
  own: boolean;
  lists: {
    list: string;
    name: string;
    currency: string;
    prices: number;
    /** Beyond which a second person is asked, in per cent; null: this list alone would not have asked. */
    beyond: string | null;
  }[];
  prices: number;
  /** The worksheet that is to be posted: its prices are looked at there. */
  worksheet: string | null;
  /** Who agreed, refused or withdrew it. */
  decided: { by: string; at: string; why: string | null } | null;
  postings: string[];
}

/** A price that is to be posted; amounts per pack, as its list shows them. */
export interface RequestedPrice {
  list: string;
  listName: string;
  item: string;
  pack: string;
  sku: string;
  name: string;
  packName: string;
  before: string | null;
  after: string;
  changePercent: string | null;
  /** Achieved, in per cent of the price, when it was asked for. */
  margin: string | null;
  /** Why it is typed; null: it is computed. */
  handSet: string | null;
}

export interface RequestedPrices extends Window<RequestedPrice> {
  request: string;
}
