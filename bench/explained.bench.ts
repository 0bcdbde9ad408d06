import { answer } from '#core/evaluator/answer.ts';
import type { Question } from '#core/evaluator/questions.ts';
import { computePrice } from '#core/lists/list-price.ts';
import { priceQuote } from '#core/quotes/price-quote.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { LARGE_DAY, largeWorkspace } from '#demo/large-workspace.ts';
import { type BareItem, bareItems, bareList, barePrice } from './bare-loop.ts';
import { alternating, best, perSecond, ratio, say } from './measure.ts';

/** The explained way against a bare loop of the same decimal operations, and questions and quotes beside it. */
export function benchExplained(): void {
  const w = largeWorkspace(10_000);
  const items: BareItem[] = bareItems(w);
  say('the explained way, 10,000 items on two lists');
  const pairs = w.lists.filter((l) => ['counter', 'sweden'].includes(l.id));
  let same = 0;
  let bit = 0;
  const [bare, explained] = alternating(5, [
    () => {
      for (const list of pairs) {
        const ready = bareList(w, list.id);
        for (const item of items) barePrice(item, ready);
      }
    },
    () => {
      const ws = new Prepared(w);
      for (const list of pairs) {
        for (const item of w.items)
          computePrice(ws, { item: item.id, pack: `${item.id}-1`, list: list.id, day: LARGE_DAY });
      }
    },
  ]) as [number, number];
  const ws = new Prepared(w);
  for (const list of pairs) {
    const ready = bareList(w, list.id);
    w.items.forEach((item, i) => {
      const found = computePrice(ws, { item: item.id, pack: `${item.id}-1`, list: list.id, day: LARGE_DAY });
      if (!found.ok) throw new Error(found.reason.code);
      if (found.value.flag !== null) bit += 1;
      else if (found.value.price.eq(barePrice(items[i]!, ready).price)) same += 1;
      else throw new Error(`the bare loop differs for ${item.id} on ${list.id}`);
    });
  }
  const count = pairs.length * w.items.length;
  say(`  bare loop       ${perSecond(count, bare)} prices a second`);
  say(`  explained       ${perSecond(count, explained)} prices a second, ${ratio(explained, bare)} of the loop's time`);
  say(`  (the same price in ${same}; a guard changed ${bit} more)`);

  const questions = w.items.map((item): Question => ({ kind: 'price', item: item.id, day: LARGE_DAY, quantity: '3' }));
  const asked = best(2, () => {
    const fresh = new Prepared(w);
    for (const q of questions) answer(fresh, q, { buildUp: true });
  });
  say(
    `questions through the evaluator, 10,000 items: ${perSecond(questions.length, asked)} a second, ${ratio(asked / questions.length, bare / count)} of a bare price`,
  );

  const lines = w.items
    .slice(0, 500)
    .map((item, i) => ({ id: String(i), item: item.id, pack: `${item.id}-1`, quantity: String(1 + (i % 9)) }));
  const quote = best(3, () => {
    const found = priceQuote(new Prepared(w), {
      buyer: {},
      day: LARGE_DAY,
      lines,
      unposted: 'compute',
      reduction: { kind: 'percent_off', value: '3' },
    });
    if (!found.ok) throw new Error(found.reason.code);
  });
  say(
    `a quote of 500 lines: ${ratio(quote / 500, bare / count)} of a bare price for each line (${(quote * 1000).toFixed(0)} ms here)`,
  );
}
