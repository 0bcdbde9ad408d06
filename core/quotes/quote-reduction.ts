import { toShown, withoutDeposit } from '../lists/terms.ts';
import {
  type Dec,
  ZERO,
  dec,
  divide,
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
import { inSections } from './charge-lines.ts';
import type { FloorFigure } from './floors.ts';
import type { OwnPrice } from './line-pricing.ts';
import type { WholeReduction } from './questions.ts';

/** A reduction on the whole quote, shared among its lines; as the list shows prices, to the minor unit. */
export interface SharedReduction {
  readonly asked: Dec;
  readonly given: Dec;
  /** What it is asked on: the goods of the lines it reaches. */
  readonly goods: Dec;
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

/** What a line can give before its price per unit falls under the highest of some floors; to the minor unit, downwards. */
function capacity(line: OwnPrice, floors: readonly FloorFigure[], digits: number): Dec {
  const goods = goodsOf(line);
  const floor = floors[0];
  if (!floor) return goods;
  const { terms } = line.resolved.price.listPrice;
  const least = toShown(withoutDeposit(terms), floor.at).times(line.resolved.quantity);
  return max(min(goods, roundDown(goods.minus(settle(least)), digits)), ZERO);
}

/**
 * Shares a reduction by line total; what a line cannot give without breaking its floor goes to the others in
 * proportion. More than that: where the floors that lift or refuse allow it, it is given by line total and asks approval,
 * for the floors in the way only ask. Deposits are neither reduced nor a base. docs/arithmetic.md, "A reduction on the
 * whole quote".
 */
export function shareReduction(reduction: WholeReduction, lines: readonly OwnPrice[], digits: number): SharedReduction {
  const reached = lines.map((l) => inSections(reduction.sections, l.resolved.line.section));
  const goods = lines.map((l, i) => (reached[i] ? goodsOf(l) : ZERO));
  const all = sum(goods);
  const asked = roundHalfUp(askedOf(reduction, all), digits);
  const hard = (l: OwnPrice) => l.floors.filter((f) => f.floor.outcome !== 'ask');
  const within = (floorsOf: (l: OwnPrice) => readonly FloorFigure[]) =>
    lines.map((l, i) => (reached[i] ? capacity(l, floorsOf(l), digits) : ZERO));
  const capacities = within((l) => l.floors);
  const possible = roundDown(sum(capacities), digits);
  const common = { asked, goods: all, possible, capacities };
  if (asked.lte(possible)) {
    const shares = shareOut(asked, goods, digits, capacities);
    return { ...common, given: asked, shares, asks: false, refused: null };
  }
  const withAsking = within(hard);
  if (asked.lte(sum(withAsking))) {
    const shares = shareOut(asked, goods, digits, withAsking);
    return { ...common, given: asked, shares, asks: true, refused: null };
  }
  const { reason } = refusal('reduction_too_high', 'reduction', {
    possible: money(possible, digits),
    asked: plain(asked),
  });
  return { ...common, given: ZERO, shares: lines.map(() => ZERO), asks: false, refused: reason };
}

function askedOf({ kind, value, ofGoods }: WholeReduction, goods: Dec): Dec {
  if (kind === 'percent_off') return goods.times(share(dec(value)));
  return ofGoods && dec(ofGoods).gt(0) ? divide(dec(value).times(goods), dec(ofGoods)) : dec(value);
}
