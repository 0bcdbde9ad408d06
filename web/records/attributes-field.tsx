import { useState } from 'react';
import type { AttributeTerms } from '#core/items/described.ts';
import { Input } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { NumberInput } from '../kit/number-input.tsx';
import { useAttributes } from './use-names.ts';

type Rows = readonly (readonly [name: string, value: string])[];

/** Names with a text each: chosen where attributes are declared, typed where none is. */
export function AttributesField({
  value,
  label,
  onValue,
}: {
  value: Readonly<Record<string, string>> | null;
  label: string;
  onValue: (value: Record<string, string> | null) => void;
}) {
  const declared = useAttributes();
  const [rows, setRows] = useState<Rows>(() => Object.entries(value ?? {}));
  const put = (next: Rows) => {
    setRows(next);
    const filled = next.filter(([name, v]) => name.trim() !== '' && v.trim() !== '');
    onValue(filled.length > 0 ? Object.fromEntries(filled.map(([name, v]) => [name.trim(), v.trim()])) : null);
  };
  const free = declared.filter((a) => !rows.some(([name]) => name === a.name));
  return (
    <span className="flex flex-col gap-1">
      {rows.map(([name, v], i) => {
        const terms = declared.find((a) => a.name === name);
        return (
          <span key={i} className="flex items-center gap-1.5">
            {declared.length > 0 ? (
              <Select
                aria-label={`Name ${i + 1}, ${label}`}
                className="w-40"
                value={name}
                onValue={(chosen) => put(rows.with(i, [chosen, '']))}
                options={[
                  ...(name === '' ? [['', '–'] as const] : []),
                  ...(terms || name === '' ? [] : [[name, `${name} (not declared)`] as const]),
                  ...declared.filter((a) => a === terms || free.includes(a)).map((a) => [a.name, a.name] as const),
                ]}
              />
            ) : (
              <Input
                aria-label={`Name ${i + 1}, ${label}`}
                placeholder="colour"
                className="w-32"
                value={name}
                onChange={(e) => put(rows.with(i, [e.target.value, v]))}
              />
            )}
            <ValueOf
              terms={terms}
              value={v}
              label={`Value ${i + 1}, ${label}`}
              onValue={(text) => put(rows.with(i, [name, text]))}
            />
            <button
              type="button"
              aria-label={`Take away attribute ${i + 1}, ${label}`}
              className="px-1 text-accent"
              onClick={() => put(rows.filter((_, n) => n !== i))}
            >
              ×
            </button>
          </span>
        );
      })}
      {declared.length === 0 || free.length > 0 ? (
        <button type="button" className="self-start text-accent underline" onClick={() => setRows([...rows, ['', '']])}>
          add an attribute
        </button>
      ) : null}
    </span>
  );
}

/** One value, as its attribute has it: chosen, a number with its unit, or any text. */
function ValueOf({
  terms,
  value,
  label,
  onValue,
}: {
  terms: AttributeTerms | undefined;
  value: string;
  label: string;
  onValue: (text: string) => void;
}) {
  if (terms?.kind === 'choice') {
    const values = terms.values ?? [];
    return (
      <Select
        aria-label={label}
        className="w-40"
        value={value}
        onValue={(chosen) => onValue(chosen)}
        options={[
          ...(value === '' ? [['', '–'] as const] : []),
          ...(value === '' || values.includes(value) ? [] : [[value, `${value} (not declared)`] as const]),
          ...values.map((v) => [v, v] as const),
        ]}
      />
    );
  }
  if (terms?.kind === 'number')
    return (
      <>
        <NumberInput aria-label={label} className="w-24" value={value} onValue={onValue} />
        {terms.unit ? <span className="text-faint">{terms.unit}</span> : null}
      </>
    );
  return (
    <Input
      aria-label={label}
      placeholder={terms ? undefined : 'red'}
      className="w-40"
      value={value}
      onChange={(e) => onValue(e.target.value)}
    />
  );
}
