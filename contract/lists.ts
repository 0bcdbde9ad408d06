import type { Step } from '#core/buildup/steps.ts';
import { type InferType, array, boolean, object, string } from 'yup';
import { PRICE_HARMS, type PriceHarm } from '#core/lists/price-harm.ts';
import type { Look } from './looks.ts';
import { MOST_ROWS, type Window, arrangedBody } from './windows.ts';
import { dayText, idText, optional, positiveText, text, priceText } from './fields.ts';
import type { ListPriceRow } from './list-row.ts';

/** A stretch of a list's prices, posted beside computed. */
export interface ListPrices extends Window<ListPriceRow> {
  list: {
    id: string;
    version: number;
    name: string;
    currency: string;
    taxIn: boolean;
    decimals: number;
    recipe: string | null;
    recipeName: string | null;
  };
  day: string;
  /** How many rows each look shows, whatever is filtered. */
  looks: Record<Look, number>;
  /** How what is computed stands to what is posted, of all rows; zeros for those who may not see costs. */
  summary: { up: number; down: number; unchanged: number };
}

/** What of a list is to be posted, of the rows that fit. */
export const toPostBody = object({
  arranged: arrangedBody.required(),
  /**
   * Typed: what was typed, whether its rows fit or not. Computed: what the recipes propose in the rows that fit, without what
   * was typed. Changes: both. Releases: what the recipe makes, in place of prices that were typed.
   */
  what: string().oneOf(['changes', 'typed', 'computed', 'releases']).default('changes'),
  typed: array(
    object({ item: idText().required(), pack: idText().required(), after: priceText().required() }).noUnknown(),
  )
    .max(250_000)
    .defined()
    .default([]),
}).noUnknown();
export type ToPost = InferType<typeof toPostBody>;

/** A price that a posting moves, with the row it is of. */
export interface LargestMove {
  row: ListPriceRow;
  after: string;
  typed: boolean;
}

/** What posting it would come to. */
export interface WouldPost {
  /** Prices of the list that change. */
  lines: number;
  /** How many are posted for that: of a lockstep group one, for all of its members. */
  posts: number;
  /** Of these, how many were typed. */
  typed: number;
  /** And how many take the place of a price that was posted until a day: it does not come back after that day. */
  untilDay: number;
  /** Rows of the list. */
  prices: number;
  /** How many would be posted of what was typed, and of what the recipes propose in the rows that fit. */
  choices: { typed: number; computed: number };
  /** Prices whose posting has to be confirmed, counted by reason. */
  harms: Record<PostingHarm, number>;
  /** Some of these prices, each with the limit it lies beyond. */
  harmed: { sku: string; name: string; packName: string; after: string; harm: PostingHarm; at: string }[];
  /** The widest moves in money, first the widest. */
  largestMoney: LargestMove[];
  /** The widest moves in per cent, first the widest. */
  largest: LargestMove[];
  /** Names what it was worked out from. */
  state: string;
  stale: boolean;
  /** A second person has to agree to it. */
  secondPerson: boolean;
}

/** Beyond: further than the list lets one person decide. */
export type PostingHarm = PriceHarm | 'beyond';
export const POSTING_HARMS: readonly PostingHarm[] = [...PRICE_HARMS, 'beyond'];

const HARM_WORDS: Record<PostingHarm, readonly [one: string, many: string]> = {
  below_cost: ['falls below its landed cost', 'fall below their landed cost'],
  below_guards: ['falls below a floor of its recipe', 'fall below a floor of their recipe'],
  above_guards: ['lies above a ceiling of its recipe', 'lie above a ceiling of their recipe'],
  under_map: ['falls under the MAP', 'fall under the MAP'],
  above_rrp: ['lies above the RRP', 'lie above the RRP'],
  beyond: [
    'moves further than one person may decide on this list',
    'move further than one person may decide on this list',
  ],
};

/** "3 prices fall below their landed cost"; `counted`: the number with its noun. */
export const harmWords = (harm: PostingHarm, count: number, counted: string): string =>
  `${counted} ${HARM_WORDS[harm][count === 1 ? 0 : 1]}`;

export const postShownBody = toPostBody
  .concat(
    object({
      effective: dayText().required(),
      /** After it comes back what is due without this posting; null: its prices hold until others begin. */
      lastDay: optional(dayText()),
      reason: text().required('Say why').max(400),
      /** Why prices were typed; empty: for the same reason. */
      typedReason: text().max(400).default(''),
      /** As it was seen: anything else refuses the posting. */
      state: text().required().max(80),
      /** Prices that fall below cost, beyond guards, under MAP or above RRP, or far, are meant. */
      confirmed: boolean().default(false),
    }),
  )
  .noUnknown();
export type PostShown = InferType<typeof postShownBody>;

/** Rows of a list by the codes of their items, whatever their case. */
export const rowsBody = object({
  skus: array(string().max(200).defined()).max(MOST_ROWS).required(),
}).noUnknown();

