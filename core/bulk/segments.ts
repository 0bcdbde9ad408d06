/** What every function over ladders in doubles gives where a double is too close to a decision. */
export const UNDECIDED = -1;

/** Rungs in whole units, as doubles that hold whole numbers exactly; ascending, without overlap. */
export interface RungColumns {
  /** Whole units of the smallest decimal of the list's prices. */
  readonly unit: number;
  readonly from: Float64Array;
  /** Infinity: no end. */
  readonly to: Float64Array;
  readonly step: Float64Array;
  /** 0 nearest, 1 up, 2 down, 3 cuts. */
  readonly direction: Uint8Array;
  /** Where a rung's endings begin in `ending`; one more than there are rungs. */
  readonly first: Int32Array;
  readonly ending: Float64Array;
  /** With cuts: how far above each ending a price still goes down, and from where on it goes up. */
  readonly downWithin: Float64Array;
  readonly upFrom: Float64Array;
  /** Comes on the ending a price is moved to. */
  readonly offset: Float64Array;
}

/**
 * A ladder as segments: between two decisions every price of a step goes to the same place. All in whole units, exact.
 * Stretches of price without a rung are stretches of one step and one segment.
 */
export interface Segments {
  /** The stretches of price, ascending; where each ends (exclusive). */
  readonly until: Float64Array;
  /** Where a stretch begins; −Infinity where a price below it is none. */
  readonly from: Float64Array;
  readonly step: Float64Array;
  /** 1 ÷ step: near enough to find the step, which is then corrected. */
  readonly perStep: Float64Array;
  /** Where a stretch's segments begin; one more than there are stretches. */
  readonly first: Int32Array;
  /** Inside the step: a segment's ends, infinite where nothing is decided there. */
  readonly low: Float64Array;
  readonly high: Float64Array;
  /** Where the segment's prices go, counted from the start of the step; NaN: to the list's decimals. */
  readonly target: Float64Array;
}

interface Segment {
  low: number;
  high: number;
  target: number;
}

/** Longer than any price that is counted in doubles. */
const ENDLESS = 2 ** 60;

export function segmentsOf(ladder: RungColumns): Segments {
  const stretches: { from: number; until: number; step: number; segments: Segment[] }[] = [];
  let reached = -Infinity;
  const hole = (until: number) => {
    const segments = [{ low: -Infinity, high: Infinity, target: NaN }];
    if (until > Math.max(reached, 0)) stretches.push({ from: reached, until, step: ENDLESS, segments });
  };
  for (let r = 0; r < ladder.from.length; r++) {
    hole(ladder.from[r]!);
    reached = ladder.to[r]!;
    stretches.push({ from: ladder.from[r]!, until: reached, step: ladder.step[r]!, segments: rungSegments(ladder, r) });
  }
  if (reached < Infinity) hole(Infinity);
  const all = stretches.flatMap((s) => s.segments);
  const first = new Int32Array(stretches.length + 1);
  stretches.forEach((s, i) => (first[i + 1] = first[i]! + s.segments.length));
  return {
    from: Float64Array.from(stretches, (s) => s.from),
    until: Float64Array.from(stretches, (s) => s.until),
    step: Float64Array.from(stretches, (s) => s.step),
    perStep: Float64Array.from(stretches, (s) => 1 / s.step),
    first,
    low: Float64Array.from(all, (s) => s.low),
    high: Float64Array.from(all, (s) => s.high),
    target: Float64Array.from(all, (s) => s.target),
  };
}

/**
 * The segments of [0, step): neighbours that go to the same place are one, for on the ending itself a price stays. With an
 * offset a price that is an ending with it stays too: where its neighbours go elsewhere, it is a decision of its own.
 */
