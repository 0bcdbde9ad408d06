import { useMemo } from 'react';
import type { ItemCost } from '#contract/items.ts';
import { dec, divide } from '#core/numbers/decimal.ts';
import { type Steps, StepChart } from '../kit/step-chart.tsx';

/** What each supplier's cost per unit was over time, in the supplier's currency: a step where a cost begins to count. */
export function CostChart({ costs, today }: { costs: readonly ItemCost[]; today: string }) {
  const series = useMemo(() => {
    const counting = costs.filter((c) => !c.takenBack);
    const names = [...new Set(counting.map((c) => `${c.supplierName}, ${c.currency}`))];
    return names.map((name): Steps => ({
      name,
      points: counting
        .filter((c) => `${c.supplierName}, ${c.currency}` === name)
        .sort((a, b) => a.validFrom.localeCompare(b.validFrom))
        .map((c) => [c.validFrom, divide(dec(c.amount), dec(c.packUnits)).toNumber()] as const),
    }));
  }, [costs]);
  return <StepChart series={series} today={today} unit="per unit" label="Cost per unit over time, by supplier" />;
}
