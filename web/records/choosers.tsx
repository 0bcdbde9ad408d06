import { useState } from 'react';
import type { PointedTo, Suggested } from '#contract/records/declare.ts';
import { Input } from '../kit/controls.tsx';
import type { NamedItem } from '#contract/items.ts';
import { ItemPicker } from '../items/item-picker.tsx';
import { useNamedItems } from '../items/named-items.ts';
import { Picker, type Pickable } from '../kit/picker.tsx';
import { COUNTRIES, countryName } from './countries.ts';
import { Chosen } from './chosen.tsx';
import { RecordMany, RecordOne } from './record-picker.tsx';
import { REGISTER_OF } from '#contract/places.ts';
import { type Choice, useSuggestions } from './use-names.ts';

const titleOf = (c: Pickable | undefined, id: string): string =>
  c ? (c.code ? `${c.code} · ${c.name}` : c.name) : `${id} (not found)`;

/** One record that is pointed to. */
export function OneChooser({
  to,
  value,
  label,
  onValue,
}: {
  to: PointedTo;
  value: string | null;
  label: string;
  onValue: (id: string | null) => void;
}) {
  return to === 'items' ? (
    <OneItem value={value} label={label} onValue={onValue} />
  ) : (
    <RecordOne register={REGISTER_OF[to]} value={value} label={label} onValue={onValue} />
  );
}

interface OneProps {
  value: string | null;
  label: string;
  onValue: (id: string | null) => void;
}

const itemTitle = (item: NamedItem | undefined, id: string): string =>
  item ? `${item.sku} · ${item.name}` : `item ${id}`;

function OneItem({ value, label, onValue }: OneProps) {
  const items = useNamedItems([value]);
  if (value) return <Chosen label={label} title={itemTitle(items.get(value), value)} onDrop={() => onValue(null)} />;
  return <ItemPicker label={label} className="w-56" onPick={(i) => onValue(i.id)} />;
}

function ManyItems({
  value,
  label,
  onValue,
}: {
  value: readonly string[];
  label: string;
  onValue: (ids: string[]) => void;
}) {
  const items = useNamedItems(value);
  return (
    <span className="flex flex-wrap items-center gap-1.5">
      {value.map((id) => (
        <Chosen
          key={id}
          label={label}
          title={itemTitle(items.get(id), id)}
          onDrop={() => onValue(value.filter((v) => v !== id))}
        />
      ))}
      <ItemPicker
        label={`${label}: add`}
        className="w-48"
        onPick={(i) => value.includes(i.id) || onValue([...value, i.id])}
      />
    </span>
  );
}

/** Several records that are pointed to, in the order in which they were chosen. */
export function ManyChooser({
  to,
  value,
  label,
  onValue,
}: {
  to: PointedTo;
  value: readonly string[];
  label: string;
  onValue: (ids: string[]) => void;
}) {
  return to === 'items' ? (
    <ManyItems value={value} label={label} onValue={onValue} />
  ) : (
    <RecordMany register={REGISTER_OF[to]} value={value} label={label} onValue={onValue} />
  );
}

export function CountriesChooser({
  value,
  label,
  onValue,
}: {
  value: readonly string[];
  label: string;
  onValue: (codes: string[]) => void;
}) {
  return <Several choices={COUNTRIES} value={value} label={label} onValue={onValue} />;
}

export function CountryChooser({
  value,
  label,
  onValue,
}: {
  value: string | null;
  label: string;
  onValue: (code: string | null) => void;
}) {
  if (value) return <Chosen label={label} title={`${value} · ${countryName(value)}`} onDrop={() => onValue(null)} />;
  return <Picker of={COUNTRIES} label={label} className="w-56" onPick={(c) => onValue(c.id)} />;
}

function Several({
  choices,
  value,
  label,
  onValue,
}: {
  choices: readonly Choice[];
  value: readonly string[];
  label: string;
  onValue: (ids: string[]) => void;
}) {
  return (
    <span className="flex flex-wrap items-center gap-1.5">
      {value.map((id) => (
        <Chosen
          key={id}
          label={label}
          title={titleOf(
            choices.find((c) => c.id === id),
            id,
          )}
          onDrop={() => onValue(value.filter((v) => v !== id))}
        />
      ))}
      <Picker
        of={choices.filter((c) => !value.includes(c.id))}
        label={`${label}: add`}
        className="w-48"
        onPick={(c) => onValue([...value, c.id])}
      />
    </span>
  );
}

/** A text, with those in use at hand. */
export function SuggestedText({
  of,
  value,
  label,
  name,
  invalid,
  onValue,
}: {
  of: Suggested | undefined;
  value: string;
  label: string;
  name?: string | undefined;
  invalid?: boolean;
  onValue: (text: string) => void;
}) {
  const { texts: known, closed } = useSuggestions(of);
  const list = `known-${of ?? ''}`;
  if (closed) return <ClosedText of={known} value={value} label={label} onValue={onValue} />;
  return (
    <>
      <Input
        name={name}
        aria-label={label}
        list={of ? list : undefined}
        invalid={invalid ?? false}
        value={value}
        onChange={(e) => onValue(e.target.value)}
        className="w-full min-w-56"
      />
      {/* there from the start: what is at hand comes later, and the field is the same field */}
      {of ? (
        <datalist id={list}>
          {known.map((k) => (
            <option key={k} value={k} />
          ))}
        </datalist>
      ) : null}
    </>
  );
}

/** A text that is one of those declared; one that is not, from before, stays readable. */
function ClosedText({
  of,
  value,
  label,
  onValue,
}: {
  of: readonly string[];
  value: string;
  label: string;
  onValue: (text: string) => void;
}) {
  if (value !== '')
    return (
      <Chosen label={label} title={of.includes(value) ? value : `${value} (not declared)`} onDrop={() => onValue('')} />
    );
  const choices = of.map((name) => ({ id: name, code: null, name }));
  return <Picker of={choices} label={label} className="w-56" onPick={(c) => onValue(c.name)} />;
}

/** Several texts, parted by a semicolon. */
export function TextsField({
  value,
  label,
  onValue,
}: {
  value: readonly string[];
  label: string;
  onValue: (texts: string[]) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <Input
      aria-label={label}
      title="several, parted by a semicolon"
      value={typed ?? value.join('; ')}
      onChange={(e) => {
        setTyped(e.target.value);
        onValue(
          e.target.value
            .split(';')
            .map((t) => t.trim())
            .filter((t) => t !== ''),
        );
      }}
      onBlur={() => setTyped(null)}
    />
  );
}
