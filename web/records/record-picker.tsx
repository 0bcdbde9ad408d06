import { createContext, useContext, useMemo, useState } from 'react';
import { type FoundRecord, MOST_FOUND } from '#contract/records/found.ts';
import { Picker } from '../kit/picker.tsx';
import { Chosen } from './chosen.tsx';
import { recordsApi } from './endpoints.ts';
import { useNamedRecords } from './named-records.ts';

/** Makes a record of a register with a name, by its form; null: whoever is signed in may not, or it has no form of its own. */
export type MakeNew = (
  register: string,
) => { readonly one: string; readonly make: (name: string, onMade: (id: string) => void) => void } | null;
export const MakeNewContext = createContext<MakeNew>(() => null);

const NONE: FoundRecord[] = [];
const NO_ONE: readonly string[] = [];

/** Finds a record of a register among however many: the server looks. What is not there can be made from here. */
export function RecordPicker({
  register,
  label,
  onPick,
  without = NO_ONE,
  focused = false,
  className = 'w-56',
  none,
}: {
  register: string;
  label: string;
  onPick: (id: string) => void;
  /** What it means that none is named. */
  none?: string | undefined;
  /** Chosen already. */
  without?: readonly string[];
  focused?: boolean;
  className?: string;
}) {
  const [text, setText] = useState('');
  const [looked, setLooked] = useState(false);
  const { currentData, isFetching } = recordsApi.useRecordsFoundQuery({ register, text }, { skip: !looked });
  const choices = useMemo(
    () =>
      (currentData ?? NONE)
        .filter((r) => !without.includes(r.id))
        .map(({ id, name, detail }) => ({ id, code: null, name, detail })),
    [currentData, without],
  );
  const fresh = useContext(MakeNewContext)(register);
  return (
    <Picker
      of={choices}
      label={label}
      className={className}
      {...(none ? { placeholder: none } : {})}
      autoFocus={focused}
      onText={setText}
      onLook={() => setLooked(true)}
      searching={looked && (isFetching || !currentData)}
      more={(currentData?.length ?? 0) === MOST_FOUND}
      onPick={(one) => onPick(one.id)}
      {...(fresh
        ? {
            onNew: {
              title: (name: string) => `New ${fresh.one} “${name}” …`,
              make: (name: string) => fresh.make(name, onPick),
            },
          }
        : {})}
    />
  );
}

/** One record that is pointed to: its name with a way to take it away, or else to find one. */
export function RecordOne({
  register,
  value,
  label,
  onValue,
  className,
  none,
}: {
  register: string;
  /** What it means that none is named. */
  none?: string;
  value: string | null;
  label: string;
  onValue: (id: string | null) => void;
  className?: string;
}) {
  const names = useNamedRecords(register, [value]);
  // whoever chose, or took away, by keyboard goes on where they were
  const [touched, setTouched] = useState(false);
  const put = (id: string | null) => {
    setTouched(true);
    onValue(id);
  };
  return value ? (
    <Chosen
      label={label}
      title={names.get(value) ?? '…'}
      focused={touched}
      className={className}
      onDrop={() => put(null)}
    />
  ) : (
    <RecordPicker
      register={register}
      label={label}
      focused={touched}
      onPick={put}
      none={none}
      {...(className ? { className } : {})}
    />
  );
}

/** Several records that are pointed to, in the order in which they were chosen. */
export function RecordMany({
  register,
  value,
  label,
  onValue,
}: {
  register: string;
  value: readonly string[];
  label: string;
  onValue: (ids: string[]) => void;
}) {
  const names = useNamedRecords(register, value);
  return (
    <span className="flex flex-wrap items-center gap-1.5">
      {value.map((id) => (
        <Chosen
          key={id}
          label={label}
          title={names.get(id) ?? '…'}
          onDrop={() => onValue(value.filter((v) => v !== id))}
        />
      ))}
      <RecordPicker
        register={register}
        label={`${label}: add`}
        className="w-48"
        without={value}
        onPick={(id) => onValue([...value, id])}
      />
    </span>
  );
}