function rungSegments(l: RungColumns, r: number): Segment[] {
  const step = l.step[r]!;
  const offset = l.offset[r]!;
  const [start, end] = [l.first[r]!, l.first[r + 1]!];
  const made: Segment[] = [];
  const add = (low: number, high: number, target: number) => {
    const [from, to] = [Math.max(low, 0), Math.min(high, step)];
    if (from >= to) return;
    const last = made.at(-1);
    if (last?.target === target) last.high = to;
    else made.push({ low: from, high: to, target });
  };
  for (let e = start - 1; e < end; e++) {
    const at = e < start ? end - 1 : e;
    const below = e < start ? l.ending[at]! - step : l.ending[at]!;
    const above = e + 1 < end ? l.ending[e + 1]! : step + l.ending[start]!;
    const [down, up] = goesTo(l, r, at, below, above);
    add(below, down, below + offset);
    add(down, up, NaN);
    add(up, above, above + offset);
  }
  const cut = offset === 0 ? made : made.flatMap((s) => splitAtResting(l, r, s));
  const [head, tail] = [cut[0]!, cut.at(-1)!];
  // the step's own start decides nothing where both sides of it go to the same place
  const startRests = offset !== 0 && restingAt(l, r).includes(0) && head.target !== 0;
  if (head.target + step === tail.target && !startRests) [head.low, tail.high] = [-Infinity, Infinity];
  return cut;
}

/** Where inside the step a price stays: the endings with the offset. */
function restingAt(l: RungColumns, r: number): number[] {
  const step = l.step[r]!;
  const endings = Array.from(l.ending.subarray(l.first[r], l.first[r + 1]));
  return endings.map((e) => (((e + l.offset[r]!) % step) + step) % step);
}

/** A segment cut at the prices inside it, or at its ends, that stay though their neighbours move. */
function splitAtResting(l: RungColumns, r: number, s: Segment): Segment[] {
  const resting = restingAt(l, r).filter((at) => at > s.low && at < s.high && at !== s.target);
  const edges = [s.low, ...resting.sort((a, b) => a - b), s.high];
  return edges.slice(1).map((high, i) => ({ low: edges[i]!, high, target: s.target }));
}

/** In the gap between two endings: up to where a price goes down, and from where on up. */
function goesTo(l: RungColumns, r: number, at: number, below: number, above: number): [down: number, up: number] {
  switch (l.direction[r]) {
    case 0:
      return [(below + above) / 2, (below + above) / 2];
    case 1:
      return [below, below];
    case 2:
      return [above, above];
    default: {
      const down = Math.min(below + l.downWithin[at]!, above);
      return [down, Math.max(down, Math.min(below + l.upFrom[at]!, above))];
    }
  }
}

/**
 * Rounds a block of prices as `applyLadder` does, in whole units; UNDECIDED where one is too close to a decision.
 * `slack[i]`: how far off `shown[i]` may be.
 */
export function roundBlock(
  l: { readonly unit: number; readonly segments: Segments },
  shown: Float64Array,
  slack: Float64Array,
  into: Float64Array,
  count: number,
): void {
  const { unit } = l;
  const { from, until, step, perStep, first, low, high, target } = l.segments;
  const ends = until.length - 1;
  for (let i = 0; i < count; i++) {
    const price = shown[i]!;
    const off = slack[i]!;
    into[i] = UNDECIDED;
    // not a number: nothing to round
    if (!(price > 0)) continue;
    // counted, not looked for: in which stretch a price lies nobody can foretell, and the processor would guess wrong
    let p = 0;
    for (let k = 0; k < ends; k++) p += +(price >= until[k]!);
    if (price - from[p]! <= off || until[p]! - price <= off) continue;
    const length = step[p]!;
    let base = Math.floor(price * perStep[p]!) * length;
    // the product is rounded: it may be one step off beside a multiple
    if (base > price) base -= length;
    else if (price - base >= length) base += length;
    const inside = price - base;
    let s = first[p]!;
    const last = first[p + 1]! - 1;
    while (s < last && inside >= high[s]!) s++;
    if (inside - low[s]! <= off || high[s]! - inside <= off) continue;
    let result = base + target[s]!;
    if (result !== result) {
      const at = price / unit;
      result = Math.floor(at + 0.5);
      if ((0.5 - Math.abs(at - result)) * unit <= off) continue;
      result *= unit;
    }
    if (result > 0) into[i] = result;
  }
}
