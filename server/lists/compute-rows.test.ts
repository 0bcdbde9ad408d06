import { describe, expect, it } from 'vitest';
import { RANDOM_DAY, randomWorkspace } from '../../bench/tests/random-workspace.ts';
import { computePrice } from '#core/lists/list-price.ts';
import { money, roundHalfUp } from '#core/numbers/decimal.ts';
import { wording } from '#core/reasons.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { ListComputation } from './compute-rows.ts';

describe('a list as the grid shows it', () => {
  it.each([7, 145, 588, 1768])('is, row by row, what the build-up of each price says: seed %i', async (seed) => {
    const ws = new Prepared(randomWorkspace(seed, 120));
    let compared = 0;
    for (const list of ws.workspace.lists) {
      const computation = new ListComputation({ ws, day: RANDOM_DAY, revision: '1' }, list);
      const decimals = ws.decimalsOf(list);
      for (const item of ws.workspace.items) {
        for (const pack of item.packs) {
          const found = computePrice(ws, { item: item.id, pack: pack.id, list: list.id, day: RANDOM_DAY });
          const row = await computation.row(item.id, pack.id);
          compared += 1;
          if (!found.ok) {
            expect([row.proposed, row.reason]).toEqual([null, wording(found.reason)]);
            continue;
          }
          const { price, margin, flag, bit, uplift, wouldFallTo } = found.value;
          expect(row).toEqual({
            proposed: money(price, decimals),
            reason: null,
            uplift,
            marginAfter: margin && roundHalfUp(margin, 2).toFixed(2),
            flag,
            bit,
            wouldFallTo: wouldFallTo && money(wouldFallTo, decimals),
          });
        }
      }
    }
    expect(compared).toBeGreaterThan(240);
  });
});
