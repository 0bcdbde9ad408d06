import { array, mixed, object } from 'yup';
import type { ListMoves } from './lists.ts';
import type { FindingCode } from '#core/checks/finding.ts';
import { dayText, idText, optional, text } from './fields.ts';

/** A place that a finding is about. */
export interface FindingPlace {
  /** "Counter, from landed cost, uplift 7". */
  title: string;
  /** Address inside the application; null: nothing can be opened there. */
  to: string | null;
}

export interface ShownFinding {
  code: FindingCode;
  message: string;
  /** The first of them: it may be about many. */
  places: FindingPlace[];
  /** How many more there are. */
  morePlaces: number;
  /** The lists it is about, by name. */
  lists: string[];
  /** How many items it touches. */
  items: number;
  customers: number | null;
  /** One case, fact by fact; amounts as exact text. */
  example: { fact: string; value: string }[];
}

/** The first of them, and how many there are. */
export interface SomeFindings {
  count: number;
  findings: ShownFinding[];
}

/** What keeping a record as it is typed would change of what the check finds. */
export interface FindingsOfChange {
  adds: SomeFindings;
  settles: SomeFindings;
}

/** Which computed prices keeping a record would move, on a day. */
export interface MovesOfChange {
  day: string;
  prices: number;
  lists: ListMoves[];
}

/** Kinds of records that the check does not look at: their forms are not asked about, and nothing typed there is sent for it. */
export const UNCHECKED: readonly string[] = ['people', 'settings'];

/** A record as it stands in a form; `id` null: a new one. */
export const changeBody = object({
  register: text().required().max(40),
  id: optional(idText()),
  /** The day to come on which the change would begin; absent: at once. */
  day: optional(dayText()),
  /** The changes to come that the form began with. */
  upon: array(idText().required()).max(50).default([]),
  body: mixed<Record<string, unknown>>().required(),
}).noUnknown();

/** A kept question asked again. */
export interface ShownProof {
  id: string;
  name: string;
  holds: boolean;
  /** The day it is asked for. */
  day: string;
  expected: string;
  /** What comes out now. */
  actual: string;
  /** Of one that fails: where its build-up first leaves the one that was right. */
  firstDifference: { step: number; expected: string | null; actual: string | null } | null;
}

/** How the check of the whole set-up stands. */
export interface CheckStands {
  /** When it came to its end; null: it has not yet. */
  at: string | null;
  day: string | null;
  /** Whether something was changed since. */
  stale: boolean;
  /** A check is under way. */
  running: boolean;
  /** Why the last one came to no end. */
  trouble: string | null;
}

/** A page of what the check finds: of a large set-up that is tens of thousands of things. */
export interface Findings extends CheckStands {
  /** All that is found, by kind, in the order in which they are looked for. */
  kinds: { code: FindingCode; message: string; count: number }[];
  total: number;
  /** The lists that findings are about, by name. */
  lists: string[];
  /** Of those asked for: how many there are, and a page of them. */
  count: number;
  findings: ShownFinding[];
}

export const FINDINGS_QUERY = {
  kind: 'only of this kind',
  list: 'only about the list of this name',
  find: 'words of what, where and the example',
  about: 'only about the record at this address of the application, such as /recipes/7',
  at: 'how many are passed over',
} as const;

/** Findings of a page. */
export const FINDINGS_PAGE = 100;
