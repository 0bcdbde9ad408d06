import { plain, settle } from '../numbers/decimal.ts';
import type { Day } from '../numbers/day.ts';
import type { CostsView } from './view.ts';
import { SUPPLIER_CHOICES, type SupplierChoice } from './cost.ts';
import { offersOf } from './landed-cost.ts';

/** Whose cost counts, and what a unit then costs landed, in the workspace's currency; null: it cannot be worked out. */
export interface Chosen {
  readonly supplier: string;
  readonly landed: string | null;
}

export interface ChoicesOfItem {
  readonly item: string;
  readonly by: Readonly<Record<SupplierChoice, Chosen>>;
}

/** Items whose cost would be another under another choice of whose cost counts: under each choice, whose and how much. */
export function choicesCompared(ws: CostsView, day: Day): ChoicesOfItem[] {
  const out: ChoicesOfItem[] = [];
  for (const item of ws.workspace.items) {
    const costs = ws.costsByItem.get(item.id) ?? [];
    if (costs.every((c) => c.supplier === costs[0]?.supplier) || ws.followed(item) !== item) continue;
    const chosen = SUPPLIER_CHOICES.map((choice) => {
      const first = offersOf(ws, item, day, { choice })[0];
      if (!first) return null;
      const landed = first.landed.ok ? plain(settle(first.landed.value.landed)) : null;
      return [choice, { supplier: first.supplier.id, landed }] as const;
    }).filter((c) => c !== null);
    const differs = chosen.some(([, c]) => c.supplier !== chosen[0]![1].supplier);
    if (differs) out.push({ item: item.id, by: Object.fromEntries(chosen) as ChoicesOfItem['by'] });
  }
  return out;
}
