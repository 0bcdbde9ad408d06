import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { Reversal, ReverseBody } from '#contract/lists.ts';
import { ledgerApi } from './endpoints.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Button, Dialog, Field, Input, Trouble } from '../kit/controls.tsx';
import { Figure } from '../kit/figure.tsx';
import { showDay } from '../kit/number-form.ts';
import { countedIn } from '../kit/words.ts';

/** Asks why; names what later postings have changed, and offers to reverse all but that. `lines`: only these prices of it. */
export function ReverseDialog({
  id,
  lines,
  onClose,
}: {
  id: string;
  lines: ReverseBody['lines'];
  onClose: () => void;
}) {
  const [reason, setReason] = useState('');
  const { counted } = countedIn(useNumberForm());
  const { data: found, error: unread } = ledgerApi.useReversalQuery({ id, lines }, { refetchOnMountOrArgChange: true });
  const [reverse, { isLoading, error }] = ledgerApi.useReverseMutation();
  const navigate = useNavigate();
  const go = async () => {
    try {
      const done = await reverse({ id, reason, lines, leaveChanged: (found?.changed ?? 0) > 0 }).unwrap();
      toast.success(
        `${lines ? `Of posting ${id}:` : `Posting ${id} is reversed:`} ${counted(done.lines, 'price is what it was', 'prices are what they were')} before.`,
      );
      onClose();
      void navigate(`/ledger/${done.posting}`);
    } catch {
      /* shown in the dialog */
    }
  };
  const trouble = error ?? unread;
  return (
    <Dialog
      open
      onClose={onClose}
      title={lines ? `Reverse ${counted(lines.length, 'price')} of posting ${id}` : `Reverse posting ${id}`}
      wide={(found?.changed ?? 0) > 0}
    >
      {trouble ? <Trouble>{problemOf(trouble).message}</Trouble> : null}
      {found ? (
        <>
          {found.changed > 0 ? <InTheWay found={found} /> : null}
          {found.free > 0 ? (
            <p className="my-3">
              {counted(found.free, 'price goes', 'prices go')} back to what is due without it, by another posting. Both
              stay in the ledger.
            </p>
          ) : null}
        </>
      ) : null}
      <Field label="Why">
        <Input name="reason" autoFocus value={reason} onChange={(e) => setReason(e.target.value)} />
      </Field>
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button
          weight="stop"
          disabled={isLoading || !found || found.free === 0 || reason.trim() === ''}
          onClick={() => void go()}
        >
          {found && found.changed > 0 && found.free > 0
            ? `Reverse the other ${counted(found.free, 'price')}`
            : `Reverse ${counted(found?.free ?? 0, 'price')}`}
        </Button>
      </div>
    </Dialog>
  );
}

function InTheWay({ found }: { found: Reversal }) {
  const form = useNumberForm();
  const { counted, whole } = countedIn(form);
  return (
    <Trouble tone="warn">
      <p>
        {counted(found.changed, 'price was', 'prices were')} changed by a later posting and would stay as{' '}
        {found.changed === 1 ? 'it is' : 'they are'}. To put {found.changed === 1 ? 'it' : 'them'} back too, reverse
        these first:{' '}
        {found.postings.map((p) => (
          <span key={p.posting} className="mr-2 whitespace-nowrap">
            <Link to={`/ledger/${p.posting}`} className="underline">
              posting {p.posting}
            </Link>{' '}
            ({p.reason}, {counted(p.prices, 'price')})
          </span>
        ))}
      </p>
      <div className="mt-2 max-h-56 overflow-auto">
        <table className="ruled w-full">
          <thead>
            <tr>
              <th>SKU</th>
              <th>Item</th>
              <th>Pack</th>
              <th className="figure">price now</th>
              <th>by posting</th>
              <th>from</th>
            </tr>
          </thead>
          <tbody>
            {found.inTheWay.map((w) => (
              <tr key={`${w.item}-${w.pack}`}>
                <td>{w.sku}</td>
                <td>{w.name}</td>
                <td>{w.packName}</td>
                <td className="figure">{w.price === null ? 'none' : <Figure value={w.price} places={2} />}</td>
                <td>{w.posting}</td>
                <td className="whitespace-nowrap">{showDay(w.effective, form)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {found.changed > found.inTheWay.length ? <p>and {whole(found.changed - found.inTheWay.length)} more</p> : null}
      </div>
    </Trouble>
  );
}
