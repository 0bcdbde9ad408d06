import { GUARD_KINDS, type GuardKind } from '../recipes/recipe.ts';
import type { ItemColumns } from './columns.ts';
import { UNDECIDED, filterRestingAbove, filterRestingBelow, filterRound } from './filter-ladder.ts';
import type { BulkList } from './prepare-list.ts';

/**
 * The relative error of any figure here is under 2⁻⁴⁷: no figure comes from more than 40 roundings to the nearest
 * double of positive numbers, each at most 2⁻⁵³. Proof in docs/decisions/13.
 */
const ERROR = 2 ** -47;

/** How a price came about. `open`: too close to a decision; the explained way has to say. */
export const FLAGS = ['none', 'bit', 'no_ending_fits', 'floor_above_ceiling', 'open', 'refused'] as const;
const NONE = 0;
const BIT = 1;
const OPEN = 4;

/** Decimals of markup and margin in per cent. */
export const PERCENT_PLACES = 4;
const PERCENT_UNITS = 10 ** PERCENT_PLACES * 100;

/** Results of a list, a row for each of the columns. */
export interface BulkPrices {
  /** In whole units of 1 ÷ scale; NaN: no price; infinite: more than a double counts exactly. */
  readonly price: Float64Array;
  readonly scale: number;
  /** Achieved, per cent in units of 0.0001, half up; NaN: none. */
  readonly markup: Float64Array;
  readonly margin: Float64Array;
  /** Index into FLAGS. */
  readonly flag: Uint8Array;
  /** Bit n: the guard GUARD_KINDS[n] was crossed or binds. */
  readonly guards: Uint16Array;
  /** What "raise only" keeps the price from falling to; NaN: nothing. */
  readonly wouldFallTo: Float64Array;
}

export function emptyPrices(rows: number, scale: number): BulkPrices {
  return {
    price: new Float64Array(rows).fill(NaN),
    scale,
    markup: new Float64Array(rows).fill(NaN),
    margin: new Float64Array(rows).fill(NaN),
    flag: new Uint8Array(rows),
    guards: new Uint16Array(rows),
    wouldFallTo: new Float64Array(rows).fill(NaN),
  };
}

const guard = (kind: GuardKind): number => GUARD_KINDS.indexOf(kind);
const NOT_BELOW_COST = guard('not_below_cost');
const LEAST_MARKUP = guard('least_markup');
const LEAST_MARGIN = guard('least_margin');
const MAP = guard('map');
const RAISE_ONLY = guard('raise_only');
const RRP = guard('rrp');
const MOST_MARKUP = guard('most_markup');
const MOST_MARGIN = guard('most_margin');

/** Half up, ties away from zero; NaN where the double is too close to a tie. */
function rounded(value: number, slack: number): number {
  const size = Math.abs(value);
  const down = Math.floor(size);
  const over = size - down - 0.5;
  if (Math.abs(over) <= slack) return NaN;
  const whole = over > 0 ? down + 1 : down;
  return value < 0 ? -whole : whole;
}

/**
 * Prices rows `start` to `end` (exclusive) of a list. Every price it gives is the one the explained way gives; rows it
 * cannot decide are flagged `open`. Returns how many those are.
 */
