import type { Dec } from '../numbers/decimal.ts';
import { type Ladder, walk } from '../rounding/ladder.ts';
import { nearest } from './columns.ts';
import { type RungColumns, type Segments, UNDECIDED, segmentsOf } from './segments.ts';

/** A ladder in whole units of 1 ÷ scale. */
export interface FilterLadder extends RungColumns {
  /** Whole units of one unit of currency: a power of ten. */
  readonly scale: number;
  readonly segments: Segments;
}

const DIRECTION = { nearest: 0, up: 1, down: 2, cuts: 3 } as const;
const WHOLE = 2 ** 52;

const MOST_PLACES = 9;

const figuresOf = (ladder: Ladder) =>
  ladder.rungs.flatMap((r) => [r.from, r.step, ...r.endings, r.downUntil, r.upFrom, r.offset, ...(r.to ? [r.to] : [])]);

/** Decimals in which every price that the ladder and the list can give is a whole number; `posted`: those of postings. */
export function placesFor(ladder: Ladder, posted: number): number {
  return figuresOf(ladder).reduce((most, f) => Math.max(most, f.decimalPlaces()), Math.max(ladder.decimals, posted));
}

/** Null: overlapping rungs, or figures too large for whole doubles; then the explained way does it all. */
export function filterLadder(ladder: Ladder, places: number): FilterLadder | null {
  const figures = figuresOf(ladder);
  if (places > MOST_PLACES) return null;
  const scale = 10 ** places;
  const whole = (value: Dec) => nearest(value.times(scale));
  if (figures.some((f) => f.abs().times(scale).gte(WHOLE))) return null;
  const { rungs } = ladder;
  if (rungs.some((r, i) => i > 0 && (rungs[i - 1]!.to === null || rungs[i - 1]!.to!.gt(r.from)))) return null;
  const first = new Int32Array(rungs.length + 1);
  rungs.forEach((r, i) => (first[i + 1] = first[i]! + r.endings.length));
  const columns: RungColumns = {
    unit: 10 ** (places - ladder.decimals),
    from: Float64Array.from(rungs, (r) => whole(r.from)),
    to: Float64Array.from(rungs, (r) => (r.to ? whole(r.to) : Infinity)),
    step: Float64Array.from(rungs, (r) => whole(r.step)),
    direction: Uint8Array.from(rungs, (r) => DIRECTION[r.direction]),
    first,
    ending: Float64Array.from(rungs.flatMap((r) => r.endings.map(whole))),
    downWithin: Float64Array.from(rungs.flatMap((r) => r.endings.map((e) => whole(walk(r, e, r.downUntil))))),
    upFrom: Float64Array.from(rungs.flatMap((r) => r.endings.map((e) => whole(walk(r, e, r.upFrom))))),
    offset: Float64Array.from(rungs, (r) => whole(r.offset)),
  };
  return { scale, segments: segmentsOf(columns), ...columns };
}

/** The rung that holds a price, −1 for none, −2 where it is too close to an edge. `slack`: how far off the price may be. */
function rungAt(l: FilterLadder, price: number, slack: number): number {
  const low = price - slack;
  const high = price + slack;
  const { from, to } = l;
  for (let r = 0; r < from.length; r++) {
    if (high < from[r]!) return -1;
    if (high < to[r]!) return low > from[r]! ? r : -2;
    if (low <= to[r]!) return -2;
  }
  return -1;
}

/** What `gapAt` found: where the endings below and above lie, and the place in `ending` of the one below. Numbers in an array are not boxed. */
const gap = new Float64Array(2);
let gapEnding = 0;

function gapAt(l: FilterLadder, r: number, price: number): void {
  const step = l.step[r]!;
  const { ending } = l;
  const start = l.first[r]!;
  const end = l.first[r + 1]!;
  let base = Math.floor(price / step) * step;
  // the quotient is rounded: it may be one step off beside a multiple
  if (base > price) base -= step;
  else if (base + step <= price) base += step;
  const inside = price - base;
  let at = start - 1;
  while (at + 1 < end && ending[at + 1]! <= inside) at++;
  if (at < start) {
    gapEnding = end - 1;
    gap[0] = base - step + ending[end - 1]!;
    gap[1] = base + ending[start]!;
  } else {
    gapEnding = at;
    gap[0] = base + ending[at]!;
    gap[1] = at + 1 < end ? base + ending[at + 1]! : base + step + ending[start]!;
  }
}

