import { type Dec, dec, divide, percent, plain, roundHalfUp } from '../numbers/decimal.ts';
import type { AmountText } from '../numbers/amount.ts';
import type { Day } from '../numbers/day.ts';
import type { CostsView } from './view.ts';
import { exchangeOn } from './exchange.ts';

export interface CostOfPack {
  readonly cost: AmountText;
  readonly packUnits: string;
}

export interface CostMove {
  readonly kind: 'up' | 'down' | 'unchanged' | 'not_comparable';
  /** Per cent of the cost per unit, on two decimals; null where the old one is 0 or nothing can be compared. */
  readonly changePercent: string | null;
  /** The decimal mark may have shifted: by so many times. */
  readonly shifted: string | null;
}

/** Near ten, a hundred or a thousand times the other or one of their inverses (a fifth less to a quarter more): how many times. */
function shiftedBy(before: Dec, after: Dec): string | null {
  if (before.isZero() || after.isZero()) return null;
  const ratio = after.gt(before) ? divide(after, before) : divide(before, after);
  return ['10', '100', '1000'].find((n) => ratio.gte(dec(n).times('0.8')) && ratio.lte(dec(n).times('1.25'))) ?? null;
}

/** How a cost moves from one to another, per unit; two currencies are compared at the day's rate. */
export function compareCosts(ws: CostsView, before: CostOfPack, after: CostOfPack, day: Day): CostMove {
  const own = ws.workspace.currency;
  const same = before.cost.currency === after.cost.currency;
  const unit = (c: CostOfPack): Dec | null => {
    const bare = divide(dec(c.cost.amount), dec(c.packUnits));
    if (same) return bare;
    const x = exchangeOn(ws, c.cost.currency, own, day);
    return x && bare.times(x.factor);
  };
  const [old, next] = [unit(before), unit(after)];
  if (!old || !next) return { kind: 'not_comparable', changePercent: null, shifted: null };
  return {
    kind: next.eq(old) ? 'unchanged' : next.gt(old) ? 'up' : 'down',
    changePercent: old.isZero() ? null : plain(roundHalfUp(percent(divide(next.minus(old), old)), 2)),
    shifted: shiftedBy(old, next),
  };
}
