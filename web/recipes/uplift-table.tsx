import { useState } from 'react';
import type { NamedItem } from '#contract/items.ts';
import type { RecipeBody } from '#contract/recipes.ts';
import type { UpliftMethod } from '#core/recipes/recipe.ts';
import { useNamedItems } from '../items/named-items.ts';
import { RecordOne } from '../records/record-picker.tsx';
import { useNumberForm } from '../frame/preferences.ts';
import { RECIPE_FIELDS, ROW_TIES } from '#contract/records/recipe-fields.ts';
import { type Choice, useChoices } from '../records/use-names.ts';
import { DeclaredFields, freshId } from '../records/declared-field.tsx';
import { Button, Dialog } from '../kit/controls.tsx';
import { CellSelect } from '../kit/select.tsx';
import { type Fault, RowFaults } from '../kit/faults.tsx';
import { type NumberForm, show } from '../kit/number-form.ts';
import { NumberInput } from '../kit/number-input.tsx';
import { UpliftEcho, answerTo } from './uplift-echo.tsx';

type Row = RecipeBody['uplift'][number];

const METHODS = Object.entries(RECIPE_FIELDS.uplift.fields.method.options);

/** What a new row starts from: everything, at a markup. */
export const freshRow = (rows: readonly Row[]): Row => ({
  id: freshId(rows),
  scope: {},
  method: 'markup',
  value: '50',
  currency: null,
});

const AMOUNTS: ReadonlySet<UpliftMethod> = new Set(['add', 'amount_off', 'fixed']);

interface ShownTie {
  readonly title: string;
  /** The ties without it. */
  readonly without: Partial<Row['scope']>;
}

/** Ties that have no column of their own: a row must never look as if it reached more than it does. */
export function tiesOf(
  scope: Row['scope'],
  items: ReadonlyMap<string, Pick<NamedItem, 'sku' | 'name'>>,
  lockstep: readonly Choice[],
  form: NumberForm,
): ShownTie[] {
  const out: ShownTie[] = [];
  if (scope.item) {
    const item = items.get(scope.item);
    out.push({ title: item ? `${item.sku}, ${item.name}` : `item ${scope.item}`, without: { item: null } });
  }
  for (const [name, value] of Object.entries(scope.attributes ?? {})) {
    const { [name]: _, ...rest } = scope.attributes!;
    out.push({ title: `${name} ${value}`, without: { attributes: Object.keys(rest).length > 0 ? rest : null } });
  }
  if (scope.lockstep) {
    const group = lockstep.find((g) => g.id === scope.lockstep);
    out.push({ title: group ? `in lockstep: ${group.name}` : 'a lockstep group', without: { lockstep: null } });
  }
  if (scope.channel) out.push({ title: `channel ${scope.channel}`, without: { channel: null } });
  if (scope.band) {
    const { from, to } = scope.band;
    out.push({
      title: `a basis from ${show(from, form)}${to ? ` to under ${show(to, form)}` : ' up'}`,
      without: { band: null },
    });
  }
  return out;
}

