import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import type { RowShow, SheetRow, SheetRows } from '#contract/cost-rows.ts';
import { type RowDecision, type SheetEffect, type SheetView, canBeTaken, isOpenRow } from '#contract/costs.ts';
import type { Problem } from '#contract/problems.ts';
import { windowQuery } from '#contract/windows.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { GridTools } from '../grid/grid-tools.tsx';
import { Grid } from '../grid/grid.tsx';
import { type WindowSource, useWindow } from '../grid/use-window.ts';
import { Button, Dialog, Field, Input, Trouble } from '../kit/controls.tsx';
import { show as shown } from '../kit/number-form.ts';
import { countedIn } from '../kit/words.ts';
import { type RowsAsked, costsApi } from './endpoints.ts';
import { TAKEN_LATER, followWords, useAfterTaking } from './fresh-sheet.ts';
import { changeColumns } from './sheet-columns.tsx';
import { RowDialog } from './row-dialog.tsx';
import { useRowDecisions } from './row-decisions.ts';

const keyOf = (c: SheetRow) => String(c.row);
const readPlain = (t: string) => (/^-?\d+(\.\d+)?$/.test(t) ? t : null);
const MOST_AT_ONCE = 10_000;
/** Of more rows than these it is not counted beforehand what can be done with them. */
const MOST_KNOWN = 2_000;

/** `moves`: the state of what the sheet would move, once that is known. */
const useRows = (id: string, moves: string | null): WindowSource<RowsAsked, SheetRows> =>
  useMemo(
    () => ({
      endpoint: costsApi.endpoints.sheetRows,
      argOf: (arranged, stretch, more) => {
        const { day: _, ...query } = windowQuery(null, arranged, stretch, more);
        return { id, query: { ...query, moves } };
      },
      wordsOf: (error) => problemOf(error as Problem).message,
    }),
    [id, moves],
  );

interface Chosen {
  readonly top: number;
  readonly bottom: number;
}

