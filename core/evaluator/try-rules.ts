import type { Step } from '../buildup/steps.ts';
import { plain } from '../numbers/decimal.ts';
import { leastQuantity } from '../quotes/order-quantity.ts';
import { priceQuote } from '../quotes/price-quote.ts';
import { type Outcome, figure } from '../reasons.ts';
import type { Prepared } from '../workspace/prepared.ts';
import { type Figures, packId } from './answer-price.ts';
import type { RulesAsked } from './questions.ts';
import { priceText } from './wording.ts';

/** Tries the attribute rules on every item: which one wins in each set, and the price before and after, side by side. */
export function tryRules(ws: Prepared, q: RulesAsked): Outcome<Figures> {
  const reached = new Map<string, number>();
  for (const set of ws.workspace.rules) for (const rule of set.rules) reached.set(`${set.id}/${rule.id}`, 0);
  const items: Figures[] = [];
  let without = 0;
  for (const item of ws.workspace.items) {
    const pack = packId(ws, item.id, null);
    if (!pack.ok) continue;
    const quantity = q.quantity ?? plain(leastQuantity(item));
    const priced = priceQuote(ws, {
      buyer: q.buyer,
      list: q.list ?? null,
      day: q.day,
      unposted: 'compute',
      lines: [{ id: '1', item: item.id, pack: pack.value, quantity }],
    });
    if (!priced.ok) return priced;
    const line = priced.value.lines[0]!.priced;
    if (!line.ok) {
      without += 1;
      continue;
    }
    const steps = line.value.steps.filter((s) => s.kind === 'rule');
    const held = new Set(steps.filter((s) => s.rule?.part).map((s) => `${s.rule!.id}/${s.rule!.part!}`));
    for (const rule of held) reached.set(rule, (reached.get(rule) ?? 0) + 1);
    const decimals = ws.decimalsOf(ws.lists.get(line.value.list)!);
    const [first, last] = [steps[0], steps.at(-1)] as [Step | undefined, Step | undefined];
    const beforeText = first?.before ?? plain(line.value.unitPrice);
    items.push({
      item: item.id,
      rules: [...held],
      before: beforeText,
      after: last?.after ?? beforeText,
      unitPrice: priceText(line.value.unitPrice, decimals),
    });
  }
  return figure({ reached: Object.fromEntries(reached), items, withoutPrice: without });
}
