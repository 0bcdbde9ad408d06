import { BulkWorkspace, bulkPrices } from '#core/bulk/bulk-prices.ts';
import { emptyPrices, priceRows } from '#core/bulk/price-rows.ts';
import { computePrice } from '#core/lists/list-price.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { LARGE_DAY, largeWorkspace } from '#demo/large-workspace.ts';
import { alternating, best, perSecond, ratio, say } from './measure.ts';
import { plainDoubles } from './plain-doubles.ts';
import { rawCosts } from './raw-costs.ts';

/** The bulk way against the explained way, and against itself at growing sizes. */
export function benchBulk(): void {
  const w = largeWorkspace(100_000);
  const ws = new Prepared(w);
  let bulk!: BulkWorkspace;
  const columns = best(1, () => void (bulk = new BulkWorkspace(ws, LARGE_DAY)));
  say(`the bulk way, 100,000 items: columns read in ${(columns * 1000).toFixed(0)} ms`);
  const raw = rawCosts(ws, bulk.columns);
  for (const id of ['counter', 'yards', 'sweden']) {
    const list = ws.lists.get(id)!;
    const prepared = best(1, () => void bulk.list(list));
    const ready = bulk.list(list)!;
    const rows = bulk.columns.rows.length;
    const out = emptyPrices(rows, ready.ladder.scale);
    let open = 0;
    const [doubles, sameStart] = [plainDoubles(bulk.columns, ready, raw), plainDoubles(bulk.columns, ready, null)];
    const [markup, margin, plain] = [new Float64Array(rows), new Float64Array(rows), new Float64Array(rows)];
    const [seconds, bare, fromLanded] = alternating(25, [
      () => void (open = priceRows(bulk.columns, ready, out, 0, rows)),
      () => doubles(plain, markup, margin),
      () => sameStart(plain, markup, margin),
    ]) as [number, number, number];
    const differs = plain.filter((price, i) => out.flag[i] === 0 && price !== out.price[i]).length;
    const whole = best(1, () => void bulkPrices(bulk, list));
    const sample = 2000;
    const slow = best(2, () => {
      const fresh = new Prepared(w);
      for (let i = 0; i < sample; i++) computePrice(fresh, { ...bulk.columns.rows[i]!, list: id, day: LARGE_DAY });
    });
    say(
      `  ${id}: ${perSecond(rows, seconds)} prices a second, ${open} open, made ready in ${(prepared * 1000).toFixed(0)} ms, all decided in ${(whole * 1000).toFixed(0)} ms`,
    );
    say(`    explained: ${ratio(slow / sample, seconds / rows)} as long`);
    say(
      `    plain doubles: ${perSecond(rows, bare)} a second, so ${(bare / seconds).toFixed(2)} of their speed; they are wrong in ${differs} prices`,
    );
    say(
      `      from the same landed costs: ${perSecond(rows, fromLanded)} a second, so ${(fromLanded / seconds).toFixed(2)}`,
    );
  }
  for (const items of [10_000, 100_000, 1_000_000]) {
    const size = items === 100_000 ? bulk : new BulkWorkspace(new Prepared(largeWorkspace(items, 1)), LARGE_DAY);
    const list = size.ws.lists.get('counter')!;
    const ready = size.list(list)!;
    const out = emptyPrices(items, ready.ladder.scale);
    const seconds = best(3, () => void priceRows(size.columns, ready, out, 0, items));
    say(`  ${items.toLocaleString('en-GB').padStart(9)} prices: ${((seconds / items) * 1e9).toFixed(0)} ns each`);
  }
}
