import { useState } from 'react';
import { useNavigate } from 'react-router';
import { POSTED_SHARES, type PostedShare, type Worksheet, type WorksheetList } from '#contract/worksheets.ts';
import { problemOf } from '../api.ts';
import { useDay } from '../frame/day.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Button, Dialog, Field, Input, Trouble } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { DateField } from '../kit/date-field.tsx';
import { faultWords } from '../kit/faults.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { counted } from '../kit/words.ts';
import { worksheetsApi } from './endpoints.ts';

const SHARES: Record<PostedShare, string> = {
  changed: 'every price that changes',
  rises: 'only the rises',
  falls: 'only the falls',
  first: 'only first prices',
};
const countOf = (l: WorksheetList, share: PostedShare): number =>
  share === 'changed' ? l.rises + l.falls + l.first : l[share];

/** Before a worksheet is posted: which of its lists and prices, from when, and whether it is still what it was computed from. */
export function PostWorksheetDialog({ worksheet: w, onClose }: { worksheet: Worksheet; onClose: () => void }) {
  const form = useNumberForm();
  const { today } = useDay();
  const navigate = useNavigate();
  const [reason, setReason] = useState(w.reason);
  const [share, setShare] = useState<PostedShare>('changed');
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [lastDay, setLastDay] = useState('');
  const [asComputed, setAsComputed] = useState(false);
  const [post, { isLoading, error }] = worksheetsApi.usePostWorksheetMutation();
  const [propose, proposing] = worksheetsApi.useProposeMutation();
  const n = (value: number) => show(String(value), form);
  const possible = w.lists.filter((l) => countOf(l, share) > 0);
  const chosen = possible.filter((l) => !left.has(l.list));
  const problem = error ? problemOf(error) : null;
  // somebody may have changed something while the dialog was open
  const outdated = w.outdated || problem?.code === 'worksheet_outdated';
  const go = async () => {
    try {
      await post({
        id: w.id,
        body: { reason, lists: chosen.map((l) => l.list), share, lastDay: lastDay || null, asComputed },
      }).unwrap();
      onClose();
    } catch {
      /* shown above the form */
    }
  };
  const anew = async () => {
    try {
      const day = w.day < today ? today : w.day;
      const lists = w.lists.map((l) => l.list);
      const of = { costSheet: w.costSheet?.id ?? null, bill: w.bill?.id ?? null };
      const made = await propose({ reason: w.reason, day, lists, ...of }).unwrap();
      void navigate(`/worksheets/${made.id}`);
      onClose();
    } catch {
      /* shown above the form */
    }
  };
  const again = proposing.error ? problemOf(proposing.error) : null;
  return (
    <Dialog open onClose={onClose} title={`Post worksheet ${w.id}`} wide>
      <form onSubmit={(e) => (e.preventDefault(), void go())} className="flex flex-col gap-3">
        {problem && problem.code !== 'worksheet_outdated' ? (
          <Trouble>
            {problem.message} {faultWords(problem.faults)}
          </Trouble>
        ) : null}
        {again ? <Trouble>{again.message}</Trouble> : null}
        {outdated ? (
          <Trouble tone="warn">
            <p>
              Something that prices are made from has changed since this worksheet was computed.{' '}
              <button type="button" className="underline" disabled={proposing.isLoading} onClick={() => void anew()}>
                Have its prices proposed anew
              </button>
            </p>
            <label className="mt-1 flex items-center gap-2">
              <input type="checkbox" checked={asComputed} onChange={(e) => setAsComputed(e.target.checked)} />
              or post it as it was computed
            </label>
          </Trouble>
        ) : null}
        <table className="ruled w-full">
          <thead>
            <tr>
              <th>List</th>
              <th className="figure">up</th>
              <th className="figure">down</th>
              <th className="figure">first</th>
              <th className="figure">left to decide</th>
            </tr>
          </thead>
          <tbody>
            {w.lists.map((l) => {
              const has = countOf(l, share) > 0;
              return (
                <tr key={l.list} className={has ? '' : 'text-faint'}>
                  <td>
                    <label className="flex items-center gap-2">
                      <input
                        type="checkbox"
                        className="accent-accent"
                        disabled={!has}
                        checked={has && !left.has(l.list)}
                        onChange={(e) => {
                          const next = new Set(left);
                          if (e.target.checked) next.delete(l.list);
                          else next.add(l.list);
                          setLeft(next);
                        }}
                      />
                      {l.name} <span className="text-xs text-faint">{l.currency}</span>
                    </label>
                  </td>
                  <td className="figure">{n(l.rises)}</td>
                  <td className="figure">{n(l.falls)}</td>
                  <td className="figure">{n(l.first)}</td>
                  <td className="figure">{n(l.held)}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
        <div className="grid grid-cols-[12rem_12rem_1fr] gap-x-5">
          <Field label="Which prices">
            <Select
              aria-label="Which are posted"
              value={share}
              onValue={(chosen) => setShare(chosen as PostedShare)}
              options={POSTED_SHARES.map((s) => [s, SHARES[s]] as const)}
            />
          </Field>
          <Field label="Last day" hint="empty: until others are posted" group>
            <DateField name="lastDay" label="Last day" from={w.day} value={lastDay} onValue={setLastDay} />
          </Field>
          <Field label="Why (stands in the ledger)">
            <Input name="reason" value={reason} onChange={(e) => setReason(e.target.value)} required />
          </Field>
        </div>
        <p className="text-faint">
          In force from {showDay(w.day, form)}
          {lastDay ? `; after ${showDay(lastDay, form)} what is due without them comes back` : ''}. A price that a
          person has to decide is left out. Each list gets a posting of its own; all of them are written, or none, and
          all can be reversed together or each alone.
        </p>
        <div className="mt-1 flex justify-end gap-2">
          <Button onClick={onClose}>Leave it</Button>
          <Button
            type="submit"
            weight="main"
            disabled={isLoading || reason.trim() === '' || chosen.length === 0 || (outdated && !asComputed)}
          >
            {isLoading ? 'Posting …' : `Post on ${counted(chosen.length, 'list')}`}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
