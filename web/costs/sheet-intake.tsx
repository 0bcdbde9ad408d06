import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Button, Trouble } from '../kit/controls.tsx';
import { show } from '../kit/number-form.ts';
import { costsApi } from './endpoints.ts';
import { useFreshSheet } from './fresh-sheet.ts';

/** How often it is looked how far it has come, in milliseconds. */
const LOOK_MS = 500;

/** A sheet that is being taken in in the background: how far it has come, and a way to stop it. */
export function SheetIntake({ sheet, may }: { sheet: string; may: boolean }) {
  const form = useNumberForm();
  const [fast, setFast] = useState(false);
  const { data } = costsApi.useSheetIntakeQuery(sheet, { pollingInterval: fast ? LOOK_MS : 0 });
  const [cancel, { isLoading }] = costsApi.useCancelIntakeMutation();
  const intake = data?.intake ?? null;
  const under = intake !== null && intake.trouble === null;
  if (under !== fast) setFast(under);
  const was = useRef(under);
  const fresh = useFreshSheet(sheet);
  useEffect(() => {
    if (was.current && !under) void fresh();
    was.current = under;
  }, [under, fresh]);
  if (!intake) return null;
  const stop = async () => {
    const done = await cancel(sheet);
    if (done.error) toast.error(problemOf(done.error).message);
  };
  if (intake.trouble)
    return (
      <div className="px-5 py-1">
        <Trouble>
          It was not taken in: {intake.trouble} Nothing of it counts.{' '}
          {may ? (
            <button type="button" className="underline" onClick={() => void stop()}>
              Seen
            </button>
          ) : null}
        </Trouble>
      </div>
    );
  const n = (count: number) => show(String(count), form);
  return (
    <div className="flex items-center gap-4 border-b border-rule px-5 py-2" role="status">
      <progress className="w-64" {...(intake.of === null ? {} : { value: intake.done, max: intake.of })} />
      <span>
        {intake.cancelled
          ? 'Stopping: nothing of it will count.'
          : intake.of === null
            ? 'Being taken in: its rows are compared …'
            : `Being taken in: ${n(intake.done)} of ${n(intake.of)} costs. None counts before the last.`}{' '}
        <span className="text-faint">ordered by {intake.by}</span>
      </span>
      {may && !intake.cancelled ? (
        <Button disabled={isLoading} onClick={() => void stop()}>
          Stop it
        </Button>
      ) : null}
    </div>
  );
}
