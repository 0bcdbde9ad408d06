import { type Field as Declared, type Fields, TIES, TIE_FIELDS, startOf } from '#contract/records/declare.ts';
import type { Condition } from '#core/quotes/rules/rule.ts';
import type { Scope, Tie } from '#core/items/scope.ts';
import { Field, Input } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { DateField } from '../kit/date-field.tsx';
import type { Fault } from '../kit/faults.tsx';
import { NumberInput } from '../kit/number-input.tsx';
import { CountriesChooser, CountryChooser, ManyChooser, OneChooser, SuggestedText, TextsField } from './choosers.tsx';
import { AttributesField } from './attributes-field.tsx';
import { type Amount, AmountField } from './amount-field.tsx';
import { ConditionField } from './condition-field.tsx';
import { RowList } from './row-list.tsx';

type Row = Readonly<Record<string, unknown>>;

interface Props {
  readonly field: Declared;
  /** From the record down: "rules[0].effects[1].value". */
  readonly path: string;
  readonly value: unknown;
  readonly onValue: (value: unknown) => void;
  readonly faults: readonly Fault[] | undefined;
  /** What tells it from others of the same title, for those who hear the page. */
  readonly within?: string;
}

/** One declared field with its label and what is wrong in it. */
export function DeclaredField(props: Props) {
  const { field: f, path, faults } = props;
  const fault = faults?.find((x) => x.path === path)?.message;
  const single = ['text', 'secret', 'decimal', 'whole', 'choice', 'currency'].includes(f.type);
  if (f.type === 'yes') return <YesField {...props} fault={fault} />;
  return (
    <Field
      label={f.type === 'decimal' && f.unit ? `${f.title}, ${f.unit}` : f.title}
      hint={f.hint}
      fault={fault}
      group={!single}
    >
      <Control {...props} invalid={fault !== undefined} />
    </Field>
  );
}

function YesField({ field, value, onValue, within, path, fault }: Props & { fault: string | undefined }) {
  return (
    <label className="flex items-center gap-2 pt-4">
      <input
        type="checkbox"
        name={path}
        aria-label={within ? `${field.title}, ${within}` : undefined}
        checked={value === true}
        onChange={(e) => onValue(e.target.checked)}
      />
      <span>
        {field.title}
        {field.hint ? <span className="text-xs text-faint"> ({field.hint})</span> : null}
        {fault ? (
          <span role="alert" className="block text-xs text-stop">
            {fault}
          </span>
        ) : null}
      </span>
    </label>
  );
}

function Control({ field: f, path, value, onValue, faults, within, invalid }: Props & { invalid: boolean }) {
  const label = within ? `${f.title}, ${within}` : f.title;
  const text = value === null || value === undefined ? '' : String(value as string | number);
  const orNull = (t: string) => (t === '' && f.optional ? null : t);
  switch (f.type) {
    case 'text':
      return (
        <SuggestedText
          of={f.suggest}
          name={path}
          label={label}
          value={text}
          invalid={invalid}
          onValue={(t) => onValue(orNull(t))}
        />
      );
    case 'secret':
      return (
        <Input
          name={path}
          type="password"
          aria-label={label}
          autoComplete="new-password"
          value={text}
          invalid={invalid}
          onChange={(e) => onValue(orNull(e.target.value))}
        />
      );
    case 'texts':
      return <TextsField value={(value as string[] | null) ?? []} label={label} onValue={onValue} />;
    case 'decimal':
      return (
        <NumberInput
          name={path}
          aria-label={label}
          className="w-32"
          value={text}
          invalid={invalid}
          onValue={(t) => onValue(orNull(t))}
        />
      );
    case 'whole':
      return (
        <Input
          name={path}
          type="number"
          aria-label={label}
          step={1}
          value={text}
          className="w-24"
          onChange={(e) => onValue(e.target.value === '' ? null : Number(e.target.value))}
        />
      );
    case 'day':
      return <DateField name={path} label={label} value={text} onValue={(d) => onValue(orNull(d))} />;
    case 'currency':
      return (
        <Input
          name={path}
          aria-label={label}
          maxLength={3}
          className="w-20"
          value={text}
          invalid={invalid}
          onChange={(e) => onValue(orNull(e.target.value.toUpperCase()))}
        />
      );
    case 'choice':
      return (
        <Select
          name={path}
          aria-label={label}
          value={text}
          onValue={(chosen) => onValue(chosen === '' ? null : chosen)}
          options={[...(f.optional ? [['', '–'] as const] : []), ...Object.entries(f.options)]}
        />
      );
    case 'country':
      return <CountryChooser value={(value as string | null) ?? null} label={label} onValue={onValue} />;
    case 'countries':
      return <CountriesChooser value={(value as string[] | null) ?? []} label={label} onValue={onValue} />;
    case 'one':
      return <OneChooser to={f.to} value={(value as string | null) ?? null} label={label} onValue={onValue} />;
    case 'many':
      return <ManyChooser to={f.to} value={(value as string[] | null) ?? []} label={label} onValue={onValue} />;
    case 'amount':
      return <AmountField value={value as Amount | null} label={label} name={path} onValue={onValue} />;
    case 'attributes':
      return (
        <AttributesField value={(value as Record<string, string> | null) ?? null} label={label} onValue={onValue} />
      );
    case 'scope':
      return (
        <ScopeField value={(value as Scope | null) ?? {}} path={path} label={label} faults={faults} onValue={onValue} />
      );
    case 'scopes':
      return (
        <RowList
          rows={(value as Row[] | null) ?? []}
          one={f.one}
          label={label}
          fresh={() => ({})}
          onRows={onValue}
          draw={(row, i, put) => (
            <ScopeField
              value={row}
              path={`${path}[${i}]`}
              label={`${f.one} ${i + 1}`}
              faults={faults}
              onValue={(next) => put(next as Row)}
            />
          )}
        />
      );
    case 'kept':
      return <span className="text-faint">{keptWords(value)}</span>;
    case 'condition':
      return <ConditionField value={(value as Condition | null) ?? null} label={label} onValue={onValue} />;
    case 'part':
      return (
        <PartField
          fields={f.fields}
          value={value as Row | null}
          path={path}
          label={label}
          faults={faults}
          mayBeEmpty={f.optional !== undefined}
          onValue={onValue}
        />
      );
    case 'rows':
      return (
        <RowList
          rows={(value as Row[] | null) ?? []}
          one={f.one}
          label={label}
          least={f.least ?? 0}
          unordered={f.unordered}
          fresh={(rows) => ({ ...(f.numbered ? { id: freshId(rows) } : {}), ...startOf(f.fields) })}
          onRows={onValue}
          draw={(row, i, put) => (
            <DeclaredFields
              fields={f.fields}
              row={row}
              path={`${path}[${i}]`}
              within={`${f.one} ${i + 1}${within ? `, ${within}` : ''}`}
              faults={faults}
              onRow={put}
            />
          )}
        />
      );
    default:
      return null;
  }
}

