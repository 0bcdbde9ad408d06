import { toShown } from '../lists/terms.ts';
import {
  type Dec,
  ZERO,
  dec,
  max,
  min,
  money,
  plain,
  roundDown,
  roundHalfUp,
  settle,
  share,
} from '../numbers/decimal.ts';
import { shareOut, sum } from '../numbers/share-out.ts';
import { type Reason, refusal } from '../reasons.ts';
import type { OwnPrice } from './line-pricing.ts';
import type { QuoteQuestion } from './questions.ts';

/** A reduction on the whole quote, shared among its lines; as the list shows prices, to the minor unit. */
export interface SharedReduction {
  readonly asked: Dec;
  readonly given: Dec;
  /** What all lines together can give without breaking a floor. */
  readonly possible: Dec;
  readonly shares: readonly Dec[];
  /** What each line can give. */
  readonly capacities: readonly Dec[];
  /** More than possible, and every floor in the way only asks for approval: given in full, to be approved. */
  readonly asks: boolean;
  /** More than possible: nothing is given. */
  readonly refused: Reason | null;
}

/** The goods of a line, without deposit: what is shared by, and what can be reduced. */
const goodsOf = (line: OwnPrice): Dec => max(line.total.minus(line.depositTotal), ZERO);

/** What a line can give before its price per unit falls under its highest floor; to the minor unit, downwards. */
function capacity(line: OwnPrice, digits: number): Dec {
  const goods = goodsOf(line);
  const floor = line.floors[0];
  if (!floor) return goods;
  const { terms } = line.resolved.price.listPrice;
  const least = toShown({ ...terms, deposit: ZERO }, floor.at).times(line.resolved.quantity);
  return max(min(goods, roundDown(goods.minus(settle(least)), digits)), ZERO);
}

/**
 * Shares a reduction by line total; what a line cannot give without breaking its floor goes to the others in
 * proportion. Deposits are neither reduced nor a base. docs/arithmetic.md, "A reduction on the whole quote".
 */
export function shareReduction(
  reduction: NonNullable<QuoteQuestion['reduction']>,
  lines: readonly OwnPrice[],
  digits: number,
): SharedReduction {
  const goods = lines.map(goodsOf);
  const value = dec(reduction.value);
  const asked = roundHalfUp(reduction.kind === 'percent_off' ? sum(goods).times(share(value)) : value, digits);
  const capacities = lines.map((l) => capacity(l, digits));
  const possible = sum(capacities);
  if (asked.lte(possible)) {
    const shares = shareOut(asked, goods, digits, capacities);
    return { asked, given: asked, possible, shares, capacities, asks: false, refused: null };
  }
  const inTheWay = lines.filter((l) => l.floors.length > 0);
  const askOnly = inTheWay.length > 0 && inTheWay.every((l) => l.floors.every((f) => f.floor.outcome === 'ask'));
  if (askOnly && asked.lte(sum(goods))) {
    const shares = shareOut(asked, goods, digits, goods);
    return { asked, given: asked, possible, shares, capacities, asks: true, refused: null };
  }
  const { reason } = refusal('reduction_too_high', 'reduction', {
    possible: money(possible, digits),
    asked: plain(asked),
  });
  return { asked, given: ZERO, possible, shares: lines.map(() => ZERO), capacities, asks: false, refused: reason };
}
