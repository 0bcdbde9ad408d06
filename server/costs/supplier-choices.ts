import type { ChoiceEffect, SupplierChoices } from '#contract/costs.ts';
import { type ChoicesOfItem, choicesCompared } from '#core/costs/supplier-choices.ts';
import { dec, divide, percent, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import { SUPPLIER_CHOICES, type SupplierChoice } from '#core/costs/cost.ts';
import type { Db } from '../platform/database.ts';
import { workspaceOn } from '../workspace/state.ts';

/** Of the items that differ so many are named, those that differ most first. */
const MOST_NAMED = 500;

/** What another choice of whose cost counts would change: how many costs go up or down, and item by item whose and how much. */
export async function supplierChoices(db: Db, today: string): Promise<SupplierChoices> {
  const { ws } = await workspaceOn(db, today);
  const now = ws.workspace.supplierChoice;
  const all = choicesCompared(ws, today);
  const spread = new Map(all.map((i) => [i, largestMove(i, now)]));
  const named = [...all].sort((a, b) => spread.get(b)! - spread.get(a)!).slice(0, MOST_NAMED);
  return {
    day: today,
    choice: now,
    currency: ws.workspace.currency,
    items: all.length,
    effects: SUPPLIER_CHOICES.filter((c) => c !== now).map((choice) => effectOf(all, now, choice)),
    rows: named.map((i) => {
      const item = ws.items.get(i.item)!;
      return {
        item: i.item,
        sku: item.sku,
        name: item.name,
        by: Object.fromEntries(
          SUPPLIER_CHOICES.map((c) => {
            const { supplier, landed } = i.by[c];
            return [
              c,
              { supplier: ws.suppliers.get(supplier)?.name ?? supplier, landed, changePercent: moveOf(i, now, c) },
            ];
          }),
        ) as SupplierChoices['rows'][number]['by'],
      };
    }),
  };
}

/** Per cent of what counts now, on one decimal; null where one of them is not known. */
function moveOf(i: ChoicesOfItem, now: SupplierChoice, choice: SupplierChoice): string | null {
  const [before, after] = [i.by[now].landed, i.by[choice].landed];
  if (before === null || after === null || dec(before).isZero()) return null;
  return plain(roundHalfUp(percent(divide(dec(after).minus(before), dec(before))), 1));
}

const largestMove = (i: ChoicesOfItem, now: SupplierChoice): number =>
  Math.max(...SUPPLIER_CHOICES.map((c) => Math.abs(Number(moveOf(i, now, c) ?? 0))));

function effectOf(all: readonly ChoicesOfItem[], now: SupplierChoice, choice: SupplierChoice): ChoiceEffect {
  const other = all.filter((i) => i.by[choice].supplier !== i.by[now].supplier);
  const moves = other.map((i) => moveOf(i, now, choice));
  return {
    choice,
    items: other.length,
    up: moves.filter((m) => m !== null && Number(m) > 0).length,
    down: moves.filter((m) => m !== null && Number(m) < 0).length,
    unknown: other.filter((i) => i.by[choice].landed === null).length,
  };
}