export const freshId = (rows: readonly { readonly id?: unknown }[]): string =>
  String(rows.reduce((most, r) => Math.max(most, Number(r['id']) || 0), 0) + 1);

/** All fields of a row or a part that its case asks for. */
export function DeclaredFields({
  fields,
  row,
  path,
  within,
  faults,
  onRow,
}: {
  fields: Fields;
  row: Row;
  path: string;
  within: string;
  faults: readonly Fault[] | undefined;
  onRow: (row: Row) => void;
}) {
  const long = new Set(['condition', 'rows', 'scope', 'scopes', 'attributes', 'many', 'countries']);
  return (
    <span className="flex flex-1 flex-wrap items-start gap-x-4 gap-y-2">
      {Object.entries(fields)
        .filter(([, f]) => f.when?.(row) ?? true)
        .map(([name, f]) => (
          <span key={name} className={long.has(f.type) ? 'w-full' : ''}>
            <DeclaredField
              field={f}
              path={`${path}.${name}`}
              within={within}
              value={row[name]}
              faults={faults}
              onValue={(v) => onRow({ ...row, [name]: v })}
            />
          </span>
        ))}
    </span>
  );
}

function PartField({
  fields,
  value,
  path,
  label,
  faults,
  mayBeEmpty,
  onValue,
}: {
  fields: Fields;
  value: Row | null;
  path: string;
  label: string;
  faults: readonly Fault[] | undefined;
  mayBeEmpty: boolean;
  onValue: (value: Row | null) => void;
}) {
  if (!value)
    return (
      <button
        type="button"
        aria-label={`Say so: ${label}`}
        className="self-start text-accent underline"
        onClick={() => onValue(startOf(fields))}
      >
        say so …
      </button>
    );
  return (
    <span className="flex items-start gap-3 border-l-2 border-rule-strong pl-3">
      <DeclaredFields fields={fields} row={value} path={path} within={label} faults={faults} onRow={onValue} />
      {mayBeEmpty ? (
        <button type="button" aria-label={`Take away: ${label}`} className="text-accent" onClick={() => onValue(null)}>
          ×
        </button>
      ) : null}
    </span>
  );
}

/** What a rule is tied to: only the ties it has are shown, another is added by name. */
function ScopeField({
  value,
  path,
  label,
  faults,
  onValue,
}: {
  value: Scope;
  path: string;
  label: string;
  faults: readonly Fault[] | undefined;
  onValue: (value: Scope) => void;
}) {
  const has = (tie: Tie) => tie in value && value[tie] !== undefined;
  const open = TIES.filter(has);
  return (
    <span className="flex flex-wrap items-end gap-x-4 gap-y-2">
      {open.length === 0 ? <span className="text-faint">everything</span> : null}
      {open.map((tie) => (
        <span key={tie} className="flex items-end gap-1">
          <DeclaredField
            field={TIE_FIELDS[tie]}
            path={`${path}.${tie}`}
            within={label}
            value={value[tie]}
            faults={faults}
            onValue={(v) => onValue({ ...value, [tie]: v })}
          />
          <button
            type="button"
            aria-label={`Not tied to ${TIE_FIELDS[tie].title}, ${label}`}
            className="px-1 pb-1 text-accent"
            onClick={() => {
              const { [tie]: _, ...rest } = value;
              onValue(rest);
            }}
          >
            ×
          </button>
        </span>
      ))}
      <Select
        aria-label={`Tie to, ${label}`}
        value=""
        className="w-36"
        onValue={(chosen) => chosen && onValue({ ...value, [chosen]: null })}
        options={[['', 'only for …'], ...TIES.filter((t) => !has(t)).map((t) => [t, TIE_FIELDS[t].title] as const)]}
      />
    </span>
  );
}

/** What was made elsewhere, in a few words. */
function keptWords(value: unknown): string {
  if (Array.isArray(value)) return `${value.length} steps of a run that was right`;
  if (value === null || typeof value !== 'object') return 'none';
  return Object.entries(value)
    .filter(([, v]) => v !== null && v !== '' && typeof v !== 'object')
    .map(([name, v]) => `${name} ${String(v)}`)
    .join(' · ');
}
