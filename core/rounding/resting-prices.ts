import { type Dec, ZERO, max, min, roundDown, roundUp, settle } from '../numbers/decimal.ts';
import { type Ladder, type Rung, endingAbove, endingAtOrBelow, endingBelow, walk } from './ladder.ts';

/** A stretch of prices: a rung's band, or (rung null) a hole between bands. `to` is exclusive; null: no end. */
interface Stretch {
  readonly from: Dec;
  readonly to: Dec | null;
  readonly rung: Rung | null;
}

function stretches(ladder: Ladder): Stretch[] {
  const out: Stretch[] = [];
  let at: Dec | null = ZERO;
  for (const rung of ladder.rungs) {
    if (at === null) break;
    if (rung.from.gt(at)) out.push({ from: at, to: rung.from, rung: null });
    out.push({ from: rung.from, to: rung.to, rung });
    at = rung.to;
  }
  if (at !== null) out.push({ from: at, to: null, rung: null });
  return out;
}

/** The part of the gap above an ending in which a price stays as it is; null where there is none. */
function stayZone(rung: Rung, below: Dec, above: Dec): { from: Dec; to: Dec } | null {
  if (rung.direction !== 'cuts') return null;
  const from = below.plus(walk(rung, below, rung.downUntil));
  const to = min(below.plus(walk(rung, below, rung.upFrom)), above);
  return from.lt(to) ? { from, to } : null;
}

const isEnding = (rung: Rung, price: Dec): boolean => endingAtOrBelow(rung, price).eq(price);

/** The smallest ending with its offset that is above 0 and not below `least`. */
function smallestEnding(rung: Rung, least: Dec): Dec {
  const bare = max(least, ZERO).minus(rung.offset);
  const at = isEnding(rung, bare) ? bare : endingAbove(rung, bare);
  const price = at.plus(rung.offset);
  return price.gt(0) ? price : endingAbove(rung, at).plus(rung.offset);
}

function smallestOnRung(rung: Rung, least: Dec, end: Dec | null, decimals: number): Dec | null {
  const ending = smallestEnding(rung, least);
  let below = endingAtOrBelow(rung, least);
  while (rung.direction === 'cuts' && below.lt(ending)) {
    const above = endingAbove(rung, below);
    const zone = stayZone(rung, below, above);
    if (zone) {
      let stays = roundUp(max(max(least, zone.from), ZERO), decimals);
      // an ending itself goes on to its offset
      if (stays.isZero() || (!rung.offset.isZero() && stays.eq(below))) stays = stays.plus(`1e-${decimals}`);
      if (stays.lt(zone.to) && stays.lt(ending) && (end === null || stays.lt(end))) return stays;
    }
    below = above;
  }
  return end !== null && ending.gte(end) ? null : ending;
}

function largestOnRung(rung: Rung, most: Dec, exclusive: boolean, start: Dec, decimals: number): Dec | null {
  const atOrBelow = exclusive ? endingBelow : endingAtOrBelow;
  const ending = atOrBelow(rung, most.minus(rung.offset)).plus(rung.offset);
  const rests = ending.gte(start) && ending.gt(0) ? ending : null;
  let below = atOrBelow(rung, most);
  while (rung.direction === 'cuts') {
    const above = endingAbove(rung, below);
    if (above.lte(0) || above.lte(start) || (rests && above.lte(rests))) break;
    const zone = stayZone(rung, below, above);
    if (zone) {
      let stays = roundDown(min(most, zone.to), decimals);
      if (stays.gte(zone.to) || (exclusive && stays.gte(most))) stays = stays.minus(`1e-${decimals}`);
      const moves = !rung.offset.isZero() && stays.eq(below);
      if (!moves && stays.gte(zone.from) && stays.gte(start) && stays.gt(0)) return rests ? max(stays, rests) : stays;
    }
    below = endingBelow(rung, below);
  }
  return rests;
}

/** The smallest price above 0 and not below `least` that the ladder leaves unchanged; null when no price above fits. */
export function smallestRestingPrice(ladder: Ladder, least: Dec): Dec | null {
  const floor = max(settle(least), ZERO);
  for (const s of stretches(ladder)) {
    if (s.to !== null && s.to.lte(floor)) continue;
    const from = max(floor, s.from);
    if (s.rung) {
      const found = smallestOnRung(s.rung, from, s.to, ladder.decimals);
      if (found) return found;
      continue;
    }
    let price = roundUp(from, ladder.decimals);
    if (price.isZero()) price = price.plus(`1e-${ladder.decimals}`);
    if (s.to === null || price.lt(s.to)) return price;
  }
  return null;
}

/** The largest price above 0 and not above `most` that the ladder leaves unchanged; null when there is none. */
export function largestRestingPrice(ladder: Ladder, most: Dec): Dec | null {
  const ceiling = settle(most);
  for (const s of stretches(ladder).reverse()) {
    if (s.from.gt(ceiling)) continue;
    const exclusive = s.to !== null && s.to.lte(ceiling);
    const from = exclusive ? s.to! : ceiling;
    if (s.rung) {
      const found = largestOnRung(s.rung, from, exclusive, s.from, ladder.decimals);
      if (found) return found;
      continue;
    }
    let price = roundDown(from, ladder.decimals);
    if (exclusive && price.gte(from)) price = price.minus(`1e-${ladder.decimals}`);
    if (price.gt(0) && price.gte(s.from)) return price;
  }
  return null;
}
