import { GUARD_KINDS, type GuardKind } from '../recipes/recipe.ts';
import type { ItemFigures } from './columns.ts';
import { filterRestingAbove, filterRestingBelow } from './filter-ladder.ts';
import { type BulkList, ELSEWHERE } from './prepare-list.ts';
import { basisOnList } from './row-figures.ts';
import { UNDECIDED, roundBlock } from './segments.ts';

/**
 * The relative error of any figure here is under 2⁻⁴⁷: no figure comes from more than 40 roundings to the nearest
 * double of positive numbers, each at most 2⁻⁵³. Proof in docs/decisions/13.
 */
const ERROR = 2 ** -47;

/** Whole units up to here are exact, and so are their sums. */
const MOST_UNITS = 2 ** 51;

/** How a price came about. `open`: too close to a decision; the explained way has to say. */
export const FLAGS = ['none', 'bit', 'no_ending_fits', 'floor_above_ceiling', 'open', 'refused'] as const;
const NONE = 0;
const BIT = 1;
const OPEN = 4;

/** Decimals of markup and margin in per cent: as they are shown. */
export const PERCENT_PLACES = 2;
const PERCENT_UNITS = 10 ** PERCENT_PLACES * 100;

/** What prices were made from on their way, as the nearest doubles; NaN: not known, or too close to a decision. */
export interface MetOnTheWay {
  readonly basis: Float64Array;
  /** As the buyer sees it, before and after its ladder rounded it. */
  readonly before: Float64Array;
  readonly after: Float64Array;
}

/** Results of a list, a row for each of the columns. */
export interface BulkPrices {
  /** In whole units of 1 ÷ scale; NaN: no price; infinite: more than a double counts exactly. */
  readonly price: Float64Array;
  readonly scale: number;
  /** Achieved, per cent in units of 0.01, half up; NaN: none. */
  readonly markup: Float64Array;
  readonly margin: Float64Array;
  /** Index into FLAGS. */
  readonly flag: Uint8Array;
  /** Bit n: the guard GUARD_KINDS[n] was crossed or binds. */
  readonly guards: Uint16Array;
  /** The uplift row that won, by its place in the recipe that prices the item; −1: none. */
  readonly row: Int32Array;
  /** What "raise only" keeps the price from falling to; NaN: nothing. */
  readonly wouldFallTo: Float64Array;
  /** Only where it was asked for. */
  readonly met?: MetOnTheWay;
}

