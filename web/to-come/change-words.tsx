import { useMemo } from 'react';
import type { Field } from '#contract/records/declare.ts';
import type { ChangeToCome } from '#contract/to-come.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { BeforeAfter } from '../kit/before-after.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { declaredText, useNames } from '../setup/cell-text.ts';
import { VIEWS } from '../setup/views.ts';

/** What a change to come makes of its record, field by field, as a person reads it. */
export function ChangeWords({ change: { register, change, was } }: { change: ChangeToCome }) {
  const form = useNumberForm();
  const fields = useMemo(() => {
    const all = Object.entries(VIEWS.find((v) => v.name === register)?.fields ?? {});
    return Object.fromEntries(
      all.flatMap(([name, { formOnly: _, ...f }]) => (change && name in change ? [[name, f as Field]] : [])),
    );
  }, [register, change]);
  const told = useMemo(() => [was ?? {}, change ?? {}], [was, change]);
  const names = useNames(fields, told);
  if (change === null) return <span>is removed</span>;
  // recipes and ladders are told row by row
  if (Object.keys(fields).length < Object.keys(change).length)
    return <BeforeAfter before={was} after={change} titles={['until then', 'from then on']} />;
  const words = (field: Field, value: unknown) =>
    declaredText(field, value, { names, number: (t) => show(t, form), day: (d) => showDay(d, form) }) || 'nothing';
  return (
    <ul>
      {Object.entries(fields).map(([name, f]) => (
        <li key={name}>
          {f.title}: <span className="text-faint">{words(f, was?.[name])}</span> →{' '}
          <strong className="font-medium">{words(f, change[name])}</strong>
        </li>
      ))}
    </ul>
  );
}
