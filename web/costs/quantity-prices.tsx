import { Button } from '../kit/controls.tsx';
import { NumberInput } from '../kit/number-input.tsx';

export interface QuantityPrice {
  readonly from: string;
  readonly cost: string;
}

/** What a cost pack costs where more of them are ordered at once: a row for each quantity. */
export function QuantityPrices({
  value,
  onValue,
}: {
  value: readonly QuantityPrice[];
  onValue: (value: readonly QuantityPrice[]) => void;
}) {
  const set = (at: number, change: Partial<QuantityPrice>) =>
    onValue(value.map((q, i) => (i === at ? { ...q, ...change } : q)));
  return (
    <fieldset className="flex flex-col items-start gap-1">
      <legend className="text-xs text-faint">Cheaper for more at once</legend>
      {value.map((q, i) => (
        <div key={i} className="flex items-center gap-2">
          from
          <NumberInput
            aria-label={`From so many cost packs, ${i + 1}`}
            className="w-16"
            value={q.from}
            onValue={(from) => set(i, { from })}
          />
          at
          <NumberInput
            aria-label={`Cost of one then, ${i + 1}`}
            className="w-24"
            value={q.cost}
            onValue={(cost) => set(i, { cost })}
          />
          <button
            type="button"
            className="text-accent underline"
            aria-label={`Without quantity ${i + 1}`}
            onClick={() => onValue(value.filter((_, n) => n !== i))}
          >
            leave out
          </button>
        </div>
      ))}
      <Button onClick={() => onValue([...value, { from: '', cost: '' }])}>Add a quantity</Button>
    </fieldset>
  );
}
