import { useState } from 'react';
import type { Worksheet } from '#contract/worksheets.ts';
import { problemOf } from '../api.ts';
import { Button, Dialog, Field, Input, Trouble } from '../kit/controls.tsx';
import { faultWords } from '../kit/faults.tsx';
import { counted } from '../kit/words.ts';
import { worksheetsApi } from './endpoints.ts';

/** Its postings that are not wholly reversed yet, with the list of each. */
export const standingOf = (w: Worksheet) =>
  w.lists.flatMap((l) => l.postings.filter((p) => p.stands).map((p) => ({ posting: p.id, name: l.name })));

/** Before everything that was posted of a worksheet goes back: on which lists, and why. */
export function ReverseWorksheetDialog({ worksheet: w, onClose }: { worksheet: Worksheet; onClose: () => void }) {
  const [reason, setReason] = useState('');
  const [leaveChanged, setLeaveChanged] = useState(false);
  const [reverse, { isLoading, error }] = worksheetsApi.useReverseWorksheetMutation();
  const problem = error ? problemOf(error) : null;
  const standing = standingOf(w);
  const go = async () => {
    try {
      await reverse({ id: w.id, body: { reason, leaveChanged } }).unwrap();
      onClose();
    } catch {
      /* shown above the form */
    }
  };
  return (
    <Dialog open onClose={onClose} title={`Reverse what worksheet ${w.id} posted`}>
      <form onSubmit={(e) => (e.preventDefault(), void go())} className="flex flex-col gap-3">
        {problem ? (
          <Trouble>
            {problem.message} {faultWords(problem.faults)}
          </Trouble>
        ) : null}
        <p>
          The prices of {counted(standing.length, 'posting')} go back to what is due without it: all of them, or none.
          Every posting stays in the ledger, beside the one that undoes it.
        </p>
        <ul className="max-h-40 list-inside list-disc overflow-auto text-faint">
          {standing.map((p) => (
            <li key={p.posting}>
              {p.name}, posting {p.posting}
            </li>
          ))}
        </ul>
        <Field label="Why (stands in the ledger)">
          <Input name="reason" autoFocus value={reason} onChange={(e) => setReason(e.target.value)} required />
        </Field>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-accent"
            checked={leaveChanged}
            onChange={(e) => setLeaveChanged(e.target.checked)}
          />
          leave prices that were changed since as they are
        </label>
        <div className="mt-1 flex justify-end gap-2">
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" weight="stop" disabled={isLoading || reason.trim() === ''}>
            {isLoading ? 'Reversing …' : `Reverse ${counted(standing.length, 'posting')}`}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
