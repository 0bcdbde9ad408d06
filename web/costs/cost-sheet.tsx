import { useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import {
  CHANGE_KINDS,
  COST_FLAGS,
  COST_FLAG_TEXT,
  type ChangeKind,
  type CostChange,
  type SheetView,
} from '#contract/costs.ts';
import { costsApi } from './endpoints.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import type { Column } from '../grid/columns.ts';
import { GridTools } from '../grid/grid-tools.tsx';
import { Grid } from '../grid/grid.tsx';
import { useSheet } from '../grid/use-sheet.ts';
import { faultWords } from '../kit/faults.tsx';
import { Button, Dialog, Trouble, ViewHead } from '../kit/controls.tsx';
import { Change, Figure } from '../kit/figure.tsx';
import { type NumberForm, show, showDay, showMoment } from '../kit/number-form.ts';
import { counted } from '../kit/words.ts';
import { useSignedIn } from '../people/use-me.ts';
import { SheetMatchForm } from './sheet-match.tsx';
import { CorrectRow, SheetRows, useRowCorrections } from './sheet-rows.tsx';

const KIND_NAMES: Record<ChangeKind, string> = {
  up: 'cost up',
  down: 'cost down',
  new: 'new',
  unchanged: 'unchanged',
  unknown: 'unknown code',
};
const keyOf = (c: CostChange) => String(c.row);

/** One supplier's file: how it is read, what cannot be read, and what taking it in would change. */
export function CostSheet() {
  const { id = '' } = useParams();
  const { data: sheet, error } = costsApi.useSheetQuery(id);
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  if (!sheet) return <p className="p-6 text-faint">Reading the sheet …</p>;
  return <SheetBody key={sheet.id} sheet={sheet} />;
}

type Part = 'changes' | 'match' | 'faults';

function SheetBody({ sheet }: { sheet: SheetView }) {
  const me = useSignedIn();
  const form = useNumberForm();
  const may = me.rights.has('take_costs') && sheet.state === 'waiting';
  const [part, setPart] = useState<Part>(
    sheet.counts.up + sheet.counts.down + sheet.counts.new + sheet.counts.unchanged > 0 ? 'changes' : 'match',
  );
  const [kind, setKind] = useState<ChangeKind | 'flagged' | null>(null);
  const [asking, setAsking] = useState(false);
  const single = Object.keys(sheet.corrections).length;
  const flagged = sheet.changes.filter((c) => c.flags.length > 0).length;
  const shown = useMemo(
    () => sheet.changes.filter((c) => kind === null || (kind === 'flagged' ? c.flags.length > 0 : c.kind === kind)),
    [sheet.changes, kind],
  );
  const chip = (value: ChangeKind | 'flagged', title: string, count: number) => (
    <button
      key={value}
      type="button"
      aria-pressed={kind === value}
      disabled={count === 0 && kind !== value}
      onClick={() => (setKind(kind === value ? null : value), setPart('changes'))}
      className={`border-b-2 px-2 py-1 disabled:text-faint ${kind === value ? 'border-accent font-medium' : 'border-transparent'} ${value === 'flagged' && count > 0 ? 'text-warn' : ''}`}
    >
      <span className="figure">{count}</span> {title}
    </button>
  );
  return (
    <>
      <ViewHead
        title={sheet.fileName}
        about={`${sheet.supplierName} · ${counted(sheet.rowCount, 'row')} · brought by ${sheet.broughtBy}${sheet.state === 'waiting' ? '' : sheet.state === 'taken_in' ? ` · taken in${sheet.takenInAt ? ` ${showMoment(sheet.takenInAt, form)}` : ''}` : ' · set aside'}`}
      >
        {may ? <SetAside sheet={sheet} /> : null}
        {me.rights.has('take_costs') && sheet.state !== 'waiting' ? <TakeBack sheet={sheet} /> : null}
        {may ? (
          <Button weight="main" onClick={() => setAsking(true)}>
            Take in …
          </Button>
        ) : null}
      </ViewHead>
      <div className="flex flex-wrap items-center gap-1 border-b border-rule px-4">
        {CHANGE_KINDS.filter((k) => k !== 'unknown').map((k) => chip(k, KIND_NAMES[k], sheet.counts[k]))}
        {chip('unknown', KIND_NAMES.unknown, sheet.counts.unknown)}
        {chip('flagged', 'need a look', flagged)}
        <button
          type="button"
          aria-pressed={part === 'faults'}
          onClick={() => setPart('faults')}
          className={`border-b-2 px-2 py-1 ${sheet.counts.faulty > 0 ? 'text-stop' : 'text-faint'} ${part === 'faults' ? 'border-accent font-medium' : 'border-transparent'}`}
        >
          <span className="figure">{sheet.counts.faulty}</span> cannot be read
          {single > 0 ? <span className="text-faint">, {counted(single, 'row')} decided by hand</span> : null}
        </button>
        <button
          type="button"
          aria-pressed={part === 'match'}
          onClick={() => setPart('match')}
          className={`ml-auto border-b-2 px-2 py-1 text-accent ${part === 'match' ? 'border-accent font-medium' : 'border-transparent'}`}
        >
          How the file is read
        </button>
      </div>
      {part === 'changes' ? (
        <ChangesGrid sheet={sheet} changes={shown} may={may} whole={kind === null} />
      ) : part === 'faults' ? (
        <SheetRows sheet={sheet} may={may} />
      ) : (
        <SheetMatchForm key={sheet.version} sheet={sheet} editable={may} onKept={() => setPart('changes')} />
      )}
      <TakeIn sheet={sheet} open={asking} onClose={() => setAsking(false)} />
    </>
  );
}

function changeColumns(form: NumberForm): Column<CostChange>[] {
  const amount = (id: 'before' | 'after', title: string): Column<CostChange>[] => [
    {
      id: `${id}Cost`,
      title: 'cost',
      group: title,
      width: 96,
      align: 'end',
      numeric: true,
      value: (c) => c[id]?.amount ?? '',
      draw: (c) => (c[id] ? <Figure value={c[id].amount} places={2} /> : ''),
    },
    {
      id: `${id}Currency`,
      title: 'in',
      width: 52,
      value: (c) => c[id]?.currency ?? '',
      tone: (c) => (id === 'after' && c.flags.includes('other_currency') ? 'warn' : undefined),
    },
    {
      id: `${id}Units`,
      title: 'per units',
      width: 76,
      align: 'end',
      numeric: true,
      value: (c) => c[id]?.packUnits ?? '',
      draw: (c) => (c[id] ? <Figure value={c[id].packUnits} places={0} /> : ''),
      tone: (c) => (id === 'after' && c.flags.includes('other_pack') ? 'warn' : undefined),
    },
  ];
  return [
    { id: 'row', title: 'Row', width: 54, align: 'end', numeric: true, frozen: 'start', value: (c) => String(c.row) },
    { id: 'code', title: 'Supplier’s code', width: 108, frozen: 'start', value: (c) => c.code },
    { id: 'name', title: 'Item', width: 236, frozen: 'start', value: (c) => (c.sku ? `${c.sku}  ${c.name}` : c.name) },
    { id: 'kind', title: 'What it is', width: 100, value: (c) => KIND_NAMES[c.kind] },
    {
      id: 'change',
      title: 'per unit, %',
      width: 96,
      align: 'end',
      numeric: true,
      value: (c) => c.changePercent ?? '',
      draw: (c) => <Change value={c.changePercent} />,
    },
    {
      id: 'flags',
      title: 'Look at',
      width: 210,
      value: (c) => c.flags.map((f) => COST_FLAG_TEXT[f]).join('; '),
      tone: (c) => (c.flags.some((f) => f !== 'listed_twice') ? 'warn' : undefined),
    },
    ...amount('before', 'known'),
    ...amount('after', 'in the file'),
    { id: 'from', title: 'from', width: 98, value: (c) => c.after.from, draw: (c) => showDay(c.after.from, form) },
  ];
}

function ChangesGrid({
  sheet,
  changes,
  may,
  whole,
}: {
  sheet: SheetView;
  changes: readonly CostChange[];
  may: boolean;
  /** Whether these are all rows of the sheet: they are not left out at one go. */
  whole: boolean;
}) {
  const form = useNumberForm();
  const columns = useMemo(() => changeColumns(form), [form]);
  const state = useSheet({ name: 'cost-sheet', columns, rows: changes, keyOf, read: readNothing });
  const [active, setActive] = useState<CostChange | null>(null);
  // the selection stands on the first row before anything is chosen
  const chosen = active ?? (state.order.length > 0 ? changes[state.order[0]!]! : null);
  const [correcting, setCorrecting] = useState<number | null>(null);
  const { send, isLoading } = useRowCorrections(sheet);
  return (
    <>
      <GridTools state={state} columns={columns} total={changes.length} what="rows">
        {may && !whole && state.order.length > 0 && state.order.length <= MOST_AT_ONCE ? (
          <Button
            disabled={isLoading}
            onClick={() => void send(state.order.map((i) => ({ row: changes[i]!.row, leaveOut: true })))}
          >
            Leave out {state.order.length === 1 ? 'the row' : `the ${state.order.length} rows`} shown
          </Button>
        ) : null}
        {may && chosen ? (
          <Button onClick={() => setCorrecting(chosen.row)}>Correct or leave out row {chosen.row} …</Button>
        ) : null}
      </GridTools>
      <Grid
        state={state}
        label="What the sheet would change"
        onActive={setActive}
        onOpen={(c) => may && setCorrecting(c.row)}
      />
      {correcting !== null ? (
        <CorrectRow key={correcting} sheet={sheet} row={correcting} onClose={() => setCorrecting(null)} />
      ) : null}
    </>
  );
}
const MOST_AT_ONCE = 10_000;
const readNothing = (t: string) => (/^-?\d+(\.\d+)?$/.test(t) ? t : null);

function SetAside({ sheet }: { sheet: SheetView }) {
  const [setAside] = costsApi.useSetAsideSheetMutation();
  const navigate = useNavigate();
  return (
    <Button
      onClick={() =>
        void setAside({ id: sheet.id, version: sheet.version })
          .unwrap()
          .then(
            () => navigate('/costs'),
            (e: unknown) => toast.error(problemOf(e).message),
          )
      }
    >
      Set aside
    </Button>
  );
}

function TakeBack({ sheet }: { sheet: SheetView }) {
  const [takeBack, { isLoading, error, reset }] = costsApi.useTakeBackSheetMutation();
  const [asking, setAsking] = useState(false);
  const takenIn = sheet.state === 'taken_in';
  const go = async () => {
    try {
      const done = await takeBack({ id: sheet.id, version: sheet.version }).unwrap();
      toast.success(
        takenIn ? `${counted(done.costs, 'cost')} taken back. The sheet waits again.` : 'The sheet waits again.',
      );
      setAsking(false);
    } catch {
      /* shown in the dialog */
    }
  };
  return (
    <>
      <Button weight={takenIn ? 'stop' : 'plain'} disabled={isLoading} onClick={() => (reset(), setAsking(true))}>
        {takenIn ? 'Take back …' : 'Fetch back …'}
      </Button>
      <Dialog
        open={asking}
        onClose={() => setAsking(false)}
        title={takenIn ? `Take back ${sheet.fileName}` : `Fetch back ${sheet.fileName}`}
      >
        {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
        <p>
          {takenIn
            ? `Its ${counted(sheet.counts.up + sheet.counts.down + sheet.counts.new, 'cost')} count for nothing any more, and what was known before counts again. Prices that were posted from them stay as posted; items it added stay. The sheet waits again: correct it, take it in anew, or set it aside.`
            : 'It waits again, to be corrected and taken in.'}
        </p>
        <div className="mt-4 flex justify-end gap-2">
          <Button onClick={() => setAsking(false)}>Cancel</Button>
          <Button weight={takenIn ? 'stop' : 'main'} disabled={isLoading} onClick={() => void go()}>
            {takenIn ? 'Take the whole sheet back' : 'Fetch it back'}
          </Button>
        </div>
      </Dialog>
    </>
  );
}

/** Rows named in the question; the rest is counted. */
const SHOWN = 8;

function TakeIn({ sheet, open, onClose }: { sheet: SheetView; open: boolean; onClose: () => void }) {
  const [takeIn, { isLoading, error, reset }] = costsApi.useTakeInMutation();
  const form = useNumberForm();
  const { counts } = sheet;
  const costs = counts.up + counts.down + counts.new;
  const unusual = sheet.changes.filter((c) => c.flags.length > 0 && c.kind !== 'unknown' && c.kind !== 'unchanged');
  const byFlag = COST_FLAGS.map((f) => [f, unusual.filter((c) => c.flags.includes(f)).length] as const).filter(
    ([, n]) => n > 0,
  );
  const go = async () => {
    try {
      const done = await takeIn({ id: sheet.id, version: sheet.version, leaveOutFaulty: counts.faulty > 0 }).unwrap();
      toast.success(
        `${counted(done.costs, 'cost')} taken in${done.newItems > 0 ? `, ${counted(done.newItems, 'new item')}` : ''}${done.leftOut > 0 ? `, ${counted(done.leftOut, 'row')} left out` : ''}.`,
      );
      onClose();
    } catch {
      /* shown in the dialog */
    }
  };
  return (
    <Dialog open={open} onClose={() => (reset(), onClose())} title={`Take in ${sheet.fileName}`}>
      {error ? (
        <Trouble>
          {problemOf(error).message} {faultWords(problemOf(error).faults)}
        </Trouble>
      ) : null}
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
        <dt className="figure text-right">{costs}</dt>
        <dd>
          costs are kept: {counts.up} up, {counts.down} down, {counts.new} new
        </dd>
        <dt className="figure text-right">{counts.unchanged}</dt>
        <dd>stay as they are</dd>
        {counts.unknown > 0 ? (
          <>
            <dt className="figure text-right">{counts.unknown}</dt>
            <dd>rows with an unknown code are left out (or choose “add as new items” under “How the file is read”)</dd>
          </>
        ) : null}
        {counts.leftOut > 0 ? (
          <>
            <dt className="figure text-right">{counts.leftOut}</dt>
            <dd>rows were left out by hand</dd>
          </>
        ) : null}
        {counts.faulty > 0 ? (
          <>
            <dt className="figure text-right text-stop">{counts.faulty}</dt>
            <dd className="text-stop">rows cannot be read and are left out</dd>
          </>
        ) : null}
      </dl>
      {unusual.length > 0 ? (
        <div className="mt-3">
          <Trouble tone="warn">
            Look at {unusual.length === 1 ? 'this one' : `these ${unusual.length}`} once more before you go on:
            <ul className="mt-1 list-disc pl-5">
              {byFlag.map(([f, n]) => (
                <li key={f}>
                  {counted(n, 'row')}: {COST_FLAG_TEXT[f]}
                </li>
              ))}
            </ul>
            <ul className="mt-2 list-disc pl-5">
              {unusual.slice(0, SHOWN).map((c) => (
                <li key={c.row}>
                  row {c.row}, {c.sku ?? c.code}:{' '}
                  {c.before
                    ? `${show(c.before.amount, form)} ${c.before.currency} for ${show(c.before.packUnits, form)} → `
                    : ''}
                  {show(c.after.amount, form)} {c.after.currency} for {show(c.after.packUnits, form)};{' '}
                  {c.flags.map((f) => COST_FLAG_TEXT[f]).join(', ')}
                </li>
              ))}
              {unusual.length > SHOWN ? <li>and {unusual.length - SHOWN} more, under “need a look”</li> : null}
            </ul>
          </Trouble>
        </div>
      ) : null}
      <p className="mt-3 text-faint">
        No price changes by this: the lists will show what their recipes make of the new costs, beside what is posted.
      </p>
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button weight="main" disabled={isLoading || costs === 0} onClick={() => void go()}>
          Take in {counted(costs, 'cost')}
        </Button>
      </div>
    </Dialog>
  );
}
