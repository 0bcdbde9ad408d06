import { type Dec, ONE, dec, divide, plain } from '../numbers/decimal.ts';
import type { Day } from '../numbers/day.ts';
import type { RatesView } from './view.ts';

export interface Exchange {
  /** Multiply by this to get from one currency to the other. */
  readonly factor: Dec;
  /** The factor as text. */
  readonly text: string;
  /** The quoted rates it was made of, as they were entered. */
  readonly facts: Readonly<Record<string, string>>;
}

/**
 * The factor from one currency to another on a day: the quoted rate, else the opposite quotation turned round,
 * else both over the workspace's own currency. Null when none of these is known on that day.
 */
export function exchangeOn(ws: RatesView, from: string, to: string, day: Day): Exchange | null {
  if (from === to) return SAME;
  return ws.remember('exchange', `${from}>${to} ${day}`, () => find(ws, from, to, day));
}

const SAME: Exchange = { factor: ONE, text: '1', facts: {} };

function find(ws: RatesView, from: string, to: string, day: Day): Exchange | null {
  const direct = quoted(ws, from, to, day);
  if (direct) return direct;
  const own = ws.workspace.currency;
  if (from === own || to === own) return null;
  const inward = quoted(ws, from, own, day);
  const outward = quoted(ws, own, to, day);
  if (!inward || !outward) return null;
  const factor = inward.factor.times(outward.factor);
  return { factor, text: plain(factor), facts: { ...inward.facts, ...outward.facts } };
}

function quoted(ws: RatesView, from: string, to: string, day: Day): Exchange | null {
  const rate = ws.rateOn(from, to, day);
  if (rate)
    return { factor: dec(rate.rate), text: plain(dec(rate.rate)), facts: { [`${from}→${to} ${rate.day}`]: rate.rate } };
  const opposite = ws.rateOn(to, from, day);
  if (!opposite) return null;
  const factor = divide(ONE, dec(opposite.rate));
  return {
    factor,
    text: plain(factor),
    facts: { [`${to}→${from} ${opposite.day}`]: opposite.rate, 'turned round': plain(factor) },
  };
}
