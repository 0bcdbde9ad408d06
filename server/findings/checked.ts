import type { CheckStands, FindingsOfChange, MovesOfChange } from '#contract/findings.ts';
import type { FoundThing } from './places.ts';
import type { Item } from '#core/items/item.ts';
import type { Workspace } from '#core/workspace/workspace.ts';

export interface CheckAsked {
  readonly day: string;
  readonly what:
    | 'findings'
    /** The rules as they would be: what that adds and settles is asked for, not what stands; or which prices it moves. */
    | (Otherwise & { readonly asks: 'findings' | 'moves' });
}

/** One of them, by what was asked. */
export interface Checked {
  readonly revision: string;
  readonly findings?: FoundThing[];
  readonly ofChange?: FindingsOfChange;
  readonly moves?: MovesOfChange;
}

/** What would be otherwise: the rules, and where it is an item that is changed, that item. */
export interface Otherwise {
  readonly rules: Workspace;
  readonly item: Item | null;
}

/** The check of the whole set-up, made again after a change, beside the server's own thread. */
export interface StandingCheck {
  /** How it stands; begins a check where something has changed since. */
  look(revision: string, day: string): CheckStands;
  /** What was found when the check last came to an end; begins nothing. */
  found(): readonly FoundThing[];
  /** What other rules would add and settle. */
  ofChange(otherwise: Otherwise, day: string, signal: AbortSignal): Promise<FindingsOfChange>;
  /** Which computed prices other rules would move. */
  movesOfChange(otherwise: Otherwise, day: string, signal: AbortSignal): Promise<MovesOfChange>;
  /** When the set-up was last checked; null: not yet. */
  checkedAt(): string | null;
}
