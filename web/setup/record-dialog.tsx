import { type ReactNode, useState } from 'react';
import type { ItemRow } from '#contract/items.ts';
import { ItemPicker } from '../quotes/item-picker.tsx';
import { DeclaredField } from '../records/declared-field.tsx';
import { BREAK_KINDS, type BreakKind, type BreakRow } from '#core/quotes/breaks.ts';
import { toast } from 'sonner';
import { RecordHistory } from '../ledger/record-history.tsx';
import { FindingsBeside } from '../findings/findings-beside.tsx';
import { itemsApi } from '../items/endpoints.ts';
import { recordsApi } from '../records/endpoints.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Button, Dialog, Field, Input, Select, Trouble } from '../kit/controls.tsx';
import { DateField } from '../kit/date-field.tsx';
import { type Fault, RowFaults, faultWords } from '../kit/faults.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { NumberInput } from '../kit/number-input.tsx';
import { Conflict } from '../kit/conflict.tsx';
import { cellText, useNames } from './cell-text.ts';
import type { RegisterField, RegisterView } from './registers.ts';
import { useRecordForm } from './use-record-form.ts';

type Body = Record<string, unknown>;

/** One record of a register: made, changed, removed. */
export function RecordDialog({
  view,
  row,
  onClose,
}: {
  view: RegisterView;
  row: (Body & { id: string; version: number }) | null;
  onClose: () => void;
}) {
  const start: Body = row ? wholeBody(view, row) : view.start;
  const { body, set, save, saving, problem, fault, faults, theirs, goOn, changed } = useRecordForm<Body>(
    view.name,
    start,
    row?.id ?? null,
    row?.version ?? 0,
  );
  const [remove] = recordsApi.useRemoveRecordMutation();
  const [leaving, setLeaving] = useState(false);
  const keep = async () => {
    if (await save()) onClose();
  };
  const away = async () => {
    if (!row) return;
    try {
      await remove({ register: view.name, id: row.id, version: row.version }).unwrap();
      toast.success('Removed. The ledger keeps what it was.');
      onClose();
    } catch (error) {
      toast.error(problemOf(error).message);
    }
  };
  const names = useNames(view.fields);
  const form = useNumberForm();
  const shownField = (name: string, value: unknown) => {
    const field = view.fields.find((f) => f.name === name);
    return field
      ? cellText(
          field,
          value,
          names,
          (t) => show(t, form),
          (d) => showDay(d, form),
        )
      : value;
  };
  const fields = view.fields.filter((f) => row !== null || !f.laterOnly);
  const shownFields = fields.filter((f) => f.as.kind !== 'declared' || (f.as.field.when?.(body) ?? true));
  // what no field of the form shows is told above it
  const elsewhere = faults?.filter((f) => !fields.some((x) => f.path === x.name));
  const Beside = view.beside;
  const close = () => (changed && !leaving ? setLeaving(true) : onClose());
  return (
    <Dialog
      open
      onClose={close}
      title={row ? `Change this ${view.one}` : `New ${view.one}`}
      wide={fields.some((f) => f.as.kind === 'declared')}
    >
      <form onSubmit={(e) => (e.preventDefault(), void keep())}>
        {theirs ? (
          <Conflict
            message={problem!.message}
            theirs={theirs}
            mine={body}
            titles={Object.fromEntries(view.fields.map((f) => [f.name, f.title]))}
            shown={(name, value) => shownField(name, value)}
            onGoOn={goOn}
          />
        ) : problem ? (
          <Trouble>
            {problem.message} {faultWords(elsewhere)}
          </Trouble>
        ) : null}
        <div className="mt-2 grid grid-cols-2 gap-x-5 gap-y-3">
          {shownFields.map((f) => (
            <div key={f.name} className={isLong(f) ? 'col-span-2' : ''}>
              <OneField
                field={f}
                value={body[f.name]}
                onValue={(v) => set({ [f.name]: v })}
                fault={fault(f.name)}
                faults={faults}
              />
            </div>
          ))}
        </div>
        <FindingsBeside
          register={view.name}
          id={row?.id ?? null}
          address={row ? addressOf(view.name, row) : null}
          body={body}
          changed={changed}
        />
        {row ? <RecordHistory<Body> register={view.name} id={row.id} onTake={set} /> : null}
        {row && Beside ? <Beside id={row.id} body={body} before={start} /> : null}
        {leaving ? (
          <div className="mt-4">
            <Trouble tone="warn">
              What was typed here is not kept yet.{' '}
              <button type="button" className="underline" onClick={onClose}>
                Throw it away
              </button>{' '}
              or{' '}
              <button type="button" className="underline" onClick={() => setLeaving(false)}>
                go on
              </button>
              .
            </Trouble>
          </div>
        ) : null}
        {/* in sight however long the form is: what is said above it comes later and would push it away */}
        <div className="sticky -bottom-5 -mx-5 mt-5 -mb-5 flex items-center gap-2 border-t border-rule bg-sheet px-5 py-3">
          {row && view.removable ? (
            <Button weight="stop" onClick={() => void away()}>
              Remove
            </Button>
          ) : null}
          <span className="flex-1" />
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" weight="main" disabled={saving}>
            {saving ? 'Keeping …' : 'Keep'}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

/** Fields that need the width of the form. */
const LONG = new Set(['texts', 'rows', 'scope', 'scopes', 'many', 'countries', 'attributes', 'part', 'condition']);
const isLong = (f: RegisterField): boolean =>
  f.as.kind === 'declared' ? LONG.has(f.as.field.type) : f.as.kind === 'breakRows' || f.as.kind === 'records';

/** Where findings say that a record is. */
const addressOf = (register: string, row: Body & { id: string }): string =>
  register === 'lists'
    ? `/lists/${row.id}`
    : register === 'items'
      ? `/items?find=${encodeURIComponent(String(row['sku']))}`
      : `/setup/${register}?open=${row.id}`;

/** A record goes back whole: what the form does not show stays what it is. */
function wholeBody(view: RegisterView, { id: _id, version: _version, ...row }: Body & { id: string; version: number }) {
  return { ...Object.fromEntries(view.fields.map((f) => [f.name, null])), ...row };
}

function OneField({
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
      return wrap(
        <RecordChoice register={f.as.register} name={f.name} value={text} onValue={(v) => onValue(orNull(v))} />,
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

function RecordChoice({
  register,
  name,
  value,
  onValue,
}: {
  register: string;
  name: string;
  value: string;
  onValue: (v: string) => void;
}) {
  return (
    <Select
      name={name}
      value={value}
      onChange={(e) => onValue(e.target.value)}
      options={[['', 'none'], ...useRecords(register)]}
    />
  );
}

const NO_ITEMS: ItemRow[] = [];

/** The item a rule is tied to, with a way to take the tie away or to choose another. */
function ItemChoice({ title, value, onValue }: { title: string; value: string; onValue: (v: string) => void }) {
  const { data: items = NO_ITEMS } = itemsApi.useItemsQuery(null);
  const item = items.find((i) => i.id === value);
  if (value !== '')
    return (
      <span className="flex items-center gap-2">
        <span>{item ? `${item.sku} · ${item.name}` : `item ${value}`}</span>
        <button type="button" className="text-accent underline" onClick={() => onValue('')}>
          take away
        </button>
      </span>
    );
  return <ItemPicker items={items} label={`${title}: code or name`} onPick={(i) => onValue(i.id)} />;
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
