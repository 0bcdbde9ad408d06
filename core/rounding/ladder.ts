import { type Dec, ZERO, dec, roundHalfUp, settle } from '../numbers/decimal.ts';

export const DIRECTIONS = ['nearest', 'up', 'down', 'cuts'] as const;
export type Direction = (typeof DIRECTIONS)[number];

/** A rung as a person sets it up; amounts in the list's currency, in the price the buyer sees. */
export interface RungTerms {
  /** Inclusive. */
  readonly from: string;
  /** Exclusive; null: no end. */
  readonly to: string | null;
  readonly step: string;
  /** Positions inside the step: 0 ≤ ending < step. */
  readonly endings: readonly string[];
  readonly direction: Direction;
  /** Only with cuts: walking up from the ending below, the price goes down before this position in the step. */
  readonly downUntil?: string | null;
  /** Only with cuts: from this position in the step on, it goes up to the ending above. */
  readonly upFrom?: string | null;
  /** Added once a price was moved to an ending (to five, then −0.10). A price that is an ending with its offset stays. */
  readonly offset?: string | null;
}

/** A ladder for an item, a category with everything below it, or packs of a name; of several ties all must hold. */
export interface LadderTie {
  readonly item?: string | null;
  readonly category?: string | null;
  readonly pack?: string | null;
  readonly ladder: string;
}

export interface LadderTerms {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  readonly currency: string;
  /** Rounds every list of its currency that has no ladder of its own. */
  readonly byDefault?: boolean;
  readonly rungs: readonly RungTerms[];
}

export interface Rung {
  readonly terms: RungTerms;
  readonly from: Dec;
  readonly to: Dec | null;
  readonly step: Dec;
  /** Ascending, without doubles. */
  readonly endings: readonly Dec[];
  readonly direction: Direction;
  readonly downUntil: Dec;
  readonly upFrom: Dec;
  readonly offset: Dec;
}

/** A ladder made ready; rungs ascending. `decimals` are those of the list's unit prices. */
export interface Ladder {
  readonly decimals: number;
  readonly rungs: readonly Rung[];
}

export function prepareLadder(rungs: readonly RungTerms[], decimals: number): Ladder {
  const ready = rungs.map((r): Rung => {
    const endings = [...new Map(r.endings.map((e) => [dec(e).toFixed(), dec(e)])).values()].sort((a, b) => a.cmp(b));
    return {
      terms: r,
      from: dec(r.from),
      to: r.to === null ? null : dec(r.to),
      step: dec(r.step),
      endings,
      direction: r.direction,
      downUntil: r.direction === 'cuts' ? dec(r.downUntil ?? 0) : ZERO,
      upFrom: r.direction === 'cuts' ? dec(r.upFrom ?? 0) : ZERO,
      offset: dec(r.offset ?? 0),
    };
  });
  return { decimals, rungs: ready.sort((a, b) => a.from.cmp(b.from)) };
}

/** The rung whose band holds the price (from inclusive, to exclusive), if any. */
export function rungFor(ladder: Ladder, price: Dec): Rung | null {
  const at = settle(price);
  return ladder.rungs.find((r) => at.gte(r.from) && (r.to === null || at.lt(r.to))) ?? null;
}

/** The start of the step that holds the price; below zero as well. */
function stepStart(rung: Rung, price: Dec): Dec {
  const whole = price.divToInt(rung.step).times(rung.step);
  return whole.gt(price) ? whole.minus(rung.step) : whole;
}

function lastEnding(rung: Rung, fits: (ending: Dec) => boolean, price: Dec): Dec {
  const start = stepStart(rung, price);
  for (let i = rung.endings.length - 1; i >= 0; i--) {
    const at = start.plus(rung.endings[i]!);
    if (fits(at)) return at;
  }
  return start.minus(rung.step).plus(rung.endings[rung.endings.length - 1]!);
}

/** The largest ending at or below the price; endings repeat with every step. */
export function endingAtOrBelow(rung: Rung, price: Dec): Dec {
  return lastEnding(rung, (at) => at.lte(price), price);
}

/** The largest ending below the price (never at it). */
export function endingBelow(rung: Rung, price: Dec): Dec {
  return lastEnding(rung, (at) => at.lt(price), price);
}

/** The smallest ending above the price (never at it). */
export function endingAbove(rung: Rung, price: Dec): Dec {
  const start = stepStart(rung, price);
  for (const e of rung.endings) {
    const at = start.plus(e);
    if (at.gt(price)) return at;
  }
  return start.plus(rung.step).plus(rung.endings[0]!);
}

