import { minorUnits } from '../numbers/currency.ts';
import { type Dec, dec, plain } from '../numbers/decimal.ts';
import { type LadderTerms, type Rung, applyLadder, prepareLadder } from '../rounding/ladder.ts';
import type { Rounded } from './check-prices.ts';
import { type Finding, finding } from './finding.ts';

/** Closer to an edge than any price. */
const HAIR = dec('1e-12');

const bandOf = (r: Rung): string => `${plain(r.from)} to ${r.to ? plain(r.to) : 'any'}`;

/** Rungs that overlap, leave holes, or send a result into another rung; `rounded` tells the prices it meets today. */
export function checkLadder(terms: LadderTerms, rounded: () => readonly Rounded[]): Finding[] {
  let met: readonly Rounded[] | null = null;
  const touched = (fits: (r: Rounded) => boolean): number => {
    met ??= rounded();
    return new Set(met.filter(fits).map((r) => r.item)).size;
  };
  const holds = (rung: Rung, price: Dec) => price.gte(rung.from) && (rung.to === null || price.lt(rung.to));
  const out: Finding[] = [];
  const inBoth = (a: Rung, b: Rung) => (r: Rounded) => holds(a, r.before) && holds(b, r.before);
  const inHole = (from: Dec, to: Dec) => (r: Rounded) => r.before.gte(from) && r.before.lt(to);
  const ladder = prepareLadder(terms.rungs, minorUnits(terms.currency));
  const place = (r: Rung) => `ladders/${terms.id}/rungs/${terms.rungs.indexOf(r.terms)}`;
  let end: { rung: Rung; to: Dec | null } | null = null;
  for (const rung of ladder.rungs) {
    if (end && (end.to === null || end.to.gt(rung.from))) {
      out.push(
        finding('rungs_overlap', [place(end.rung), place(rung)], touched(inBoth(end.rung, rung)), {
          price: plain(rung.from),
          bands: `${bandOf(end.rung)}; ${bandOf(rung)}`,
        }),
      );
    } else if (end?.to?.lt(rung.from)) {
      const stays = applyLadder(ladder, end.to);
      out.push(
        finding('rungs_leave_hole', [place(end.rung), place(rung)], touched(inHole(end.to, rung.from)), {
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
        finding(
          'result_leaves_rung',
          [place(rung)],
          touched((r) => holds(rung, r.before) && !holds(rung, r.after)),
          {
            band: bandOf(rung),
            price: price.eq(rung.from) ? plain(price) : `just below ${plain(rung.to!)}`,
            becomes: plain(result),
            'which would become': plain(applyLadder(ladder, result)),
          },
        ),
      );
    }
  }
  return out;
}
