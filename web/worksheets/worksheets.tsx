import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Worksheet } from '#contract/worksheets.ts';
import { useRegister } from '../records/use-register.ts';
import { worksheetsApi } from './endpoints.ts';
import { problemOf } from '../api.ts';
import { useDay } from '../frame/day.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { useMoment } from '../frame/moments.ts';
import { DateField } from '../kit/date-field.tsx';
import { faultWords } from '../kit/faults.tsx';
import { Button, Dialog, Empty, Field, Input, Trouble, ViewHead } from '../kit/controls.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { useSignedIn } from '../people/use-me.ts';
import { Progress, WITH_PRICES, isUnderWay, sumOf } from './progress.tsx';

/** How often a computation is looked at, in milliseconds. */
export const LOOK_MS = 700;

/** Batches of proposed prices, the latest first. */
export function Worksheets() {
  const me = useSignedIn();
  const [fast, setFast] = useState(false);
  const { data, error } = worksheetsApi.useWorksheetsQuery(undefined, { pollingInterval: fast ? LOOK_MS : 0 });
  const underWay = data?.some(isUnderWay) ?? false;
  if (underWay !== fast) setFast(underWay);
  const [making, setMaking] = useState(false);
  const may = me.rights.has('post');
  return (
    <>
      <ViewHead
        title="Worksheets"
        about="Prices that recipes propose, list by list, beside the posted ones. Nothing here is in force before it is posted."
      >
        {may ? <Button onClick={() => setMaking(true)}>Propose prices</Button> : null}
      </ViewHead>
      <div className="min-h-0 flex-1 overflow-auto px-5 py-3">
        {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
        {data?.length === 0 ? (
          <Empty action={may ? <Button onClick={() => setMaking(true)}>Propose prices</Button> : undefined}>
            After new costs, rates or rules, a worksheet computes every price of the lists you choose and holds it
            against what is posted.
          </Empty>
        ) : data ? (
          <Table worksheets={data} />
        ) : null}
      </div>
      {making ? <ProposeDialog onClose={() => setMaking(false)} /> : null}
    </>
  );
}

function Table({ worksheets }: { worksheets: readonly Worksheet[] }) {
  const form = useNumberForm();
  const moment = useMoment();
  const n = (value: number) => show(String(value), form);
  return (
    <table className="ruled w-full max-w-6xl">
      <thead>
        <tr>
          <th className="figure">No.</th>
          <th>For</th>
          <th>Why</th>
          <th>State</th>
          <th className="figure">lists</th>
          <th className="figure">prices</th>
          <th className="figure">up</th>
          <th className="figure">down</th>
          <th className="figure">first</th>
          <th className="figure">without</th>
          <th>Who</th>
          <th>When</th>
        </tr>
      </thead>
      <tbody>
        {worksheets.map((w) => {
          const sum = sumOf(w.lists);
          const ready = WITH_PRICES.includes(w.state);
          return (
            <tr key={w.id}>
              <td className="figure">
                <Link to={`/worksheets/${w.id}`} className="text-accent underline underline-offset-2">
                  {w.id}
                </Link>
              </td>
              <td className="whitespace-nowrap">{showDay(w.day, form)}</td>
              <td>{w.reason}</td>
              <td>
                <Progress worksheet={w} />
              </td>
              <td className="figure">{w.lists.length}</td>
              <td className="figure">{w.total === 0 ? '' : n(w.total)}</td>
              <td className="figure">{ready ? n(sum.rises) : ''}</td>
              <td className="figure">{ready ? n(sum.falls) : ''}</td>
              <td className="figure">{ready ? n(sum.first) : ''}</td>
              <td className="figure">{ready ? n(sum.without) : ''}</td>
              <td>{w.madeBy}</td>
              <td className="whitespace-nowrap">{moment(w.madeAt)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function ProposeDialog({ onClose }: { onClose: () => void }) {
  const { asked, today } = useDay();
  const navigate = useNavigate();
  const { rows: lists } = useRegister('lists');
  const possible = lists.filter((l) => l.recipe && l.active !== false);
  const [reason, setReason] = useState('');
  const [day, setDay] = useState(asked && asked > today ? asked : today);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [propose, { isLoading, error }] = worksheetsApi.useProposeMutation();
  const problem = error ? problemOf(error) : null;
  const chosen = possible.filter((l) => !left.has(l.id));
  const go = async () => {
    try {
      const made = await propose({ reason, day, lists: chosen.map((l) => l.id), costSheet: null, bill: null }).unwrap();
      void navigate(`/worksheets/${made.id}`);
    } catch {
      /* shown above the form */
    }
  };
  return (
    <Dialog open onClose={onClose} title="Propose prices">
      <form onSubmit={(e) => (e.preventDefault(), void go())} className="flex flex-col gap-3">
        {problem ? (
          <Trouble>
            {problem.message} {faultWords(problem.faults)}
          </Trouble>
        ) : null}
        <Field label="Why">
          <Input
            name="reason"
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            placeholder="e.g. new costs of Tamsin Forge"
            required
          />
        </Field>
        <Field label="For the day" group>
          <DateField name="day" label="For the day" from={today} value={day} onValue={setDay} />
        </Field>
        <fieldset>
          <legend className="text-xs text-faint">On the lists</legend>
          {possible.length === 0 ? <p>No active price list has a recipe.</p> : null}
          {possible.map((l) => (
            <label key={l.id} className="flex items-center gap-2 py-0.5">
              <input
                type="checkbox"
                className="accent-accent"
                checked={!left.has(l.id)}
                onChange={(e) => {
                  const next = new Set(left);
                  if (e.target.checked) next.delete(l.id);
                  else next.add(l.id);
                  setLeft(next);
                }}
              />
              {l.name}
            </label>
          ))}
        </fieldset>
        <div className="mt-2 flex justify-end gap-2">
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" weight="main" disabled={isLoading || reason.trim() === '' || chosen.length === 0}>
            {isLoading ? 'Starting …' : 'Propose'}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
