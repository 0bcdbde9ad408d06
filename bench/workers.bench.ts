import { Piscina } from 'piscina';
import { BulkWorkspace } from '#core/bulk/bulk-prices.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { LARGE_DAY, largeWorkspace } from '#demo/large-workspace.ts';
import { blocksOf } from '#server/worksheets/blocks.ts';
import type { PricedBlock } from '#server/worksheets/encode-prices.ts';
import type { Block } from '#server/worksheets/price-block.ts';
import { shared } from '#server/worksheets/shared.ts';
import { perSecond, ratio, say } from './measure.ts';

/** Pricing and writing down in worker threads, without a database: two against one. */
export async function benchWorkers(): Promise<void> {
  const bulk = new BulkWorkspace(new Prepared(largeWorkspace(100_000)), LARGE_DAY);
  const { rows, ...figures } = bulk.columns;
  const ids = shared(Int32Array.from(rows, (_, i) => i));
  const common = { figures: shared(figures), rows: rows.length, become: false };
  const blocks = bulk.ws.workspace.lists.flatMap((list, i) => {
    const names = { worksheet: 1, list: i + 1, items: ids, packs: ids };
    return [...blocksOf({ ...common, list: shared(bulk.list(list)!), names })];
  });
  const pools = [1, 2].map(
    (threads) =>
      new Piscina<Block, PricedBlock>({
        filename: new URL('../server/worksheets/price-block.ts', import.meta.url).href,
        execArgv: ['--import', 'tsx'],
        minThreads: threads,
        maxThreads: threads,
      }),
  );
  const best = [Infinity, Infinity];
  for (let round = 0; round < 6; round++) {
    for (const [at, pool] of pools.entries()) {
      const start = performance.now();
      await Promise.all(blocks.map((block) => pool.run(block)));
      best[at] = Math.min(best[at]!, (performance.now() - start) / 1000);
    }
  }
  await Promise.all(pools.map((pool) => pool.destroy()));
  const [one, two] = best as [number, number];
  const count = rows.length * bulk.ws.workspace.lists.length;
  say(
    `worker threads: ${perSecond(count, one)} prices a second priced and written down by one, ${perSecond(count, two)} by two: ${ratio(one, two)} as many`,
  );
}
