import { useMemo, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import type { PostingRequest, RequestedPrice, RequestedPrices } from '#contract/posting-requests.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { useMoment } from '../frame/moments.ts';
import type { Column } from '../grid/columns.ts';
import { GridTools } from '../grid/grid-tools.tsx';
import { Grid } from '../grid/grid.tsx';
import { type WindowSource, useWindow } from '../grid/use-window.ts';
import { Button, Dialog, Field, Input, Trouble, ViewHead } from '../kit/controls.tsx';
import { faultWords } from '../kit/faults.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { countedIn } from '../kit/words.ts';
import { type LinesQuery, ledgerApi } from './endpoints.ts';
import { lineColumns, linesAsked, plainNumber } from './line-columns.tsx';
import { stateWords } from './posting-requests.tsx';

const LINK = 'text-accent underline underline-offset-2';
const keyOf = (l: RequestedPrice) => `${l.item}-${l.pack}-${l.list}`;
const COLUMNS = lineColumns<RequestedPrice>({ before: 'posted', after: 'will be', final: false }).flatMap(
  (c): Column<RequestedPrice>[] =>
    c.id === 'pack' ? [c, { id: 'list', title: 'List', width: 150, value: (l) => l.listName }] : [c],
);

/** A posting that waits for a second person: what would be posted, and the decision. */
export function RequestView() {
  const { id = '' } = useParams();
  const form = useNumberForm();
  const moment = useMoment();
  const { counted } = countedIn(form);
  const { data: r, error } = ledgerApi.usePostingRequestQuery(id);
  const [agree, agreeing] = ledgerApi.useAgreeMutation();
  const [withdraw, withdrawing] = ledgerApi.useWithdrawMutation();
  const navigate = useNavigate();
  const [refusing, setRefusing] = useState(false);
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  if (!r) return null;
  const trouble = agreeing.error ?? withdrawing.error;
  const busy = agreeing.isLoading || withdrawing.isLoading;
  const consent = async () => {
    try {
      const done = await agree(id).unwrap();
      if (done.worksheet && done.state !== 'posted') void navigate(`/worksheets/${done.worksheet}`);
      else toast.success(`${counted(done.prices, 'price')} posted (posting ${done.postings.join(', ')}).`);
    } catch {
      /* shown above */
    }
  };
  return (
    <>
      <ViewHead
        title={`Request ${r.id}: ${r.reason}`}
        about={
          <>
            {counted(r.prices, 'price')} to be in force from {showDay(r.effective, form)}
            {r.lastDay ? ` until ${showDay(r.lastDay, form)}` : ''} · asked by {r.own ? 'you' : r.by}, {moment(r.at)} ·{' '}
            {stateWords(r, moment)}
            {r.postings.map((p) => (
              <Link key={p} to={`/ledger/${p}`} className={`ml-2 ${LINK}`}>
                posting {p}
              </Link>
            ))}
          </>
        }
      >
        {r.state !== 'waiting' ? null : r.own ? (
          <Button weight="stop" disabled={busy} onClick={() => void withdraw(id)}>
            Withdraw
          </Button>
        ) : (
          <>
            <Button weight="stop" disabled={busy} onClick={() => setRefusing(true)}>
              Refuse …
            </Button>
            <Button weight="main" disabled={busy} onClick={() => void consent()}>
              {agreeing.isLoading ? 'Posting …' : `Agree: post ${counted(r.prices, 'price')}`}
            </Button>
          </>
        )}
      </ViewHead>
      {trouble ? <Trouble>{problemOf(trouble).message}</Trouble> : null}
      <ul className="px-5 py-2">
        {r.lists.map((l) => (
          <li key={l.list}>
            <Link to={r.worksheet ? `/worksheets/${r.worksheet}?list=${l.list}` : `/lists/${l.list}`} className={LINK}>
              {l.name}
            </Link>{' '}
            <span className="text-xs text-faint">{l.currency}</span>: {counted(l.prices, 'price')}
            {l.beyond === null
              ? ''
              : l.beyond === '0'
                ? '; every posting on it needs a second person'
                : `; some move by more than ${show(l.beyond, form)} %, or are first prices`}
          </li>
        ))}
      </ul>
      {r.worksheet ? <OfWorksheet request={r} /> : <Prices key={r.id} id={r.id} />}
      {refusing ? <RefuseDialog id={id} onClose={() => setRefusing(false)} /> : null}
    </>
  );
}

const OfWorksheet = ({ request: { worksheet, state } }: { request: PostingRequest }) => (
  <p className="px-5">
    {state === 'waiting' ? 'Its prices, with what they are made of, stand on ' : 'It was asked for '}
    <Link to={`/worksheets/${worksheet}`} className={LINK}>
      worksheet {worksheet}
    </Link>
    .
  </p>
);

const usePrices = (id: string): WindowSource<{ id: string; query: LinesQuery }, RequestedPrices> =>
  useMemo(
    () => ({
      endpoint: ledgerApi.endpoints.requestedPrices,
      ...linesAsked(id),
    }),
    [id],
  );

function Prices({ id }: { id: string }) {
  const { state, busy, window, error } = useWindow({
    name: 'request',
    columns: COLUMNS,
    keyOf,
    read: plainNumber,
    source: usePrices(id),
  });
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  if (!window) return null;
  return (
    <>
      <GridTools state={state} columns={COLUMNS} what="prices" />
      <Grid state={state} busy={busy} label={`Prices of request ${id}`} />
    </>
  );
}

function RefuseDialog({ id, onClose }: { id: string; onClose: () => void }) {
  const [why, setWhy] = useState('');
  const [refuse, { isLoading, error }] = ledgerApi.useRefuseRequestMutation();
  const problem = error ? problemOf(error) : null;
  const go = async () => {
    try {
      await refuse({ id, why }).unwrap();
      onClose();
    } catch {
      /* shown above the form */
    }
  };
  return (
    <Dialog open onClose={onClose} title={`Refuse request ${id}`}>
      <form onSubmit={(e) => (e.preventDefault(), void go())}>
        {problem ? (
          <Trouble>
            {problem.message} {faultWords(problem.faults)}
          </Trouble>
        ) : null}
        <Field label="Why (told to whoever asked)">
          <Input name="why" value={why} onChange={(e) => setWhy(e.target.value)} />
        </Field>
        <div className="mt-4 flex justify-end gap-2">
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" weight="stop" disabled={isLoading || why.trim() === ''}>
            Refuse
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