export interface BuildUp {
  item: { id: string; sku: string; name: string };
  pack: { id: string; name: string; units: string };
  list: { id: string; name: string; currency: string; taxIn: boolean };
  day: string;
  posted: {
    price: string;
    from: string;
    /** Its last day; null: until another begins. */
    lastDay: string | null;
    posting: string;
    by: string;
    at: string;
    reason: string;
    /** Why it was typed; null: it was not. */
    handSet: { reason: string } | null;
  } | null;
  /** The derivation that was recorded when the price was posted. */
  postedSteps: readonly Step[] | null;
  computed: {
    price: string;
    /** What the recipe makes, whether or not a typed price stands instead. */
    recipePrice: string;
    steps: readonly Step[];
    costSteps: readonly Step[];
    markup: string | null;
    margin: string | null;
    net: string;
    taxInPrice: string;
  } | null;
  reason: string | null;
}

export const postBody = object({
  effective: dayText().required(),
  /** After it comes back what is due without this posting; a typed price may say its own. Null: until others begin. */
  lastDay: optional(dayText()),
  reason: text().required('Say why').max(400),
  lines: array(
    object({
      item: idText().required(),
      pack: idText().required(),
      /** What was on screen when the person decided. */
      before: optional(positiveText()),
      after: priceText().required(),
      /** Ends a typed price: what the recipe makes is posted. */
      release: boolean().default(false),
      /** Lets a price fall that the recipe's "raise only" keeps up. */
      fall: boolean().default(false),
      /** The price is typed: why, and until when. */
      handSet: object({
        reason: text().required('A typed price needs a reason'),
        lastDay: optional(dayText()),
      })
        .nullable()
        .default(null),
    }).noUnknown(),
  )
    .required()
    .max(250_000),
}).noUnknown();

/** Which of a posting's prices: those named, or all. */
const chosenPrices = () =>
  array(object({ item: idText().required(), pack: idText().required() }).noUnknown())
    .min(1, 'Choose at least one price')
    .max(250_000)
    .nullable()
    .default(null);

export const reversalBody = object({ lines: chosenPrices() }).noUnknown();

export const reverseBody = object({
  reason: text().required('Say why').max(400),
  lines: chosenPrices(),
  /** Leaves the prices that a later posting has changed as they are, instead of refusing the whole. */
  leaveChanged: boolean().default(false),
}).noUnknown();
export type ReverseBody = InferType<typeof reverseBody>;

/** What reversing a posting would come to. */
export interface Reversal {
  /** Prices that would go back. */
  free: number;
  /** Prices that a later posting has changed since. */
  changed: number;
  /** The first of them, each with the posting in its way. */
  inTheWay: {
    item: string;
    pack: string;
    sku: string;
    name: string;
    packName: string;
    /** Per pack in the list's currency; null: not sold any more. */
    price: string | null;
    posting: string;
    effective: string;
    reason: string;
  }[];
  /** The postings in the way, the latest first, with how many of the prices each changed. */
  postings: { posting: string; reason: string; prices: number }[];
}

/** Whom a list would answer once it is active, today. */
export interface ListAudience {
  /** Active customers it is meant for. */
  customers: number;
  /** The first of them by name. */
  named: string[];
  /** Of these, those who would buy from it before any other list. */
  first: number;
  /** It is meant for whoever comes, customer or not. */
  everyone: boolean;
  /** Prices there could be: every pack of every item. */
  prices: number;
  /** Of these, those for which nothing is in force on the list. */
  missing: number;
}

export interface PostingSummary {
  id: string;
  kind: 'post' | 'reverse';
  list: string;
  listName: string;
  currency: string;
  effective: string;
  /** The last day of its prices; null: none, or more than one. */
  lastDay: string | null;
  /** The worksheet it was made of, and how many lists that posted. */
  worksheet: { id: string; lists: number } | null;
  at: string;
  by: string;
  /** The second person who agreed to it; null: nobody had to. */
  agreedBy: string | null;
  reason: string;
  lines: number;
  up: number;
  down: number;
  reverses: string | null;
  /** The postings that reversed it, whole or in parts. */
  reversedBy: string[];
  /** How many of its prices they put back. */
  reversedLines: number;
}

export interface PostingLine {
  sku: string;
  name: string;
  item: string;
  pack: string;
  packName: string;
  before: string | null;
  after: string | null;
  changePercent: string | null;
  margin: string | null;
  /** The day it begins: of a price that comes back in turn with others, not the posting's. */
  from: string;
  lastDay: string | null;
  /** Why it was typed; null: it was not. */
  handSet: string | null;
}

export interface PostingDetail extends PostingSummary {
  /** Some of its prices begin or end on a day of their own. */
  dated: boolean;
}

/** A stretch of a posting's lines. */
export interface PostingLines extends Window<PostingLine> {
  rows: PostingLine[];
}

export interface AuditRow {
  id: string;
  at: string;
  by: string;
  action: string;
  subject: string;
  subjectId: string;
  before: unknown;
  after: unknown;
}

/** How the prices of a list would move by costs that wait or rules that are changed. */
export interface ListMoves {
  list: string;
  name: string;
  prices: number;
  rises: number;
  falls: number;
  /** The widest moves, in per cent on two decimals; null: none. */
  least: string | null;
  most: string | null;
}
