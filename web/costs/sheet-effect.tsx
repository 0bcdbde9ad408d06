import type { SheetEffect } from '#contract/costs.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { showDay } from '../kit/number-form.ts';
import { MovesTable } from '../lists/moves-table.tsx';

/** Which computed prices a sheet would move, list by list. */
export function SheetMoves({ effect, trouble }: { effect: SheetEffect | undefined; trouble: string | null }) {
  const form = useNumberForm();
  if (trouble) return <p className="px-5 py-3 text-stop">{trouble}</p>;
  if (!effect)
    return (
      <p className="px-5 py-3 text-faint" role="status">
        Working out which prices would move …
      </p>
    );
  return (
    <div className="min-h-0 flex-1 overflow-auto px-5 py-3">
      <p className="mb-2 max-w-4xl text-faint">
        What the recipes would make on {showDay(effect.day, form)}, when the last of these costs counts, beside what
        they make without them. Rows that are held are counted too. No posted price changes by it.
      </p>
      {effect.lists.length === 0 ? <p>No computed price would move.</p> : <MovesTable lists={effect.lists} />}
    </div>
  );
}