/** The smallest price at or above a floor that the ladder leaves unchanged, if it lies in the same rung or hole. */
export function filterRestingAbove(l: FilterLadder, floor: number, slack: number): number {
  const r = rungAt(l, floor, slack);
  if (r === -2) return UNDECIDED;
  if (r === -1) {
    const up = ceil(l, floor, slack);
    return up > 0 && up < nextFrom(l, floor) ? up : UNDECIDED;
  }
  const offset = l.offset[r]!;
  // what stays between two cuts beside endings with an offset is the explained way's
  if (offset !== 0 && l.direction[r] === 3) return UNDECIDED;
  gapAt(l, r, floor - offset);
  const at = gapEnding;
  const below = gap[0]! + offset;
  const above = gap[1]! + offset;
  if (floor - below <= slack || above - floor <= slack || above >= l.to[r]!) return UNDECIDED;
  if (l.direction[r] === 3) {
    const from = below + l.downWithin[at]!;
    const to = Math.min(below + l.upFrom[at]!, above);
    if (from < to) {
      if (Math.abs(floor - from) <= slack || Math.abs(floor - to) <= slack) return UNDECIDED;
      const stays = floor > from ? ceil(l, floor, slack) : Math.ceil(from / l.unit) * l.unit;
      if (stays === UNDECIDED) return UNDECIDED;
      if (stays > 0 && stays < to) return stays;
    }
  }
  return above > 0 ? above : UNDECIDED;
}

/** The largest price at or below a ceiling that the ladder leaves unchanged, if it lies in the same rung or hole. */
export function filterRestingBelow(l: FilterLadder, ceiling: number, slack: number): number {
  const r = rungAt(l, ceiling, slack);
  if (r === -2) return UNDECIDED;
  if (r === -1) {
    const down = floorTo(l, ceiling, slack);
    return down > 0 && down >= lastTo(l, ceiling) ? down : UNDECIDED;
  }
  const offset = l.offset[r]!;
  if (offset !== 0 && l.direction[r] === 3) return UNDECIDED;
  gapAt(l, r, ceiling - offset);
  const at = gapEnding;
  const below = gap[0]! + offset;
  const above = gap[1]! + offset;
  if (ceiling - below <= slack || above - ceiling <= slack) return UNDECIDED;
  if (l.direction[r] === 3) {
    const from = below + l.downWithin[at]!;
    const to = Math.min(below + l.upFrom[at]!, above);
    if (from < to) {
      if (Math.abs(ceiling - from) <= slack || Math.abs(ceiling - to) <= slack) return UNDECIDED;
      let stays = ceiling < to ? floorTo(l, ceiling, slack) : Math.floor(to / l.unit) * l.unit;
      if (stays === UNDECIDED) return UNDECIDED;
      if (stays >= to) stays -= l.unit;
      if (stays >= from && stays >= l.from[r]! && stays > 0) return stays;
    }
  }
  return below >= l.from[r]! && below > 0 ? below : UNDECIDED;
}

function ceil(l: FilterLadder, price: number, slack: number): number {
  const up = Math.ceil((price + slack) / l.unit);
  return up === Math.ceil((price - slack) / l.unit) ? up * l.unit : UNDECIDED;
}

function floorTo(l: FilterLadder, price: number, slack: number): number {
  const down = Math.floor((price - slack) / l.unit);
  return down === Math.floor((price + slack) / l.unit) ? down * l.unit : UNDECIDED;
}

function nextFrom(l: FilterLadder, price: number): number {
  for (let r = 0; r < l.from.length; r++) if (l.from[r]! > price) return l.from[r]!;
  return Infinity;
}

function lastTo(l: FilterLadder, price: number): number {
  let last = 0;
  for (let r = 0; r < l.to.length; r++) if (l.to[r]! <= price) last = l.to[r]!;
  return last;
}
