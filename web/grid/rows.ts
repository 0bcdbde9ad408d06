import type { Jump } from '#contract/windows.ts';

/** The rows of a grid in the order in which they are shown. Some, or all, may stand on the server. */
export interface Rows<Row> {
  /** How many fit what is looked for, and how many there are. */
  readonly count: number;
  readonly total: number;
  /** Undefined: it is not at hand. */
  readonly rowAt: (row: number) => Row | undefined;
  /** Null: all rows are at hand. */
  readonly away: RowsAway<Row> | null;
}

/** How one comes by rows that are not at hand. */
export interface RowsAway<Row> {
  /** These are being looked at: they are fetched. */
  readonly look: (first: number, last: number) => void;
  /** Fetches rows, `last` included; rejects with a sentence where it cannot. */
  readonly fetch: (first: number, last: number) => Promise<ReadonlyMap<number, Row>>;
  /** The place of a row; null: it is not among them. */
  readonly placeOf: (key: string) => Promise<number | null>;
  /** A place that only the whole order knows; null: there is none. */
  readonly seek: (jump: Jump) => Promise<number | null>;
  /** Reads again what was changed. */
  readonly again: () => Promise<unknown>;
}
