import { useState } from 'react';
import type { ItemChange, ItemConflict, ItemField } from '#contract/items.ts';
import { Button, Dialog } from '../kit/controls.tsx';
import { counted } from '../kit/words.ts';

/** A block of changes of which some met another person's. */
export interface Met {
  readonly changes: ItemChange[];
  readonly conflicts: ItemConflict[];
}

const FIELD_NAMES: Record<ItemField, string> = {
  name: 'name',
  brand: 'brand',
  model: 'model',
  supplierCode: 'supplier’s code',
  unit: 'unit',
  weightKg: 'weight, kg',
  taxClass: 'tax class',
  rrp: 'RRP',
  map: 'MAP',
  category: 'category',
};

const keyOf = (c: { item: string; field: string }) => `${c.item}/${c.field}`;

/** Both values of every cell that somebody else changed meanwhile; a choice for each, and one way to go on. */
export function MetInItems({
  met,
  shown,
  onGoOn,
}: {
  met: Met;
  /** A value as a person reads it. */
  shown: (field: ItemField, text: string) => string;
  onGoOn: (changes: ItemChange[]) => void;
}) {
  const [mine, setMine] = useState<ReadonlySet<string>>(new Set());
  const goOn = () => {
    const now = new Map(met.conflicts.map((c) => [keyOf(c), c.now]));
    onGoOn(
      met.changes.flatMap((c) => {
        const theirs = now.get(keyOf(c));
        if (theirs === undefined) return [c];
        return mine.has(keyOf(c)) ? [{ ...c, seen: theirs }] : [];
      }),
    );
  };
  const rest = met.changes.length - met.conflicts.length;
  const value = (c: ItemConflict, text: string) =>
    text === '' ? <span className="text-faint">(nothing)</span> : shown(c.field, text);
  return (
    <Dialog open onClose={goOn} title="Somebody else changed this meanwhile" wide>
      <p className="mb-2">
        Nothing was kept yet. Choose what each of these is to hold
        {rest > 0 ? `; ${counted(rest, 'other change')} of yours will be kept with it` : ''}.
      </p>
      <div className="max-h-[50vh] overflow-auto">
        <table className="ruled w-full">
          <thead>
            <tr>
              <th>Item</th>
              <th>Field</th>
              <th>in store</th>
              <th>yours</th>
            </tr>
          </thead>
          <tbody>
            {met.conflicts.map((c) => (
              <tr key={keyOf(c)}>
                <td>{c.sku}</td>
                <td>{FIELD_NAMES[c.field]}</td>
                {(['theirs', 'mine'] as const).map((whose) => (
                  <td key={whose}>
                    <label className="flex items-center gap-2">
                      <input
                        type="radio"
                        name={keyOf(c)}
                        checked={mine.has(keyOf(c)) === (whose === 'mine')}
                        onChange={() => {
                          const next = new Set(mine);
                          if (whose === 'mine') next.add(keyOf(c));
                          else next.delete(keyOf(c));
                          setMine(next);
                        }}
                      />
                      {value(c, whose === 'mine' ? c.value : c.now)}
                      {whose === 'theirs' && c.by ? <span className="text-xs text-faint">{c.by}</span> : null}
                    </label>
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="mt-4 flex justify-end gap-2">
        <Button weight="main" onClick={goOn}>
          Go on {mine.size === 0 ? 'with what is in store' : 'with this choice'}
        </Button>
      </div>
    </Dialog>
  );
}
