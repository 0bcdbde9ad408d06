import { minorUnits } from '../numbers/currency.ts';
import { type Dec, dec, plain } from '../numbers/decimal.ts';
import { type LadderTerms, type Rung, applyLadder, prepareLadder } from '../rounding/ladder.ts';
import { type Finding, finding } from './finding.ts';

/** Closer to an edge than any price. */
const HAIR = dec('1e-12');

const bandOf = (r: Rung): string => `${plain(r.from)} to ${r.to ? plain(r.to) : 'any'}`;

/** Rungs that overlap, leave holes, or send a result into another rung. */
export function checkLadder(terms: LadderTerms): Finding[] {
  const out: Finding[] = [];
  const ladder = prepareLadder(terms.rungs, minorUnits(terms.currency));
  const place = (r: Rung) => `ladders/${terms.id}/rungs/${terms.rungs.indexOf(r.terms)}`;
  let end: { rung: Rung; to: Dec | null } | null = null;
  for (const rung of ladder.rungs) {
    if (end && (end.to === null || end.to.gt(rung.from))) {
      out.push(
        finding('rungs_overlap', [place(end.rung), place(rung)], 0, {
          price: plain(rung.from),
          bands: `${bandOf(end.rung)}; ${bandOf(rung)}`,
        }),
      );
    } else if (end?.to?.lt(rung.from)) {
      const stays = applyLadder(ladder, end.to);
      out.push(
        finding('rungs_leave_hole', [place(end.rung), place(rung)], 0, {
          from: plain(end.to),
          to: plain(rung.from),
          price: plain(end.to),
          becomes: plain(stays),
        }),
      );
    }
    if (!end || (end.to !== null && (rung.to === null || rung.to.gt(end.to)))) end = { rung, to: rung.to };
    for (const price of [rung.from, ...(rung.to ? [rung.to.minus(HAIR)] : [])]) {
      const result = applyLadder({ ...ladder, rungs: [rung] }, price);
      const leaves = result.lt(rung.from) || (rung.to !== null && result.gte(rung.to));
      if (!leaves || price.lt(0)) continue;
      out.push(
        finding('result_leaves_rung', [place(rung)], 0, {
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
