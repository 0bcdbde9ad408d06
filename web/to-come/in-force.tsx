import { useEffect, useRef } from 'react';
import { toast } from 'sonner';
import type { ChangeToCome } from '#contract/to-come.ts';
import { plusDays } from '#core/numbers/day.ts';
import { problemOf } from '../api.ts';
import { useDay } from '../frame/day.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Field, Input } from '../kit/controls.tsx';
import { DateField } from '../kit/date-field.tsx';
import { showDay } from '../kit/number-form.ts';
import { pathWords } from '../kit/faults.tsx';
import type { FormInForce } from '../setup/use-record-form.ts';
import { ChangeWords } from './change-words.tsx';
import { toComeApi } from './endpoints.ts';

/** What waits for a record: told above its form, so that nobody corrects today what another day undoes. */
export function WaitingChanges({ inForce }: { inForce: FormInForce }) {
  if (inForce.waiting.length === 0) return null;
  return (
    <section aria-label="Changes to come" className="my-2 border-l-4 border-accent bg-chosen px-3 py-2">
      <ul className="flex flex-col gap-2">
        {inForce.waiting.map((c) => (
          <li key={c.id}>
            <OneWaiting change={c} inForce={inForce} />
          </li>
        ))}
      </ul>
    </section>
  );
}

function OneWaiting({ change, inForce }: { change: ChangeToCome; inForce: FormInForce }) {
  const form = useNumberForm();
  const drop = useDrop();
  const day = showDay(change.day, form);
  const earlier = inForce.waiting.slice(0, inForce.waiting.indexOf(change) + 1);
  const begun = inForce.upon.includes(change.id);
  const overlap = inForce.day === null ? inForce.touched.filter((f) => change.change && f in change.change) : [];
  return (
    <>
      <p>
        <strong className="font-medium">From {day}</strong>{' '}
        <span className="text-faint">
          ({change.by}: {change.reason})
        </span>
      </p>
      <ChangeWords change={change} />
      {inForce.offered ? (
        <p className="mt-1 flex flex-wrap gap-x-4">
          {/* what was typed would be lost by it */}
          {change.change === null || begun || inForce.touched.length > 0 ? null : (
            <button
              type="button"
              className="text-accent underline underline-offset-2"
              onClick={() => {
                inForce.beginWith(earlier);
                if (inForce.day === null || inForce.day < change.day) inForce.set({ day: change.day });
              }}
            >
              go on from what stands then
            </button>
          )}
          <button
            type="button"
            aria-label={`Drop the change of ${day}`}
            className="text-stop underline underline-offset-2"
            onClick={() => void drop(change)}
          >
            drop it
          </button>
          {begun ? <span className="text-faint">The form begins with it.</span> : null}
        </p>
      ) : null}
      {overlap.length > 0 ? (
        <p role="status" className="mt-1 text-warn">
          {overlap.map(pathWords).join(', ')}: what you change of it at once holds until then; from {day} on what is
          planned holds.
        </p>
      ) : null}
    </>
  );
}

/** Drops a change to come, and says so. */
export function useDrop(): (change: ChangeToCome) => Promise<void> {
  const [drop] = toComeApi.useDropChangeMutation();
  return async ({ id, version }) => {
    try {
      await drop({ id, version }).unwrap();
      toast.success('Dropped. The ledger keeps what was planned.');
    } catch (error) {
      toast.error(problemOf(error).message);
    }
  };
}

/** From when on what stands in the form holds: at once, or from a day to come, with the reason. */
export function InForce({ inForce, fault }: { inForce: FormInForce; fault: (path: string) => string | undefined }) {
  const { today } = useDay();
  const form = useNumberForm();
  const place = useRef<HTMLFieldSetElement>(null);
  const { day } = inForce;
  const said = day !== null;
  // the foot of a dialog would lie over it
  useEffect(() => {
    if (said) place.current?.scrollIntoView?.({ block: 'end' });
  }, [said]);
  if (!inForce.offered) return null;
  const last = inForce.waiting.filter((c) => day !== null && c.day < day && !inForce.upon.includes(c.id)).at(-1);
  return (
    <fieldset ref={place} className="mt-4 border-t border-rule pt-3 pb-1">
      <legend className="sr-only">In force</legend>
      <div className="flex flex-wrap items-end gap-x-5 gap-y-2">
        <label className="flex items-center gap-1.5 pb-1">
          <input type="radio" name="in-force" checked={day === null} onChange={() => inForce.set({ day: null })} />
          in force at once
        </label>
        <label className="flex items-center gap-1.5 pb-1">
          <input
            type="radio"
            name="in-force"
            checked={day !== null}
            onChange={() => inForce.set({ day: inForce.waiting.at(-1)?.day ?? plusDays(today, 1) })}
          />
          from a day to come
        </label>
        {day === null ? null : (
          <>
            <Field label="First day" fault={fault('day')} group>
              <DateField
                label="First day in force"
                value={day}
                from={plusDays(today, 1)}
                onValue={(d) => inForce.set({ day: d })}
              />
            </Field>
            <Field label="Why" fault={fault('reason')} className="min-w-52 flex-1">
              <Input
                name="planReason"
                required
                maxLength={200}
                value={inForce.reason}
                onChange={(e) => inForce.set({ reason: e.target.value })}
              />
            </Field>
          </>
        )}
      </div>
      {fault('body') ? <p className="mt-1 text-stop">The form says nothing else than what stands by then.</p> : null}
      {last ? (
        <p className="mt-1 text-sm text-warn">
          Another change begins on {showDay(last.day, form)}; this form does not begin with it. What you do not touch
          stays as that one has it.
        </p>
      ) : null}
    </fieldset>
  );
}

/** What the button says that keeps a form. */
export function useKeepWords(inForce: FormInForce, words: string, from = 'for'): string {
  const form = useNumberForm();
  return inForce.day === null ? words : `${words} ${from} ${showDay(inForce.day, form)}`;
}
