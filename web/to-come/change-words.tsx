import { useMemo } from 'react';
import type { ChangeToCome } from '#contract/to-come.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { BeforeAfter } from '../kit/before-after.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { cellText, useNames } from '../setup/cell-text.ts';
import { VIEWS } from '../setup/views.ts';

/** What a change to come makes of its record, field by field, as a person reads it. */
export function ChangeWords({ change: { register, change, was } }: { change: ChangeToCome }) {
  const form = useNumberForm();
  const fields = useMemo(
    () =>
      (VIEWS.find((v) => v.name === register)?.fields ?? [])
        .filter((f) => change && f.name in change)
        .map(({ formOnly: _, ...f }) => f),
    [register, change],
  );
  const told = useMemo(() => [was ?? {}, change ?? {}], [was, change]);
  const names = useNames(fields, told);
  if (change === null) return <span>is removed</span>;
  // recipes and ladders are told row by row
  if (fields.length < Object.keys(change).length)
    return <BeforeAfter before={was} after={change} titles={['until then', 'from then on']} />;
  const words = (field: (typeof fields)[number], value: unknown) =>
    cellText(
      field,
      value,
      names,
      (t) => show(t, form),
      (d) => showDay(d, form),
    ) || 'nothing';
  return (
    <ul>
      {fields.map((f) => (
        <li key={f.name}>
          {f.title}: <span className="text-faint">{words(f, was?.[f.name])}</span> →{' '}
          <strong className="font-medium">{words(f, change[f.name])}</strong>
        </li>
      ))}
    </ul>
  );
}
