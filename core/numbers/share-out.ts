import { type Dec, ZERO, dec, divide, roundDown } from './decimal.ts';

/**
 * Shares an amount out by weights so that the shares, each of `places` decimals, sum to it: largest remainder, ties to
 * the earlier. The amount itself must have no more decimals than that. No share passes its `most`, where given;
 * what one cannot take goes to the others in proportion.
 *
 * Throws when the amount cannot be placed or the shares do not sum to it: callers check first what is possible.
 */
export function shareOut(amount: Dec, weights: readonly Dec[], places: number, most?: readonly Dec[]): Dec[] {
  const limits = most?.map((m) => roundDown(m.lt(0) ? ZERO : m, places));
  const exact = fill(amount, weights, limits);
  const shares = exact.map((s) => roundDown(s, places));
  const unit = dec(`1e-${places}`);
  let rest = amount.minus(sum(shares));
  const order = exact
    .map((s, i) => ({ i, remainder: s.minus(shares[i]!) }))
    .sort((a, b) => b.remainder.cmp(a.remainder) || a.i - b.i);
  for (let round = 0; rest.gte(unit); round++) {
    let placed = false;
    for (const { i } of order) {
      if (rest.lt(unit)) break;
      if (limits && shares[i]!.plus(unit).gt(limits[i]!)) continue;
      if (round === 0 && weights[i]!.isZero() && order.some((o) => !weights[o.i]!.isZero())) continue;
      shares[i] = shares[i]!.plus(unit);
      rest = rest.minus(unit);
      placed = true;
    }
    if (!placed && round > 0) break;
  }
  if (!rest.isZero())
    throw new Error(`shares do not sum to the whole: ${rest.toFixed()} is left of ${amount.toFixed()}`);
  return shares;
}

/** In proportion to the weights, what is over a limit going to the rest until all is placed. */
function fill(amount: Dec, weights: readonly Dec[], limits: readonly Dec[] | undefined): Dec[] {
  const shares = weights.map(() => ZERO);
  const open = new Set(weights.keys());
  let rest = amount;
  for (;;) {
    const total = sum([...open].map((i) => weights[i]!));
    if (rest.isZero() || total.isZero()) return shares;
    const full = limits ? [...open].filter((i) => divide(rest.times(weights[i]!), total).gte(limits[i]!)) : [];
    if (full.length === 0) {
      for (const i of open) shares[i] = divide(rest.times(weights[i]!), total);
      return shares;
    }
    for (const i of full) {
      shares[i] = limits![i]!;
      open.delete(i);
    }
    rest = amount.minus(sum(shares));
  }
}

export function sum(values: readonly Dec[]): Dec {
  return values.reduce((total, v) => total.plus(v), ZERO);
}
