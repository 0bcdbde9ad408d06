import type { FindingCode } from '#core/checks/finding.ts';

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
