import type { ItemTable } from '../items/item-table.ts';
import type { ListPatch, ListTable, PackTable } from '../lists/list-table.ts';

/** What is known, of which state, and since when. */
export interface Standing<T> {
  readonly of: T;
  readonly state: string;
  /** When it was worked out, as ISO text. */
  readonly at: string;
  /** It is of another state than was asked for: that one is being worked out. */
  readonly stale: boolean;
}

/** What is worked out of one state of a day. */
export interface TableWork {
  readonly day: string;
  readonly now: Date;
  /** A list's prices; the packs that are sold; the items; or how many proofs no longer hold. */
  readonly what: { readonly list: string } | 'packs' | 'items' | 'proofs';
  /** Of the list or the packs, what is known already: the name of that state. */
  readonly since?: string | null;
}

export interface TableDone {
  /** Names the state that it is of, of items without what is posted; and of that state the part that packs come from. */
  readonly state: string;
  readonly catalogue: string;
  /** Null: there is no such list. A patch: the rows of the state that is known, but for these. */
  readonly list?: ListTable | null;
  readonly patch?: ListPatch;
  /** Null: they are those of the state that is known. */
  readonly packs?: PackTable | null;
  readonly items?: ItemTable;
  readonly failing?: number;
}

/** How a list stands on a day, with the packs that its rows are. */
export interface ListStanding extends ListTable {
  readonly packs: PackTable;
}

/** What is counted of one list. */
export type ListCounts = Pick<ListTable, 'looks' | 'falling' | 'ending'>;

/** What a standing computation says of all lists together. */
export interface StandingCounts {
  readonly lists: ReadonlyMap<string, ListCounts>;
  /** How many proofs no longer hold. */
  readonly failing: number;
  /** When it was last worked out as a whole; null: never yet. */
  readonly at: string | null;
  /** Something was changed since, or another day has begun. */
  readonly stale: boolean;
}

/**
 * What grids and counts are arranged by: worked out beside the server's own thread and kept. Whoever asks for a state that
 * is not worked out yet gets the one before it, marked as stale, and the next one is begun.
 */
export interface StandingTables {
  /** Null: there is no such list. `state`: the name of the day's state as it is now. */
  list(list: string, day: string, state: string): Promise<Standing<ListStanding> | null>;
  items(day: string, state: string): Promise<Standing<ItemTable>>;
  /** Of these lists; begins to work them out where something has changed since. */
  counts(lists: readonly string[], day: string, state: string): StandingCounts;
  /** When all lists were last worked out; null: not yet. */
  countedAt(): string | null;
  /** Keeps it for the next start, where it has changed; it is kept now and then before, too, once it is settled. */
  stop(): Promise<void>;
}