/** How far above an ending a position inside the step lies, walking up and around: always in [0, step). */
export function walk(rung: Rung, ending: Dec, position: Dec): Dec {
  const distance = position.minus(ending).mod(rung.step);
  return distance.isNegative() && !distance.isZero() ? distance.plus(rung.step) : distance;
}

/** The ending a price is moved to, before any offset; null: it stays between two cuts. */
function endingFor(rung: Rung, price: Dec): Dec | null {
  const below = endingAtOrBelow(rung, price);
  if (below.eq(price)) return below;
  switch (rung.direction) {
    case 'down':
      return below;
    case 'up':
      return endingAbove(rung, price);
    case 'nearest': {
      const above = endingAbove(rung, price);
      return price.minus(below).lt(above.minus(price)) ? below : above;
    }
    case 'cuts': {
      const walked = price.minus(below);
      if (walked.lt(walk(rung, below, rung.downUntil))) return below;
      return walked.gte(walk(rung, below, rung.upFrom)) ? endingAbove(rung, price) : null;
    }
  }
}

/** Whether a price is an ending with the rung's offset. */
export function isAtEnding(rung: Rung, price: Dec): boolean {
  const bare = price.minus(rung.offset);
  return endingAtOrBelow(rung, bare).eq(bare);
}

/**
 * Rounds a price by the rung whose band holds it; outside every rung, to the list's decimals.
 * A rung's offset comes on the ending; a price that is an ending with its offset stays. A result of 0 or less goes to the
 * next ending above whose price is more than 0. One pass: never rounded again by the rung it lands in.
 */
export function applyLadder(ladder: Ladder, price: Dec): Dec {
  const at = settle(price);
  const rung = rungFor(ladder, at);
  if (!rung) return roundHalfUp(at, ladder.decimals);
  if (at.gt(0) && isAtEnding(rung, at)) return at;
  const ending = endingFor(rung, at);
  const result = ending ? ending.plus(rung.offset) : roundHalfUp(at, ladder.decimals);
  return result.gt(0) ? result : endingAbove(rung, rung.offset.negated()).plus(rung.offset);
}

export interface RungFault {
  readonly row: number;
  readonly field: 'from' | 'to' | 'step' | 'endings' | 'downUntil' | 'upFrom' | 'offset';
  readonly code:
    | 'not_a_number'
    | 'negative'
    | 'not_above_from'
    | 'not_above_zero'
    | 'no_ending'
    | 'outside_step'
    | 'missing'
    | 'overlap';
}

/** What makes a set of rungs impossible to keep. Holes between bands are allowed and not reported here. */
export function rungFaults(rungs: readonly RungTerms[]): RungFault[] {
  const faults: RungFault[] = [];
  const read = (text: string | null | undefined): Dec | null =>
    text !== null && text !== undefined && /^-?\d+(\.\d+)?$/.test(text) ? dec(text) : null;
  const bands: { row: number; from: Dec; to: Dec | null }[] = [];
  rungs.forEach((r, row) => {
    const say = (field: RungFault['field'], code: RungFault['code']) => faults.push({ row, field, code });
    const from = read(r.from);
    const to = r.to === null ? null : read(r.to);
    const step = read(r.step);
    if (!from) say('from', 'not_a_number');
    else if (from.lt(0)) say('from', 'negative');
    if (r.to !== null && !to) say('to', 'not_a_number');
    if (from && to && to.lte(from)) say('to', 'not_above_from');
    if (!step) say('step', 'not_a_number');
    else if (step.lte(0)) say('step', 'not_above_zero');
    if (r.endings.length === 0) say('endings', 'no_ending');
    const inside = (text: string | null | undefined, field: RungFault['field']) => {
      const value = read(text);
      if (!value) say(field, text === null || text === undefined || text === '' ? 'missing' : 'not_a_number');
      else if (value.lt(0) || (step && value.gte(step))) say(field, 'outside_step');
    };
    r.endings.forEach((e) => inside(e, 'endings'));
    if (r.direction === 'cuts') {
      inside(r.downUntil, 'downUntil');
      inside(r.upFrom, 'upFrom');
    }
    if (r.offset !== null && r.offset !== undefined && !read(r.offset)) say('offset', 'not_a_number');
    if (from && (r.to === null || to)) bands.push({ row, from, to });
  });
  bands.sort((a, b) => a.from.cmp(b.from));
  for (let i = 1; i < bands.length; i++) {
    const before = bands[i - 1]!;
    if (before.to === null || before.to.gt(bands[i]!.from))
      faults.push({ row: bands[i]!.row, field: 'from', code: 'overlap' });
  }
  return faults;
}

export interface ChosenLadder {
  readonly id: string;
  /** What made it count, where that is neither the list nor the recipe as a whole. */
  readonly why: string | null;
}
