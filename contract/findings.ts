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
  places: FindingPlace[];
  /** The lists it is about, by name. */
  lists: string[];
  /** How many items it touches. */
  items: number;
  customers: number | null;
  /** One case, fact by fact; amounts as exact text. */
  example: { fact: string; value: string }[];
}

/** What keeping a record as it is typed would change of what the check finds. */
export interface FindingsOfChange {
  adds: ShownFinding[];
  settles: ShownFinding[];
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

export interface Findings {
  /** The state that was checked; null: none yet. */
  at: string | null;
  day: string | null;
  /** Whether something was changed since. */
  stale: boolean;
  /** A check is under way. */
  running: boolean;
  /** Why the last one came to no end. */
  trouble: string | null;
  findings: ShownFinding[];
}
