import { MOST_QUANTITY_COLUMNS, type QuantityColumn } from '#contract/sheet-match.ts';
import { Button } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { NumberInput } from '../kit/number-input.tsx';

/** Columns of a sheet that say what more at once costs: from how many is typed, or stands in a column beside it. */
export function QuantityColumns({
  columns,
  value,
  onValue,
}: {
  /** Of the sheet, by place; the first: none. */
  columns: readonly (readonly [string, string])[];
  value: QuantityColumn[];
  onValue: (value: QuantityColumn[]) => void;
}) {
  const set = (at: number, change: Partial<QuantityColumn>) =>
    onValue(value.map((q, i) => (i === at ? { ...q, ...change } : q)));
  const [, ...known] = columns;
  return (
    <fieldset className="col-span-full flex flex-col items-start gap-1">
      <legend className="text-xs text-faint">Columns of costs for more at once</legend>
      {value.map((q, i) => (
        <div key={i} className="flex flex-wrap items-center gap-2">
          <Select
            aria-label={`Column of costs for more, ${i + 1}`}
            value={String(q.column)}
            options={known}
            onValue={(chosen) => set(i, { column: Number(chosen) })}
          />
          <span>from</span>
          <NumberInput
            aria-label={`From so many cost packs, ${i + 1}`}
            className="w-16"
            value={q.from ?? ''}
            disabled={q.fromColumn !== null}
            onValue={(from) => set(i, { from })}
          />
          <span>cost packs at once, or as many as</span>
          <Select
            aria-label={`Column that says from how many, ${i + 1}`}
            value={q.fromColumn === null ? '' : String(q.fromColumn)}
            options={[['', 'as typed'] as const, ...known]}
            onValue={(chosen) =>
              set(i, chosen === '' ? { fromColumn: null, from: '' } : { fromColumn: Number(chosen), from: null })
            }
          />
          <button
            type="button"
            className="text-accent underline"
            aria-label={`Without column ${i + 1} of costs for more`}
            onClick={() => onValue(value.filter((_, n) => n !== i))}
          >
            leave out
          </button>
        </div>
      ))}
      {value.length < MOST_QUANTITY_COLUMNS ? (
        <Button
          disabled={known.length === 0}
          onClick={() => onValue([...value, { column: Number(known[0]![0]), from: '', fromColumn: null }])}
        >
          Add a column
        </Button>
      ) : null}
    </fieldset>
  );
}
