import { useMemo, useState } from 'react';
import { useDay } from '../frame/day.ts';
import { Field } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { ratesApi } from './rate-endpoints.ts';
import { StepChart } from '../kit/step-chart.tsx';

interface RateRow {
  readonly from: string;
  readonly to: string;
  readonly day: string;
  readonly rate: string;
}
const pairOf = (r: RateRow) => `${r.from} in ${r.to}`;

/** How the exchange rate of a pair went. */
export function RateChart({ rows }: { rows: readonly Record<string, unknown>[] }) {
  const { today } = useDay();
  const rates = rows as unknown as readonly RateRow[];
  const pairs = useMemo(() => [...new Set(rates.map(pairOf))].sort(), [rates]);
  const [chosen, setChosen] = useState<string | null>(null);
  const pair = chosen ?? pairs[0] ?? '';
  const { data: fetched } = ratesApi.useFetchedRatesQuery();
  const series = useMemo(
    () => [
      {
        name: 'counts',
        points: rates
          .filter((r) => pairOf(r) === pair)
          .map((r) => [r.day, Number(r.rate)] as const)
          .sort(([a], [b]) => a.localeCompare(b)),
      },
      ...(fetched && fetched.series.length > 0
        ? [
            {
              name: 'quoted by the service',
              points: fetched.series.filter((r) => pairOf(r) === pair).map((r) => [r.day, Number(r.rate)] as const),
            },
          ]
        : []),
    ],
    [rates, pair, fetched],
  );
  if (pairs.length === 0) return null;
  return (
    <div className="mb-4 max-w-4xl">
      <Field label="How it went" className="w-48">
        <Select name="pair" value={pair} onValue={(chosen) => setChosen(chosen)} options={pairs.map((p) => [p, p])} />
      </Field>
      <StepChart series={series} today={today} unit={pair} label={`Exchange rate over time, ${pair}`} />
    </div>
  );
}