export function emptyPrices(rows: number, scale: number): BulkPrices {
  return {
    price: new Float64Array(rows).fill(NaN),
    scale,
    markup: new Float64Array(rows).fill(NaN),
    margin: new Float64Array(rows).fill(NaN),
    flag: new Uint8Array(rows),
    guards: new Uint16Array(rows),
    row: new Int32Array(rows).fill(-1),
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

/** To the nearest whole number; NaN where the double is too close to a tie. */
function rounded(value: number, slack: number): number {
  const whole = Math.floor(value + 0.5);
  return 0.5 - Math.abs(value - whole) > slack ? whole : NaN;
}

/** Rows are priced in blocks, stage by stage: each stage is a loop small enough to be compiled well, and what it hands on stays near. */
const BLOCK = 256;

/** What the stages hand on, for the rows of a block. */
const block = {
  /** Landed, per pack, in the list's currency. */
  cost: new Float64Array(BLOCK),
  tax: new Float64Array(BLOCK),
  deposit: new Float64Array(BLOCK),
  /** As the buyer sees it, in whole units, before rounding; NaN: open. */
  shown: new Float64Array(BLOCK),
  slack: new Float64Array(BLOCK),
  price: new Float64Array(BLOCK),
};

/**
 * Prices rows `start` to `end` (exclusive) of a list. Every price it gives is the one the explained way gives; rows it
 * cannot decide are flagged `open`. Returns how many those are.
 */
export function priceRows(c: ItemFigures, l: BulkList, out: BulkPrices, start: number, end: number): number {
  let open = 0;
  for (let at = start; at < end; at += BLOCK) {
    const count = Math.min(BLOCK, end - at);
    out.flag.fill(NONE, at, at + count);
    out.guards.fill(0, at, at + count);
    clear(out.wouldFallTo, at, count);
    open += priceBlock(c, l, out, at, count);
    for (const part of l.more) open += priceBlock(c, part, out, at, count);
  }
  return open;
}

/** Most are none already: what is only read need not be written back to memory. */
function clear(column: Float64Array, at: number, count: number): void {
  for (let i = at; i < at + count; i++) if (column[i] === column[i]) column[i] = NaN;
}

/** A stage of a block; how many of its rows stay open after the last. */
type Stage = (c: ItemFigures, l: BulkList, out: BulkPrices, at: number, count: number) => number;

/** Called one after the other through this: a stage that were compiled into its caller would be compiled worse. */
const STAGES: readonly Stage[] = [shownStage, roundStage, guardStage, achievedStage];

function priceBlock(c: ItemFigures, l: BulkList, out: BulkPrices, at: number, count: number): number {
  let open = 0;
  for (const stage of STAGES) open += stage(c, l, out, at, count);
  return open;
}

function roundStage(c: ItemFigures, l: BulkList, out: BulkPrices, at: number, count: number): number {
  roundBlock(l.ladder, block.shown, block.slack, block.price, count);
  if (out.met) noteMet(c, l, out.met, at, count);
  return 0;
}

/** Figures that may be further off than this share of them, as what a difference leaves, are not told. */
const NEAR = 2 ** -32;

/** Rows that another part prices are left alone. */
function noteMet(c: ItemFigures, l: BulkList, met: MetOnTheWay, at: number, count: number): void {
  const perScale = 1 / l.ladder.scale;
  for (let n = 0; n < count; n++) {
    const i = at + n;
    if (l.klass[i] === ELSEWHERE) continue;
    const price = block.price[n]!;
    met.basis[i] = basisOnList(c, l, i);
    const shown = block.shown[n]!;
    met.before[i] = block.slack[n]! <= shown * NEAR ? shown * perScale : NaN;
    met.after[i] = price === UNDECIDED ? NaN : price * perScale;
  }
}

/** Basis, add-ons, uplift, deposit and tax. */
function shownStage(c: ItemFigures, l: BulkList, out: BulkPrices, at: number, count: number): number {
  const { row: rowOut } = out;
  const { row: rowIn } = l.uplift;
  const { bare, landed, units: unitsOf, taxClass, rrp } = c;
  const { klass: classes, taxFactor, ownTax, deposit: deposits, basis: basisKind, shownBasis, rowAddOns } = l;
  const { first, until, factor: factors, plus: pluses } = l.uplift;
  const listRate = l.rate[0]!;
  const { scale } = l.ladder;
  const beforeShare = l.before[0]!;
  const beforePack = l.before[1]!;
  const beforeUnit = l.before[2]!;
  const afterShare = l.after[0]!;
  const afterPack = l.after[1]!;
  const afterUnit = l.after[2]!;
  const { cost: costOut, tax: taxOut, deposit: depositOut, shown: shownOut, slack: slackOut } = block;
  const error = scale * ERROR;
  for (let n = 0; n < count; n++) {
    const i = at + n;
    shownOut[n] = NaN;
    const klass = classes[i]!;
    const units = unitsOf[i]!;
    const cost = landed[i]! * listRate * units;
    costOut[n] = cost;
    const t = taxClass[i]!;
    const tax = taxFactor[t]!;
    const deposit = deposits === null ? 0 : deposits[i]!;
    taxOut[n] = tax;
    depositOut[n] = deposit;
    let basis = cost;
    // how large the terms of a difference were: what its error is a share of
    let size = cost;
    let sizeShare = 1;
    if (basisKind !== 0) {
      if (basisKind === 1) size = basis = bare[i]! * listRate * units;
      else if (basisKind > 3) size = basis = (basisKind === 4 ? c.usual!.landed : c.usual!.bare)[i]! * listRate * units;
      else if (basisKind === 2) {
        const net = rrp.taxIn[i] === 1 ? rrp.amount[i]! / ownTax[t]! : rrp.amount[i]!;
        size = basis = net * l.currencyRate[rrp.currency[i]!]! * units;
      } else {
        // what a deposit leaves may be small: its error is a share of both
        const from = shownBasis!;
        const perNet = from.rate / from.taxFactor[t]!;
        const amount = from.amount[i]!;
        basis = (amount - from.deposit[i]!) * perNet;
        size = (amount + from.deposit[i]!) * perNet;
        sizeShare = size / basis;
      }
    }
    // NaN anywhere (no cost, weight, rate or tax) ends here
    if (klass < 0 || !(basis > 0 && basis < Infinity) || !(cost > 0) || !(tax > 0)) continue;
    const near = size * ERROR;
    let row = first[klass]!;
    let above = 0;
    let edge = until[row]!;
    while (basis >= edge) {
      above = edge;
      edge = until[++row]!;
    }
    if (edge - basis <= near || basis - above <= near) continue;
    rowOut[i] = rowIn[row]!;
    let padding = basis * beforeShare + beforePack + beforeUnit * units;
    let added = basis * afterShare + afterPack + afterUnit * units;
    if (rowAddOns !== null) {
      padding += basis * rowAddOns.beforeShare[i]! + rowAddOns.beforePack[i]!;
      added += basis * rowAddOns.afterShare[i]! + rowAddOns.afterPack[i]!;
    }
    const padded = basis + padding;
    // a fixed price would hide an add-on that is not known
    if (!(padded > 0)) continue;
    const factor = factors[row]!;
    const plus = pluses[row]!;
    size = (size + padding * sizeShare) * factor + Math.abs(plus);
    const net = padded * factor + plus + added;
    // an add-on's own error, and that of the basis it is a share of
    size = (size + added + added * sizeShare) * tax + deposit;
    const goods = net * tax;
    const shown = (goods + deposit) * scale;
    // goods at nothing or less are refused, whatever a deposit makes of them
    if (!(goods > size * ERROR) || shown > MOST_UNITS) continue;
    shownOut[n] = shown;
    slackOut[n] = size * error;
  }
  return 0;
}

/** Guards: most prices lie between them all; the others are looked at one by one. */
function guardStage(c: ItemFigures, l: BulkList, out: BulkPrices, at: number, count: number): number {
  if (l.guards.length === 0) return 0;
  const { posted } = l;
  const { cost: costIn, tax: taxIn, deposit: depositIn, price: prices } = block;
  const { scale } = l.ladder;
  const { least, most, leastAmount, mostAmount, byItem } = l.between;
  const raiseOnly = l.guards.includes(RAISE_ONLY);
  for (let n = 0; n < count; n++) {
    const price = prices[n]!;
    if (price === UNDECIDED) continue;
    const i = at + n;
    const goods = costIn[n]! * taxIn[n]!;
    const deposit = depositIn[n]!;
    const floor = Math.max(goods * least + deposit, leastAmount) * scale;
    const ceiling = Math.min(goods * most + deposit, mostAmount) * scale;
    const inside = price - floor > floor * ERROR && ceiling - price > ceiling * ERROR;
    if (!inside || byItem || (raiseOnly && price < posted[i]!)) guardRow(c, l, out, n, i);
  }
  return 0;
}

/** Lifts, lowers or leaves what the ladder gave, or finds that it cannot say. */
function guardRow(c: ItemFigures, l: BulkList, out: BulkPrices, n: number, i: number): void {
  const { ladder, guards, guardValue, posted } = l;
  const { scale } = ladder;
  const prices = block.price;
  const price = prices[n]!;
  const cost = block.cost[n]!;
  const t = c.taxClass[i]!;
  const tax = block.tax[n]!;
  const deposit = block.deposit[n]!;
  let bits = 0;
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
    else if (kind === RAISE_ONLY) {
      raise = posted[i]!;
      continue;
    } else if (kind === MAP || kind === RRP) {
      const from = kind === RRP ? c.rrp : c.map;
      const amount = from.amount[i]!;
      if (amount !== amount || (kind === MAP && !l.advertised)) continue;
      const goods = amount * l.currencyRate[from.currency[i]!]! * c.units[i]!;
      if (from.taxIn[i] === 0) limit = goods * tax + deposit;
      else limit = l.taxIn ? goods + deposit : goods / l.ownTax[t]! + deposit;
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
  if (unclear || ceiling - floor <= (floor + (ceiling === Infinity ? 0 : ceiling)) * ERROR) {
    prices[n] = UNDECIDED;
    return;
  }
  // most prices are between their guards
  if (bits === 0 && !(price < raise)) return;
  let lifted = price;
  if (bits !== 0) {
    lifted =
      price < floor
        ? filterRestingAbove(ladder, floor, floor * ERROR)
        : filterRestingBelow(ladder, ceiling, ceiling * ERROR);
    // no ending between the two, or too close to say: a conflict is the explained way's
    if (lifted < floor + floor * ERROR || lifted > ceiling - ceiling * ERROR) lifted = UNDECIDED;
  }
  if (lifted !== UNDECIDED && lifted < raise) {
    // a ceiling that had bitten too is named or not by rules that only the explained way knows
    if (raise > ceiling - ceiling * ERROR || bits >= 1 << RRP) lifted = UNDECIDED;
    else {
      out.wouldFallTo[i] = lifted;
      lifted = raise;
      bits |= 1 << RAISE_ONLY;
    }
  }
  prices[n] = lifted;
  out.guards[i] = bits;
  out.flag[i] = BIT;
}

/** Typed prices, and what is achieved. Returns how many rows stay open. */
function achievedStage(_: ItemFigures, l: BulkList, out: BulkPrices, at: number, count: number): number {
  const { posted, handSet, klass: classes } = l;
  const { price: prices, markup: markups, margin: margins, flag: flags } = out;
  const { cost: costIn, tax: taxIn, deposit: depositIn, price: guarded } = block;
  const perScale = 1 / l.ladder.scale;
  let open = 0;
  for (let n = 0; n < count; n++) {
    const i = at + n;
    let price = guarded[n]!;
    const deposit = depositIn[n]!;
    // what the recipe makes must be a price of goods, though a typed one stands instead
    if (handSet[i] === 1 && !(price * perScale - deposit > (price * perScale + deposit) * ERROR)) price = UNDECIDED;
    if (price === UNDECIDED) {
      if (classes[i] === ELSEWHERE) continue;
      flags[i] = OPEN;
      open++;
      continue;
    }
    const cost = costIn[n]!;
    const tax = taxIn[n]!;
    if (handSet[i] === 1) price = posted[i]!;
    const back = price * perScale;
    const achieved = (back - deposit) / tax;
    const profit = achieved - cost;
    const rawMarkup = (profit / cost) * PERCENT_UNITS;
    const rawMargin = (profit / achieved) * PERCENT_UNITS;
    // (price + cost) ÷ cost is the markup and 2, in the units of the markup; of the margin not more than that and its own
    let offMarkup = (Math.abs(rawMarkup) + 2 * PERCENT_UNITS) * ERROR;
    let offMargin = (Math.abs(rawMargin) + 2 * PERCENT_UNITS) * (1 + Math.abs(rawMargin) * (1 / PERCENT_UNITS)) * ERROR;
    if (deposit !== 0) {
      // what a deposit leaves may be small: its error counts in the numerator and in the denominator
      const slack = ((back + deposit) / tax + cost) * ERROR * PERCENT_UNITS;
      offMarkup = slack / cost;
      offMargin = (slack / achieved) * (1 + Math.abs(profit) / achieved);
    }
    const markup = rounded(rawMarkup, offMarkup + 1e-6);
    const margin = rounded(rawMargin, offMargin + 1e-6);
    // not a number: too close to a tie, or no profit to speak of
    if (
      !(achieved > 0) ||
      !(price <= MOST_UNITS) ||
      !(Math.abs(markup) < MOST_UNITS) ||
      !(Math.abs(margin) < MOST_UNITS)
    ) {
      flags[i] = OPEN;
      open++;
      continue;
    }
    prices[i] = price;
    markups[i] = markup;
    margins[i] = margin;
  }
  return open;
}
