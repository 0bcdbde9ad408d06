import { minorUnits } from '../numbers/currency.ts';
import { type Dec, dec, plain } from '../numbers/decimal.ts';
import { type LadderTerms, type Rung, applyLadder, prepareLadder } from '../rounding/ladder.ts';
import { type Finding, finding } from './finding.ts';

/** Closer to an edge than any price. */
const HAIR = dec('1e-12');

const bandOf = (r: Rung): string => `${plain(r.from)} to ${r.to ? plain(r.to) : 'any'}`;

/** A stretch of prices; no end: all above it. */
interface Span {
  readonly from: Dec;
  readonly to: Dec | null;
  /** The doubles nearest to them. */
  readonly low: number;
  readonly high: number;
}

const spanOf = ({ from, to }: { from: Dec; to: Dec | null }): Span => ({
  from,
  to,
  low: Number(from),
  high: to === null ? Infinity : Number(to),
});

/** What is wrong with a ladder, and which prices that concerns. */
export interface LadderFault {
  /** Prices that lie in all of these before they are rounded. */
  readonly within: readonly Span[];
  /** Of these, those that do not lie in it once they are rounded; null: all. */
  readonly leaving: Span | null;
  readonly finding: (items: number) => Finding;
}

const holds = (span: Span, price: Dec) => price.gte(span.from) && (span.to === null || price.lt(span.to));

/** Whether a price is concerned. */
export const concerns = ({ within, leaving }: LadderFault, { before, after }: Pick<Rounded, 'before' | 'after'>) =>
  within.every((span) => holds(span, before)) && (leaving === null || !holds(leaving, after));

/** How close to an edge the nearest double no longer tells on which side a price lies, as a share of it. */
const CLOSE = 1e-9;

/** Null: too close to say. */
function side({ low, high }: Span, price: number): boolean | null {
  if (Number.isNaN(price) || isClose(price, low) || isClose(price, high)) return null;
  return price >= low && price < high;
}

const isClose = (price: number, edge: number) => Math.abs(price - edge) <= CLOSE * (1 + Math.abs(edge));

/** Whether a price may be concerned, of which only the nearest doubles are known. */
export function mayConcern({ within, leaving }: LadderFault, before: number, after: number): boolean {
  return within.every((span) => side(span, before) !== false) && (leaving === null || side(leaving, after) !== true);
}

/** Rungs that overlap, leave holes, or send a result into another rung. */
export function ladderFaults(terms: LadderTerms): LadderFault[] {
  const out: LadderFault[] = [];
  const say = (within: readonly Span[], leaving: Span | null, made: LadderFault['finding']) =>
    out.push({ within, leaving, finding: made });
  const ladder = prepareLadder(terms.rungs, minorUnits(terms.currency));
  const place = (r: Rung) => `ladders/${terms.id}/rungs/${terms.rungs.indexOf(r.terms)}`;
  let end: { rung: Rung; to: Dec | null } | null = null;
  for (const rung of ladder.rungs) {
    // a rung without a band is a finding of its own
    if (rung.to?.lte(rung.from)) continue;
    if (end && (end.to === null || end.to.gt(rung.from))) {
      const first = end.rung;
      say([spanOf(first), spanOf(rung)], null, (items) =>
        finding('rungs_overlap', [place(first), place(rung)], items, {
          price: plain(rung.from),
          bands: `${bandOf(first)}; ${bandOf(rung)}`,
        }),
      );
    } else if (end?.to?.lt(rung.from)) {
      const { rung: below, to } = { ...end, to: end.to };
      const stays = applyLadder(ladder, to);
      say([spanOf({ from: to, to: rung.from })], null, (items) =>
        finding('rungs_leave_hole', [place(below), place(rung)], items, {
          from: plain(to),
          to: plain(rung.from),
          price: plain(to),
          becomes: plain(stays),
        }),
      );
    }
    if (!end || (end.to !== null && (rung.to === null || rung.to.gt(end.to)))) end = { rung, to: rung.to };
    for (const price of [rung.from, ...(rung.to ? [rung.to.minus(HAIR)] : [])]) {
      const result = applyLadder({ ...ladder, rungs: [rung] }, price);
      const leaves = result.lt(rung.from) || (rung.to !== null && result.gte(rung.to));
      if (!leaves || price.lt(0)) continue;
      say([spanOf(rung)], spanOf(rung), (items) =>
        finding('result_leaves_rung', [place(rung)], items, {
          band: bandOf(rung),
          price: price.eq(rung.from) ? plain(price) : `just below ${plain(rung.to!)}`,
          becomes: plain(result),
          'which would become': plain(applyLadder(ladder, result)),
        }),
      );
    }
  }
  return out;
}

/** A price as a ladder met it and left it. */
export interface Rounded {
  readonly item: string;
  readonly before: Dec;
  readonly after: Dec;
}