/** What a sheet would change, row by row; the rows that are selected are decided together. */
export function SheetChanges({
  sheet,
  show,
  effect,
  may,
  reading,
}: {
  sheet: SheetView;
  show: RowShow | null;
  effect: SheetEffect | undefined;
  may: boolean;
  reading: boolean;
}) {
  const form = useNumberForm();
  const { counted } = countedIn(form);
  const columns = useMemo(() => changeColumns(form), [form]);
  const { state, busy, window, error, again } = useWindow({
    name: 'cost-sheet',
    columns,
    keyOf,
    read: readPlain,
    show: show ?? '',
    source: useRows(sheet.id, effect?.state ?? null),
  });
  const [reached, setReached] = useState<Chosen>({ top: 0, bottom: 0 });
  const [opened, setOpened] = useState<SheetRow | null>(null);
  const [asking, setAsking] = useState<{ what: 'held' | 'left_out'; rows: readonly SheetRow[] } | null>(null);
  // what is decided is decided of the rows that are seen
  const seen = { ...sheet, version: window?.version ?? sheet.version };
  const { send, isLoading } = useRowDecisions(seen, again);
  const [takeIn] = costsApi.useTakeInMutation();
  const [taking, setTaking] = useState(false);
  const after = useAfterTaking(sheet.id);
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  if (!window) return <p className="px-5 py-3 text-faint">Reading the rows …</p>;

  // where rows are gone meanwhile the selection ends with the last one, as it does to the eye
  const last = state.sheet.size.rows - 1;
  const [top, bottom] = [Math.min(reached.top, last), Math.min(reached.bottom, last)];
  const count = last < 0 ? 0 : bottom - top + 1;
  const rowsIn = (rowAt: (r: number) => SheetRow | undefined) =>
    Array.from({ length: count }, (_, i) => rowAt(top + i)).flatMap((r) => r ?? []);
  const atHand = count > MOST_KNOWN ? [] : rowsIn(state.sheet.rowAt);
  // of rows that are not at hand it is not known yet what can be done: they are fetched first
  const known = atHand.length === count ? atHand : null;
  const open = known?.filter(isOpenRow);
  const takes = known?.filter(canBeTaken);
  const held = known?.filter((c) => c.held);
  const withRows = (then: (rows: SheetRow[]) => void) => state.reach(top, bottom, ({ rowAt }) => then(rowsIn(rowAt)));

  const decide = (of: readonly SheetRow[], decision: RowDecision, reason = '') =>
    send(of.map((c) => ({ ...c.said, row: c.row, decision, reason })));
  const ask = (what: 'held' | 'left_out') =>
    withRows((rows) => {
      const of = rows.filter(isOpenRow);
      if (of.length === 0) state.setNotice('None of these rows is still to be decided.');
      else if (of.length > MOST_AT_ONCE)
        state.setNotice(
          `${shown(String(of.length), form)} rows are too many at once: choose up to ${shown(String(MOST_AT_ONCE), form)}.`,
        );
      else setAsking({ what, rows: of });
    });
  const take = () =>
    withRows((rows) => {
      const of = rows.filter(canBeTaken);
      if (of.length === 0) state.setNotice('None of these rows can be taken in.');
      else void takeRows(of.map((c) => c.row));
    });
  const takeRows = async (rows: number[]) => {
    setTaking(true);
    try {
      const done = await takeIn({ id: sheet.id, version: seen.version, rows, rest: 'waits' }).unwrap();
      await Promise.all([after(done.later), again()]);
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
  const waits = isLoading || taking || reading || busy;
  const many = (n: number) => (n > 1 ? ` ${shown(String(n), form)} rows` : '');
  return (
    <>
      <GridTools state={state} columns={columns} what="rows">
        {may && count > 0 ? (
          <>
            {!takes || takes.length > 0 ? (
              <Button disabled={waits} onClick={take}>
                {!takes
                  ? `Take in what can be of ${shown(String(count), form)}`
                  : takes.length === 1
                    ? `Take in row ${takes[0]!.row}`
                    : `Take in these ${shown(String(takes.length), form)}`}
              </Button>
            ) : null}
            {held && held.length > 0 ? (
              <Button disabled={waits} onClick={() => void decide(held, 'read')}>
                Let go{many(held.length)}
              </Button>
            ) : !open || open.length > 0 ? (
              <Button disabled={waits} onClick={() => ask('held')}>
                Hold{many(open?.length ?? count)} …
              </Button>
            ) : null}
            {!open || open.length > 0 ? (
              <Button disabled={waits} onClick={() => ask('left_out')}>
                Leave out{many(open?.length ?? count)} …
              </Button>
            ) : null}
            {count === 1 && open?.length === 1 ? (
              <Button onClick={() => setOpened(open[0]!)}>Row {open[0]!.row} …</Button>
            ) : null}
          </>
        ) : null}
      </GridTools>
      <Grid
        state={state}
        busy={busy}
        label="What the sheet would change"
        onSelected={(_, reach) => setReached(reach)}
        onOpen={(c) => may && isOpenRow(c) && setOpened(c)}
      />
      {opened ? (
        <RowDialog
          key={opened.row}
          sheet={seen}
          row={opened.row}
          change={opened}
          again={again}
          onClose={() => setOpened(null)}
        />
      ) : null}
      {asking ? (
        <DecideDialog
          title={`${asking.what === 'held' ? 'Hold' : 'Leave out'} ${asking.rows.length === 1 ? `row ${asking.rows[0]!.row}` : `${shown(String(asking.rows.length), form)} rows`}`}
          says={
            asking.what === 'held'
              ? 'They wait in this sheet, while the others can be taken in.'
              : 'They are not taken in from this sheet. “Cannot be read” lists what was decided by hand, and lets it be read again.'
          }
          onClose={() => setAsking(null)}
          onSay={(reason) => void decide(asking.rows, asking.what, reason).then((done) => done && setAsking(null))}
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
