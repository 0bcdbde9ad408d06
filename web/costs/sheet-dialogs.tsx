import { useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { flagWords } from '#contract/cost-rows.ts';
import {
  COST_FLAGS,
  COST_FLAG_TEXT,
  HARMLESS_FLAGS,
  type SheetEffect,
  type SheetView,
  type TakeInBody,
} from '#contract/costs.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Button, Dialog, Field, Input, Trouble } from '../kit/controls.tsx';
import { faultWords } from '../kit/faults.tsx';
import { show } from '../kit/number-form.ts';
import { countedIn } from '../kit/words.ts';
import { costsApi } from './endpoints.ts';
import { TAKEN_LATER, followWords, useAfterTaking } from './fresh-sheet.ts';
import { writtenIn } from './written.ts';

/** Takes in all that can be, once more with what speaks against it; what cannot be waits or is left out. */
export function TakeIn({
  sheet,
  effect,
  open,
  onClose,
}: {
  sheet: SheetView;
  effect: SheetEffect | undefined;
  open: boolean;
  onClose: () => void;
}) {
  const [takeIn, { isLoading, error, reset }] = costsApi.useTakeInMutation();
  const [rest, setRest] = useState<TakeInBody['rest']>('waits');
  const after = useAfterTaking(sheet.id);
  const form = useNumberForm();
  const { counts, taking } = sheet;
  const all = taking.up + taking.down + taking.new;
  const byFlag = COST_FLAGS.flatMap((f) => (taking.byFlag[f] ? [[f, taking.byFlag[f]] as const] : []));
  const { whole: figure, counted } = countedIn(form);
  const left = counts.held + counts.unknown + counts.faulty;
  const go = async () => {
    try {
      const done = await takeIn({
        id: sheet.id,
        version: sheet.version,
        rows: null,
        rest: left > 0 ? rest : 'left_out',
      }).unwrap();
      await after(done.later);
      if (done.later) toast.message(TAKEN_LATER);
      else
        toast.success(
          `${counted(done.costs, 'cost')} taken in${done.newItems > 0 ? `, ${counted(done.newItems, 'new item')}` : ''}${done.leftOut > 0 ? `, ${counted(done.leftOut, 'row')} left out` : ''}${done.waiting > 0 ? `, ${counted(done.waiting, 'row waits', 'rows wait')} on` : ''}.${followWords(done.worksheet)}`,
        );
      onClose();
    } catch {
      /* shown in the dialog */
    }
  };
  const line = (count: number, words: string, stop = false) =>
    count > 0 ? (
      <>
        <dt className={`figure text-right ${stop ? 'text-stop' : ''}`}>{figure(count)}</dt>
        <dd className={stop ? 'text-stop' : ''}>{words}</dd>
      </>
    ) : null;
  return (
    <Dialog open={open} onClose={() => (reset(), onClose())} title={`Take in ${sheet.fileName}`}>
      {error ? (
        <Trouble>
          {problemOf(error).message} {faultWords(problemOf(error).faults)}
        </Trouble>
      ) : null}
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
        <dt className="figure text-right">{figure(all)}</dt>
        <dd>
          {all === 1 ? 'cost is' : 'costs are'} kept: {figure(taking.up)} up, {figure(taking.down)} down,{' '}
          {figure(taking.new)} new
        </dd>
        {line(counts.taken, 'were taken in before')}
        {line(counts.unchanged, counts.unchanged === 1 ? 'stays as it is' : 'stay as they are')}
        {line(counts.leftOut, counts.leftOut === 1 ? 'row was left out by hand' : 'rows were left out by hand')}
        {line(counts.held, counts.held === 1 ? 'row is held' : 'rows are held')}
        {line(counts.unknown, counts.unknown === 1 ? 'row has an unknown code' : 'rows have an unknown code')}
        {line(counts.faulty, counts.faulty === 1 ? 'row cannot be read' : 'rows cannot be read', true)}
      </dl>
      {left > 0 ? (
        <fieldset className="mt-3 flex flex-col gap-1">
          <legend className="text-xs text-faint">
            What becomes of {left === 1 ? 'the one row' : `the ${left} rows`} that cannot be taken in now
          </legend>
          {(
            [
              ['waits', 'They wait in this sheet, to be corrected, matched or taken in later'],
              ['left_out', 'They are left out: the sheet is done with'],
            ] as const
          ).map(([value, words]) => (
            <label key={value} className="flex items-baseline gap-2">
              <input type="radio" name="rest" checked={rest === value} onChange={() => setRest(value)} />
              {words}
            </label>
          ))}
        </fieldset>
      ) : null}
      {taking.unusual > 0 ? (
        <div className="mt-3">
          <Trouble tone="warn">
            Look at {taking.unusual === 1 ? 'this one' : `these ${figure(taking.unusual)}`} once more before you go on:
            <ul className="mt-1 list-disc pl-5">
              {byFlag.map(([f, n]) => (
                <li key={f}>
                  {counted(n, 'row')}: {COST_FLAG_TEXT[f]}
                </li>
              ))}
            </ul>
            <ul className="mt-2 list-disc pl-5">
              {taking.first.map((c) => (
                <li key={c.row}>
                  row {c.row}, {c.sku ?? c.code}:{' '}
                  {c.before
                    ? `${show(c.before.amount, form)} ${c.before.currency} for ${show(c.before.packUnits, form)} → `
                    : ''}
                  {show(c.after.amount, form)} {c.after.currency} for {show(c.after.packUnits, form)};{' '}
                  {c.flags
                    .filter((f) => !HARMLESS_FLAGS.includes(f))
                    .map((f) => flagWords(c, f, writtenIn(form)))
                    .join(', ')}
                </li>
              ))}
              {taking.unusual > taking.first.length ? (
                <li>and {figure(taking.unusual - taking.first.length)} more, under “need a look”</li>
              ) : null}
            </ul>
          </Trouble>
        </div>
      ) : null}
      <p className="mt-3 text-faint">
        No price changes by this
        {effect && effect.prices > 0
          ? `: the lists will show ${show(String(effect.prices), form)} computed ${effect.prices === 1 ? 'price' : 'prices'} on ${counted(effect.lists.length, 'list')} otherwise, beside what is posted.`
          : ': the lists will show what their recipes make of the new costs, beside what is posted.'}
      </p>
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button
          weight="main"
          disabled={isLoading || (all === 0 && (rest === 'waits' || left === 0))}
          onClick={() => void go()}
        >
          {all === 0 ? 'Leave the rest out' : `Take in ${counted(all, 'cost')}`}
        </Button>
      </div>
    </Dialog>
  );
}

/** Turns a whole sheet down, with the reason. */
export function TurnDown({ sheet }: { sheet: SheetView }) {
  const [turnDown, { isLoading, error, reset }] = costsApi.useTurnDownSheetMutation();
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useState('');
  const navigate = useNavigate();
  const go = async () => {
    try {
      await turnDown({ id: sheet.id, version: sheet.version, reason }).unwrap();
      toast.success(`${sheet.fileName} is turned down. It can be fetched back.`);
      void navigate('/costs');
    } catch {
      /* shown in the dialog */
    }
  };
  return (
    <>
      <Button onClick={() => (reset(), setAsking(true))}>Turn down …</Button>
      <Dialog open={asking} onClose={() => setAsking(false)} title={`Turn down ${sheet.fileName}`}>
        <form
          className="flex flex-col gap-3"
          onSubmit={(e) => {
            e.preventDefault();
            void go();
          }}
        >
          {error ? (
            <Trouble>
              {problemOf(error).message} {faultWords(problemOf(error).faults)}
            </Trouble>
          ) : null}
          <p>None of its costs is taken in. The file stays, with the reason, and can be fetched back.</p>
          <Field label="Why it is turned down">
            <Input name="reason" autoFocus maxLength={300} value={reason} onChange={(e) => setReason(e.target.value)} />
          </Field>
          <div className="flex justify-end gap-2">
            <Button onClick={() => setAsking(false)}>Cancel</Button>
            <Button type="submit" weight="main" disabled={isLoading || reason.trim() === ''}>
              Turn it down
            </Button>
          </div>
        </form>
      </Dialog>
    </>
  );
}

/** Takes a whole sheet back, or fetches back one that was turned down. */
export function TakeBack({ sheet }: { sheet: SheetView }) {
  const { counted } = countedIn(useNumberForm());
  const [takeBack, { isLoading, error, reset }] = costsApi.useTakeBackSheetMutation();
  const [asking, setAsking] = useState(false);
  const takenIn = sheet.state !== 'set_aside';
  const costs = sheet.counts.taken;
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
            ? `Its ${counted(costs, 'cost')} count for nothing any more, and what was known before counts again. Prices that were posted from them stay as posted; items it added, and what it said of items themselves, stay. The sheet waits again: correct it, take it in anew, or turn it down.`
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
