import type { ReactNode } from 'react';
import { BREAK_KINDS, type BreakKind, type BreakRow } from '#core/quotes/breaks.ts';
import { ItemPicker } from '../items/item-picker.tsx';
import { useNamedItems } from '../items/named-items.ts';
import { Button, Field, Input, Select } from '../kit/controls.tsx';
import { DateField } from '../kit/date-field.tsx';
import { type Fault, RowFaults } from '../kit/faults.tsx';
import { NumberInput } from '../kit/number-input.tsx';
import { DeclaredField } from '../records/declared-field.tsx';
import { recordsApi } from '../records/endpoints.ts';
import { RecordOne } from '../records/record-picker.tsx';
import type { RegisterField } from './registers.ts';

/** One field of a record's form, drawn as its kind asks for. */
export function RecordField({
  field: f,
  value,
  onValue,
  fault,
  faults,
}: {
  field: RegisterField;
  value: unknown;
  onValue: (value: unknown) => void;
  fault: string | undefined;
  faults: readonly Fault[] | undefined;
}) {
  const text = value === null || value === undefined ? '' : String(value as string | number);
  const orNull = (t: string) => (t === '' ? null : t);
  const wrap = (control: ReactNode) => (
    <Field label={f.title} hint={f.hint} fault={fault}>
      {control}
    </Field>
  );
  switch (f.as.kind) {
    case 'yes':
      return (
        <label className="flex items-center gap-2 pt-4">
          <input type="checkbox" name={f.name} checked={value === true} onChange={(e) => onValue(e.target.checked)} />{' '}
          {f.title}
        </label>
      );
    case 'number':
      return wrap(<NumberInput name={f.name} value={text} onValue={(v) => onValue(orNull(v))} />);
    case 'whole':
      return wrap(
        <Input
          name={f.name}
          type="number"
          min={0}
          step={1}
          value={text}
          onChange={(e) => onValue(e.target.value === '' ? null : Number(e.target.value))}
        />,
      );
    case 'day':
      return (
        <Field label={f.title} hint={f.hint} fault={fault} group>
          <DateField name={f.name} label={f.title} value={text} onValue={(v) => onValue(orNull(v))} />
        </Field>
      );
    case 'currency':
      return wrap(
        <Input
          name={f.name}
          maxLength={3}
          value={text}
          onChange={(e) => onValue(orNull(e.target.value.toUpperCase()))}
        />,
      );
    case 'password':
      return wrap(
        <Input
          name={f.name}
          type="password"
          autoComplete="new-password"
          value={text}
          onChange={(e) => onValue(orNull(e.target.value))}
        />,
      );
    case 'choice':
      return wrap(
        <Select
          name={f.name}
          value={text}
          onChange={(e) => onValue(orNull(e.target.value))}
          options={f.optional ? [['', 'none'], ...f.as.options] : f.as.options}
        />,
      );
    case 'record':
      return (
        <Field label={f.title} hint={f.hint} fault={fault} group>
          <RecordOne
            register={f.as.register}
            label={f.title}
            value={text || null}
            onValue={onValue}
            className="w-full"
          />
        </Field>
      );
    case 'records':
      return (
        <RecordChoices
          title={f.title}
          register={f.as.register}
          value={(value as string[] | null) ?? []}
          onValue={onValue}
        />
      );
    case 'item':
      return wrap(<ItemChoice title={f.title} value={text} onValue={(v) => onValue(orNull(v))} />);
    case 'declared':
      return <DeclaredField field={f.as.field} path={f.name} value={value} onValue={onValue} faults={faults} />;
    case 'breakRows':
      return <BreakRows rows={(value as BreakRow[] | null) ?? []} onRows={onValue} faults={faults} />;
    default:
      return wrap(
        <Input
          name={f.name}
          value={text}
          onChange={(e) => onValue(f.optional ? orNull(e.target.value) : e.target.value)}
        />,
      );
  }
}

function useRecords(register: string): readonly (readonly [string, string])[] {
  const { data = [] } = recordsApi.useRegisterQuery(register as 'lists');
  return data.map((r) => [r.id, String(r['name'])] as const);
}

/** The item a rule is tied to, with a way to take the tie away or to choose another. */
function ItemChoice({ title, value, onValue }: { title: string; value: string; onValue: (v: string) => void }) {
  const item = useNamedItems([value]).get(value);
  if (value !== '')
    return (
      <span className="flex items-center gap-2">
        <span>{item ? `${item.sku} · ${item.name}` : `item ${value}`}</span>
        <button type="button" className="text-accent underline" onClick={() => onValue('')}>
          take away
        </button>
      </span>
    );
  return <ItemPicker label={`${title}: code or name`} onPick={(i) => onValue(i.id)} />;
}

function RecordChoices({
  title,
  register,
  value,
  onValue,
}: {
  title: string;
  register: string;
  value: readonly string[];
  onValue: (v: string[]) => void;
}) {
  const records = useRecords(register);
  return (
    <fieldset>
      <legend className="text-xs text-faint">{title}</legend>
      <div className="flex flex-wrap gap-x-4">
        {records.map(([id, name]) => (
          <label key={id} className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={value.includes(id)}
              onChange={(e) => onValue(e.target.checked ? [...value, id] : value.filter((v) => v !== id))}
            />{' '}
            {name}
          </label>
        ))}
      </div>
    </fieldset>
  );
}

const KIND_NAMES: Record<BreakKind, string> = { price: 'price', percent_off: '% off', amount_off: 'amount off' };

function BreakRows({
  rows,
  onRows,
  faults,
}: {
  rows: readonly BreakRow[];
  onRows: (rows: BreakRow[]) => void;
  faults: readonly Fault[] | undefined;
}) {
  const change = (i: number, more: Partial<BreakRow>) => onRows(rows.map((r, n) => (n === i ? { ...r, ...more } : r)));
  return (
    <fieldset>
      <legend className="text-xs text-faint">Breaks</legend>
      {rows.map((r, i) => (
        <div key={i} className="flex items-center gap-2 py-0.5">
          from{' '}
          <NumberInput
            aria-label={`From, break ${i + 1}`}
            className="w-24"
            value={r.from}
            onValue={(from) => change(i, { from })}
          />
          <Select
            aria-label={`Kind, break ${i + 1}`}
            value={r.kind}
            onChange={(e) => change(i, { kind: e.target.value as BreakKind })}
            options={BREAK_KINDS.map((k) => [k, KIND_NAMES[k]] as const)}
          />
          <NumberInput
            aria-label={`Value, break ${i + 1}`}
            className="w-24"
            value={r.value}
            onValue={(v) => change(i, { value: v })}
          />
          <button
            type="button"
            aria-label={`Take break ${i + 1} away`}
            className="text-accent underline disabled:text-faint"
            disabled={rows.length === 1}
            onClick={() => onRows(rows.filter((_, n) => n !== i))}
          >
            ×
          </button>
          <RowFaults faults={faults} of={`rows[${i}]`} />
        </div>
      ))}
      <Button onClick={() => onRows([...rows, { from: '', kind: 'percent_off', value: '' }])}>Add a break</Button>
    </fieldset>
  );
}
