import { type BulkPrices, FLAGS } from './price-rows.ts';

/** Edges of the moves that are counted together, in per cent: below the first, between each two, above the last. */
export const MOVE_EDGES = [-20, -10, -5, -2, 0, 2, 5, 10, 20] as const;

/** How many rows of the largest moves are named. */
const LARGEST = 5;

/** What a list's prices become against others: for looking at, not for posting. */
export interface Effect {
  readonly rises: number;
  readonly falls: number;
  readonly unchanged: number;
  /** There was no price before. */
  readonly first: number;
  /** Too close to a decision, or without a cost: the explained way has to say. */
  readonly undecided: number;
  readonly guarded: number;
  /** Of prices that move: how many between the edges of MOVE_EDGES. */
  readonly moves: readonly number[];
  readonly largestRises: readonly Move[];
  readonly largestFalls: readonly Move[];
  /** The mean of the margins achieved, in per cent; null: there is none. */
  readonly meanMargin: number | null;
}

export interface Move {
  readonly row: number;
  /** In whole units of 1 ÷ scale. */
  readonly before: number;
  readonly after: number;
}

const OPEN = FLAGS.indexOf('open');
const BIT = FLAGS.indexOf('bit');

/** `before`: prices in the same whole units; NaN: none. */
export function effectOf(prices: BulkPrices, before: Float64Array): Effect {
  const { price, flag, margin } = prices;
  const moves = new Array<number>(MOVE_EDGES.length + 1).fill(0);
  const up = new Largest();
  const down = new Largest();
  let [rises, falls, unchanged, first, undecided, guarded, margins] = [0, 0, 0, 0, 0, 0, 0];
  for (let row = 0; row < price.length; row++) {
    if (flag[row] === OPEN) {
      undecided++;
      continue;
    }
    const after = price[row]!;
    const was = before[row]!;
    margins += margin[row]!;
    if (flag[row] === BIT) guarded++;
    if (was !== was) first++;
    else if (after === was) unchanged++;
    else {
      const share = (after / was - 1) * 100;
      let at = 0;
      while (at < MOVE_EDGES.length && share >= MOVE_EDGES[at]!) at++;
      moves[at]!++;
      if (after > was) {
        rises++;
        up.take(row, share);
      } else {
        falls++;
        down.take(row, -share);
      }
    }
  }
  const named = (of: Largest) => of.rows.map((row) => ({ row, before: before[row]!, after: price[row]! }));
  const decided = price.length - undecided;
  return {
    rises,
    falls,
    unchanged,
    first,
    undecided,
    guarded,
    moves,
    largestRises: named(up),
    largestFalls: named(down),
    meanMargin: decided === 0 ? null : margins / decided / 100,
  };
}

/** The few largest of many, the largest first; of equal ones the first that came. */
class Largest {
  readonly rows: number[] = [];
  private readonly sizes: number[] = [];

  take(row: number, size: number): void {
    const { rows, sizes } = this;
    if (rows.length === LARGEST && size <= sizes[LARGEST - 1]!) return;
    let at = sizes.length;
    while (at > 0 && sizes[at - 1]! < size) at--;
    rows.splice(at, 0, row);
    sizes.splice(at, 0, size);
    if (rows.length > LARGEST) {
      rows.pop();
      sizes.pop();
    }
  }
}