export function priceRows(c: ItemColumns, l: BulkList, out: BulkPrices, start: number, end: number): number {
  const { uplift: u, ladder, guards, guardValue } = l;
  const { scale } = ladder;
  const { freightPerKg, freightPerUnit, duty, handling, overhead } = c.landed;
  const [beforeShare, beforePack, beforeUnit] = l.before;
  const [afterShare, afterPack, afterUnit] = l.after;
  let open = 0;
  for (let i = start; i < end; i++) {
    // until everything is decided
    out.flag[i] = OPEN;
    open++;
    const klass = l.klass[i]!;
    const s = c.supplier[i]!;
    const units = c.units[i]!;
    const unit = (c.cost[i]! / c.packUnits[i]!) * c.rate[i]!;
    const perKg = freightPerKg[s]!;
    const freight = perKg === 0 ? freightPerUnit[s]! : perKg * c.weight[i]!;
    const landed = unit + freight + unit * duty[s]! + handling[s]! + unit * overhead[s]!;
    const cost = landed * l.rate * units;
    const t = c.taxClass[i]!;
    const tax = l.taxFactor[t]!;
    const deposit = l.deposit[i]!;
    let basis: number;
    // how large the terms of a difference were: what its error is a share of
    let size: number;
    if (l.basis === 0) size = basis = cost;
    else if (l.basis === 1) size = basis = unit * l.rate * units;
    else if (l.basis === 2) {
      size = basis =
        (c.rrp.taxIn[i] === 1 ? c.rrp.amount[i]! / l.ownTax[t]! : c.rrp.amount[i]!) *
        l.currencyRate[c.rrp.currency[i]!]! *
        units;
    } else {
      basis = (l.posted[i]! / scale - deposit) / tax;
      size = (l.posted[i]! / scale + deposit) / tax;
    }
    // NaN anywhere (no cost, weight, rate or tax) ends here
    if (klass < 0 || !(basis > 0) || !(cost > 0) || !(tax > 0)) continue;
    const near = size * ERROR;
    let row = -1;
    for (let r = u.first[klass]!; r < u.first[klass + 1]!; r++) {
      const [from, to] = [u.from[r]!, u.to[r]!];
      if (Math.abs(basis - from) <= near || Math.abs(basis - to) <= near) {
        row = -2;
        break;
      }
      if (basis >= from && basis < to) {
        row = r;
        break;
      }
    }
    if (row < 0) continue;
    const padded = basis + (basis * beforeShare + beforePack + beforeUnit * units);
    const operand = u.operand[row]!;
    const operation = u.operation[row]! & 3;
    size += padded - basis;
    let net: number;
    if (operation === 0) {
      net = padded * operand;
      size *= operand;
    } else if (operation === 1) {
      net = padded / operand;
      size /= operand;
    } else if (operation === 2) {
      net = padded + operand;
      size += Math.abs(operand);
    } else size = net = operand;
    const added = basis * afterShare + afterPack + afterUnit * units;
    net += added;
    // the add-on's own error is that of the basis
    size = (size + added + (added * near) / (basis * ERROR)) * tax + deposit;
    const shown = (net * tax + deposit) * scale;
    let slack = size * scale * ERROR;
    if (!(shown > 0) || shown > 2 ** 51) continue;
    let price = filterRound(ladder, shown, slack);
    if (price === UNDECIDED) continue;
    let flag = NONE;
    let bits = 0;
    let fall = NaN;
    if (guards.length > 0) {
      let floor = 0;
      let ceiling = Infinity;
      let raise = NaN;
      let unclear = false;
      for (let g = 0; g < guards.length; g++) {
        const kind = guards[g]!;
        const value = guardValue[g]!;
        let limit: number;
        if (kind === NOT_BELOW_COST) limit = cost * tax + deposit;
        else if (kind === LEAST_MARKUP || kind === MOST_MARKUP) limit = cost * value * tax + deposit;
        else if (kind === LEAST_MARGIN || kind === MOST_MARGIN) limit = (cost / value) * tax + deposit;
        else if (kind === MAP || kind === RRP) {
          const from = kind === RRP ? c.rrp : c.map;
          const amount = from.amount[i]!;
          if (amount !== amount || (kind === MAP && !l.advertised)) continue;
          const goods = amount * l.currencyRate[from.currency[i]!]! * units;
          limit =
            from.taxIn[i] === 0 ? goods * tax + deposit : l.taxIn ? goods + deposit : goods / l.ownTax[t]! + deposit;
        } else if (kind === RAISE_ONLY) {
          raise = l.posted[i]!;
          continue;
        } else limit = value;
        limit *= scale;
        if (!(Math.abs(price - limit) > limit * ERROR)) {
          unclear = true;
          break;
        }
        if (kind <= RAISE_ONLY) {
          if (limit > floor) floor = limit;
          if (price < limit) bits |= 1 << kind;
        } else {
          if (limit < ceiling) ceiling = limit;
          if (price > limit) bits |= 1 << kind;
        }
      }
      if (unclear || ceiling - floor <= (floor + (ceiling === Infinity ? 0 : ceiling)) * ERROR) continue;
      if (bits !== 0) {
        const resting =
          price < floor
            ? filterRestingAbove(ladder, floor, floor * ERROR)
            : filterRestingBelow(ladder, ceiling, ceiling * ERROR);
        // no ending between the two, or too close to say: a conflict is the explained way's
        if (resting === UNDECIDED || resting < floor + floor * ERROR || resting > ceiling - ceiling * ERROR) continue;
        price = resting;
        flag = BIT;
      }
      if (raise === raise && price < raise) {
        // a ceiling that had bitten too is named or not by rules that only the explained way knows
        if (raise > ceiling - ceiling * ERROR || bits >= 1 << RRP) continue;
        fall = price;
        price = raise;
        flag = BIT;
        bits |= 1 << RAISE_ONLY;
      }
    }
    if (l.handSet[i] === 1) price = l.posted[i]!;
    const back = price / scale;
    const achieved = (back - deposit) / tax;
    if (!(achieved > 0) || price > 2 ** 51) continue;
    const profit = achieved - cost;
    slack = ((back + deposit) / tax + cost) * ERROR * PERCENT_UNITS;
    const markup = rounded((profit / cost) * PERCENT_UNITS, slack / cost + 1e-6);
    // what a deposit leaves may be small: its error counts in the numerator and in the denominator
    const spread = (slack / achieved) * (1 + Math.abs(profit) / achieved);
    const margin = rounded((profit / achieved) * PERCENT_UNITS, spread + 1e-6);
    if (!(Math.abs(markup) < 2 ** 52) || !(Math.abs(margin) < 2 ** 52)) continue;
    out.price[i] = price;
    out.markup[i] = markup;
    out.margin[i] = margin;
    out.guards[i] = bits;
    out.wouldFallTo[i] = fall;
    out.flag[i] = flag;
    open--;
  }
  return open;
}
