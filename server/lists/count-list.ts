import { setImmediate } from 'node:timers/promises';
import { costOnList, marginAt } from '#core/lists/achieved.ts';
import { plusDays } from '#core/numbers/day.ts';
import { dec } from '#core/numbers/decimal.ts';
import type { PriceList } from '#core/workspace/index.ts';
import type { Loaded } from '../workspace/state.ts';
import { ListComputation } from './compute-rows.ts';

/** How many days before its end a price set by hand is told of. */
const SOON = 7;

/** How the prices of a list stand beside what its recipe makes now. */
export interface ListCounts {
  readonly list: string;
  readonly name: string;
  /** Posted, and other than computed. */
  readonly moved: number;
  /** Computed, and never posted. */
  readonly fresh: number;
  /** A floor lies above a ceiling. */
  readonly held: number;
  /** Posted below cost. */
  readonly loss: number;
  /** Set by hand, with a last day within a week. */
  readonly ending: number;
  /** Cannot be computed. */
  readonly without: number;
  /** Would fall, and wait under Falls. */
  readonly falling: number;
}

/** Counts the rows of a list without making them. */
export async function countList(loaded: Loaded, list: PriceList): Promise<ListCounts> {
  const { ws, day } = loaded;
  const computation = new ListComputation(loaded, list);
  const soon = plusDays(day, SOON);
  const n = { moved: 0, fresh: 0, held: 0, loss: 0, ending: 0, without: 0, falling: 0 };
  let done = 0;
  for (const item of ws.workspace.items)
    for (const pack of item.packs) {
      const { proposed, held, falls } = computation.brief(item.id, pack.id);
      if (falls && !ws.recipeFor(list, ws.followed(item))?.quietFalls) n.falling++;
      const posted = ws.postedFor(list.id, item, pack.id, day);
      const price = posted ? dec(posted.price!) : null;
      if (held) n.held++;
      if (proposed === null) n.without++;
      else if (price === null) n.fresh++;
      else if (!price.eq(proposed)) n.moved++;
      if (posted?.handSet?.lastDay && posted.handSet.lastDay <= soon) n.ending++;
      // what is posted at or above a computed price that makes a profit makes one too
      if (price !== null && (proposed === null || price.lt(proposed) || computation.losing(item.id, pack.id))) {
        const known = costOnList(ws, { item: item.id, pack: pack.id, list: list.id, day });
        if (known.ok && marginAt(known.value, price)?.isNegative()) n.loss++;
      }
      if (++done % 500 === 0) await setImmediate();
    }
  return { list: list.id, name: list.name, ...n };
}
