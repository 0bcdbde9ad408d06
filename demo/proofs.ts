import { answer } from '#core/evaluator/answer.ts';
import type { Step } from '#core/buildup/steps.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import type { Tx } from '#server/platform/database.ts';
import { records } from '#server/records/tables.ts';
import { loadWorkspace } from '#server/workspace/load-workspace.ts';

const ASKED = [
  ['BL-10-WH', 'metre', 'Saltholm Boatyard', '60', null],
  ['AN-PL-33', 'each', 'Fjordline Chandlery', '1', null],
  // agreed by letter before the costs of the autumn: it no longer comes out
  ['ML-14-10', 'each', 'Yacht Lumme, private', '2', '44.90'],
] as const;

/** Prices that were checked by hand, kept as proofs; the last of them no longer comes out. */
export async function demoProofs(tx: Tx, today: string): Promise<void> {
  const ws = new Prepared(await loadWorkspace(tx, today));
  for (const [sku, pack, customer, quantity, agreed] of ASKED) {
    const item = ws.workspace.items.find((i) => i.sku === sku)!;
    const buyer = ws.workspace.customers.find((c) => c.name === customer)!;
    const question = { kind: 'price' as const, item: item.id, pack, customer: buyer.id, quantity, day: today };
    const found = answer(ws, question, { buildUp: true });
    if (!found.ok) throw new Error(`${sku} has no price in the demo: ${found.reason.message}`);
    const steps = found['buildUp'] as readonly Step[];
    await tx.insert(records).values({
      kind: 'proofs',
      body: {
        name: `${sku}, ${customer}`,
        question,
        expect: { price: agreed ?? (found['unitPrice'] as string), reason: null, floor: null },
        good: steps.map(({ kind, after }) => ({ kind, after })),
      },
    });
  }
}
