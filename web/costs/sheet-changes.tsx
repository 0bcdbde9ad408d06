import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import {
  type CostChange,
  type RowDecision,
  type SheetEffect,
  type SheetView,
  canBeTaken,
  isOpenRow,
} from '#contract/costs.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { GridTools } from '../grid/grid-tools.tsx';
import { Grid } from '../grid/grid.tsx';
import { useSheet } from '../grid/use-sheet.ts';
import { Button, Dialog, Field, Input } from '../kit/controls.tsx';
import { counted } from '../kit/words.ts';
import { costsApi } from './endpoints.ts';
import { TAKEN_LATER, followWords, useAfterTaking } from './fresh-sheet.ts';
import { changeColumns } from './sheet-columns.tsx';
import { RowDialog } from './row-dialog.tsx';
import { useRowDecisions } from './row-decisions.ts';

const keyOf = (c: CostChange) => String(c.row);
const readPlain = (t: string) => (/^-?\d+(\.\d+)?$/.test(t) ? t : null);
const MOST_AT_ONCE = 10_000;

/** What a sheet would change, row by row; the rows that are selected are decided together. */
export function SheetChanges({
  sheet,
  changes,
  effect,
  may,
  reading,
}: {
  sheet: SheetView;
  changes: readonly CostChange[];
  effect: SheetEffect | undefined;
  may: boolean;
  reading: boolean;
}) {
  const form = useNumberForm();
  const columns = useMemo(() => changeColumns(form, effect), [form, effect]);
  const state = useSheet({ name: 'cost-sheet', columns, rows: changes, keyOf, read: readPlain });
  const [selected, setSelected] = useState<readonly CostChange[]>([]);
  const [opened, setOpened] = useState<number | null>(null);
  const [asking, setAsking] = useState<'held' | 'left_out' | null>(null);
  const { send, isLoading } = useRowDecisions(sheet);
  const [takeIn] = costsApi.useTakeInMutation();
  const [taking, setTaking] = useState(false);
  const after = useAfterTaking(sheet.id);
  // the selection stands on the first row before anything is chosen; rows go when they are decided
  const known = new Map(changes.map((c) => [c.row, c]));
  const first = state.order.length > 0 ? changes[state.order[0]!]! : null;
  const chosen = selected.flatMap((c) => known.get(c.row) ?? []);
  const rows = chosen.length > 0 ? chosen : first ? [first] : [];
  const open = rows.filter(isOpenRow);
  const takes = rows.filter(canBeTaken);
  const held = rows.filter((c) => c.held);
  const decide = (of: readonly CostChange[], decision: RowDecision, reason = '') =>
    send(of.slice(0, MOST_AT_ONCE).map((c) => ({ ...sheet.corrections[c.row], row: c.row, decision, reason })));
  const take = async () => {
    setTaking(true);
    try {
      const done = await takeIn({
        id: sheet.id,
        version: sheet.version,
        rows: takes.map((c) => c.row),
        rest: 'waits',
      }).unwrap();
      await after(done.later);
      if (done.later) {
        toast.message(TAKEN_LATER);
        return;
      }
      toast.success(
        `${counted(done.costs, 'cost')} taken in${done.waiting > 0 ? `, ${counted(done.waiting, 'row waits', 'rows wait')} on` : ''}.${followWords(done.worksheet)}`,
      );
    } catch (e) {
      toast.error(problemOf(e).message);
    } finally {
      setTaking(false);
    }
  };
  const busy = isLoading || taking || reading;
  const many = (n: number) => (n > 1 ? ` ${n} rows` : '');
  return (
    <>
      <GridTools state={state} columns={columns} what="rows">
        {may && rows.length > 0 ? (
          <>
            {takes.length > 0 ? (
              <Button disabled={busy} onClick={() => void take()}>
                Take in {takes.length === 1 ? `row ${takes[0]!.row}` : `these ${takes.length}`}
              </Button>
            ) : null}
            {held.length > 0 ? (
              <Button disabled={busy} onClick={() => void decide(held, 'read')}>
                Let go{many(held.length)}
              </Button>
            ) : open.length > 0 ? (
              <Button disabled={busy} onClick={() => setAsking('held')}>
                Hold{many(open.length)} …
              </Button>
            ) : null}
            {open.length > 0 ? (
              <Button disabled={busy} onClick={() => setAsking('left_out')}>
                Leave out{many(open.length)} …
              </Button>
            ) : null}
            {rows.length === 1 && open.length === 1 ? (
              <Button onClick={() => setOpened(open[0]!.row)}>Row {open[0]!.row} …</Button>
            ) : null}
          </>
        ) : null}
      </GridTools>
      <Grid
        state={state}
        label="What the sheet would change"
        onSelected={setSelected}
        onOpen={(c) => may && isOpenRow(c) && setOpened(c.row)}
      />
      {opened !== null ? <RowDialog key={opened} sheet={sheet} row={opened} onClose={() => setOpened(null)} /> : null}
      {asking ? (
        <DecideDialog
          title={`${asking === 'held' ? 'Hold' : 'Leave out'} ${open.length === 1 ? `row ${open[0]!.row}` : `${open.length} rows`}`}
          says={
            asking === 'held'
              ? 'They wait in this sheet, while the others can be taken in.'
              : 'They are not taken in from this sheet. “Cannot be read” lists what was decided by hand, and lets it be read again.'
          }
          onClose={() => setAsking(null)}
          onSay={(reason) => void decide(open, asking, reason).then((done) => done && setAsking(null))}
        />
      ) : null}
    </>
  );
}

/** A decision with the reason for it, which may stay empty. */
function DecideDialog({
  title,
  says,
  onClose,
  onSay,
}: {
  title: string;
  says: string;
  onClose: () => void;
  onSay: (reason: string) => void;
}) {
  const [reason, setReason] = useState('');
  return (
    <Dialog open onClose={onClose} title={title}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          onSay(reason);
        }}
        className="flex flex-col gap-3"
      >
        <p>{says}</p>
        <Field label="Why">
          <Input name="reason" autoFocus maxLength={300} value={reason} onChange={(e) => setReason(e.target.value)} />
        </Field>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" weight="main">
            {title}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