/** The rows that say how much to add; the most specific row that reaches an item wins. Markup and margin answer each other as they are typed. */
export function UpliftTable({
  rows,
  onRows,
  sample,
  currency,
  basis,
  faults,
}: {
  rows: readonly Row[];
  onRows: (rows: Row[]) => void;
  sample: string;
  /** That of the sample, and of an amount that names none: the list's. */
  currency: string;
  basis: 'cost' | 'price';
  faults: readonly Fault[] | undefined;
}) {
  const form = useNumberForm();
  const items = useNamedItems(rows.map((r) => r.scope.item ?? null));
  const lockstep = useChoices('lockstep');
  const [tying, setTying] = useState<number | null>(null);
  const change = (i: number, more: Partial<Row>) => onRows(rows.map((r, n) => (n === i ? { ...r, ...more } : r)));
  const tie = (i: number, more: Partial<Row['scope']>) => change(i, { scope: { ...rows[i]!.scope, ...more } });
  const text = (i: number, field: 'pack' | 'brand' | 'model', label: string) => (
    <input
      aria-label={`${label}, row ${i + 1}`}
      placeholder="any"
      className="field w-[3.6rem]"
      value={rows[i]!.scope[field] ?? ''}
      onChange={(e) => tie(i, { [field]: e.target.value || null })}
    />
  );
  return (
    <div>
      <div className="overflow-x-auto">
        <table className="ruled [&_td]:!px-1 [&_th]:!px-1">
          <thead>
            <tr>
              <th>Category</th>
              <th>Supplier</th>
              <th>Pack</th>
              <th>Brand</th>
              <th>Model</th>
              <th>Only for</th>
              <th>How</th>
              <th className="figure">
                markup,
                <br />% of cost
              </th>
              <th className="figure">
                margin,
                <br />% of price
              </th>
              <th>On the sample</th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r, i) => (
              <tr key={i} aria-label={`Uplift row ${i + 1}`}>
                <td>
                  <RecordOne
                    register="categories"
                    label={`Category, row ${i + 1}`}
                    className="w-32"
                    none="any"
                    value={r.scope.category ?? null}
                    onValue={(category) => tie(i, { category })}
                  />
                </td>
                <td>
                  <RecordOne
                    register="suppliers"
                    label={`Supplier, row ${i + 1}`}
                    className="w-24"
                    none="any"
                    value={r.scope.supplier ?? null}
                    onValue={(supplier) => tie(i, { supplier })}
                  />
                </td>
                <td>{text(i, 'pack', 'Pack')}</td>
                <td>{text(i, 'brand', 'Brand')}</td>
                <td>{text(i, 'model', 'Model')}</td>
                <td>
                  {tiesOf(r.scope, items, lockstep, form).map((t) => (
                    <div key={t.title} className="text-xs whitespace-nowrap">
                      {t.title}{' '}
                      <button
                        type="button"
                        aria-label={`Take away “${t.title}”, row ${i + 1}`}
                        className="text-accent underline"
                        onClick={() => tie(i, t.without)}
                      >
                        ×
                      </button>
                    </div>
                  ))}
                  <button
                    type="button"
                    aria-label={`More ties, row ${i + 1}`}
                    className="text-xs text-accent underline"
                    onClick={() => setTying(i)}
                  >
                    {tiesOf(r.scope, items, lockstep, form).length === 0 ? 'more …' : 'change …'}
                  </button>
                </td>
                <td>
                  <CellSelect
                    aria-label={`How, row ${i + 1}`}
                    className="w-28"
                    value={r.method}
                    onValue={(chosen) => change(i, { method: chosen as UpliftMethod })}
                    options={METHODS}
                  />
                </td>
                <Value row={r} i={i} onChange={(more) => change(i, more)} ours={currency} />
                <td>
                  {r.currency && AMOUNTS.has(r.method) && r.currency !== currency ? (
                    <span className="text-xs text-faint">
                      {show(r.value, form)} {r.currency}, exchanged by the day’s rate
                    </span>
                  ) : (
                    <UpliftEcho method={r.method} value={r.value} sample={sample} currency={currency} basis={basis} />
                  )}
                  <RowFaults faults={faults} of={`uplift[${i}]`} />
                </td>
                <td>
                  <button
                    type="button"
                    aria-label={`Take row ${i + 1} away`}
                    disabled={rows.length === 1}
                    className="text-accent underline disabled:text-faint"
                    onClick={() => onRows(rows.filter((_, n) => n !== i))}
                  >
                    ×
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Button className="mt-2" onClick={() => onRows([...rows, freshRow(rows)])}>
        Add a row
      </Button>
      {tying !== null && rows[tying] ? (
        <Dialog open onClose={() => setTying(null)} title={`Uplift row ${tying + 1} is only for`}>
          <DeclaredFields
            fields={ROW_TIES}
            row={rows[tying].scope as Record<string, unknown>}
            path={`uplift[${tying}].scope`}
            within={`row ${tying + 1}`}
            faults={faults}
            onRow={(scope) => change(tying, { scope: scope as Row['scope'] })}
          />
          <div className="mt-4 flex justify-end">
            <Button weight="main" onClick={() => setTying(null)}>
              Done
            </Button>
          </div>
        </Dialog>
      ) : null}
    </div>
  );
}

/** The typed figure stands upright, the one that answers it in grey. */
function Value({
  row,
  i,
  onChange,
  ours,
}: {
  row: Row;
  i: number;
  onChange: (more: Partial<Row>) => void;
  /** That of an amount which names none. */
  ours: string;
}) {
  const currency = row.currency ?? ours;
  if (row.method !== 'markup' && row.method !== 'margin') {
    const unit = { multiply: 'times', add: currency, percent_off: '%', amount_off: currency, fixed: currency }[
      row.method
    ];
    return (
      <td colSpan={2} className="whitespace-nowrap">
        <NumberInput
          aria-label={`Value, row ${i + 1}`}
          className="w-24"
          value={row.value}
          onValue={(value) => onChange({ value })}
        />{' '}
        <span className="text-xs text-faint">{unit}</span>
      </td>
    );
  }
  const answer = answerTo(row.method, row.value) ?? '';
  return (['markup', 'margin'] as const).map((method) => (
    <td key={method}>
      <NumberInput
        aria-label={`${method === 'markup' ? 'Markup' : 'Margin'} per cent, row ${i + 1}`}
        className={`w-[4.25rem] ${row.method === method ? 'font-semibold' : '!text-faint'}`}
        value={row.method === method ? row.value : answer}
        onValue={(value) => onChange({ method, value })}
      />
    </td>
  ));
}
