import type { Day } from '../numbers/day.ts';
import type { Prepared } from '../workspace/prepared.ts';
import { checkBreaks } from './check-breaks.ts';
import { type PricesOf, checkPrices } from './check-prices.ts';
import { checkRules } from './check-rules.ts';
import { checkAudiences, checkCosts, checkLists, checkMoney, checkTaxClasses } from './check-setup.ts';
import { checkDescriptions } from './check-descriptions.ts';
import { checkRecords } from './check-records.ts';
import { type Pausable, toEnd } from '../pausable.ts';
import { FINDING_CODES, type Finding } from './finding.ts';

/** What is wrong with a set-up on a day; in the order of the catalogue, the same on every run. */
export const checkWorkspace = (ws: Prepared, day: Day, pricesOf?: PricesOf): readonly Finding[] =>
  toEnd(checking(ws, day, pricesOf));

/** The same, to be paused. */
export function* checking(ws: Prepared, day: Day, pricesOf?: PricesOf): Pausable<readonly Finding[]> {
  const found = [
    ...(yield* checkPrices(ws, day, pricesOf)),
    ...(yield* checkBreaks(ws, day)),
    ...checkRules(ws),
    ...checkLists(ws, day),
    ...checkAudiences(ws),
    ...checkMoney(ws, day),
    ...checkCosts(ws, day),
    ...checkDescriptions(ws),
    ...checkRecords(ws),
    ...checkTaxClasses(ws, day),
  ];
  const seen = new Set<string>();
  const order = (f: Finding) => FINDING_CODES.indexOf(f.code);
  return found
    .filter((f) => {
      // prices that cannot be computed find a circle or a missing rate a second time
      const key =
        f.code === 'currency_without_rate'
          ? `${f.code} ${f.example['from']} ${f.example['to']}`
          : f.code === 'tax_class_without_rate'
            ? `${f.code} ${f.example['taxClass']}`
            : `${f.code} ${f.places.join()} ${JSON.stringify(f.example)}`;
      if (seen.has(key)) return false;
      seen.add(key);
      return true;
    })
    .map((f, i) => ({ f, i }))
    .sort((a, b) => order(a.f) - order(b.f) || a.i - b.i)
    .map(({ f }) => f);
}
