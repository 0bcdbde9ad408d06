import { boolean, object } from 'yup';
import { versionNumber } from './fields.ts';

export const followRatesBody = object({ version: versionNumber(), follow: boolean().required() }).noUnknown();

/** More than this, in per cent, between a fetched rate and the one that counts is looked at by a person first. */
export const RATE_MOVE_LOOKED_AT = 3;

/** The latest fetched rate of a pair, beside the one that counts. */
export interface FetchedPair {
  from: string;
  to: string;
  day: string;
  rate: string;
  /** What counts on that day; null: none is kept. */
  counts: { day: string; rate: string } | null;
  /** Of the fetched against it, per cent. */
  changePercent: string | null;
}

/** Rates as a service quotes them. Nothing is made from them before they are taken. */
export interface FetchedRates {
  version: number;
  /** The newest is taken by itself where it moves little. */
  follow: boolean;
  lastAnswer: string | null;
  /** Why the last try brought nothing. */
  trouble: string | null;
  pairs: FetchedPair[];
  series: { from: string; to: string; day: string; rate: string }[];
}
