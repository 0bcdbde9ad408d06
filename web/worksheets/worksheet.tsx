import { useEffect, useRef, useState } from 'react';
import { useDispatch } from 'react-redux';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import {
  WORKSHEET_SHOWS,
  WORKSHEET_STATE_NAMES,
  type Worksheet,
  type WorksheetList,
  type WorksheetShows,
} from '#contract/worksheets.ts';
import { worksheetsApi } from './endpoints.ts';
import { api, problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { useMoment } from '../frame/moments.ts';
import { Button, Dialog, Empty, Trouble, ViewHead } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { counted } from '../kit/words.ts';
import { useSignedIn } from '../people/use-me.ts';
import { ByItself } from './by-itself.tsx';
import { PostWorksheetDialog } from './post-worksheet-dialog.tsx';
import { ReverseWorksheetDialog, standingOf } from './reverse-worksheet-dialog.tsx';
import { ProposedPrices } from './proposed-prices.tsx';
import { Progress, WITH_PRICES, isUnderWay } from './progress.tsx';
import { LOOK_MS } from './worksheets.tsx';

const SHOWS: Record<WorksheetShows, string> = {
  changed: 'prices that change',
  rises: 'rises',
  falls: 'falls',
  first: 'first prices',
  guarded: 'set by a guard',
  held: 'to be decided by hand',
  without: 'without a price',
  all: 'all prices',
};

const CANCEL: Partial<Record<Worksheet['state'], string>> = {
  posting: 'Cancel the posting',
  reversing: 'Cancel the reversal',
};

/** Of these the head says that it is no draft any more. */
const SAID: readonly Worksheet['state'][] = ['posted', 'reversed'];

/** One worksheet: what became of each list, and the proposed prices of one of them. */
export function WorksheetView() {
  const id = useParams()['id']!;
  const me = useSignedIn();
  const navigate = useNavigate();
  const form = useNumberForm();
  const moment = useMoment();
  const [fast, setFast] = useState(true);
  const { data, error } = worksheetsApi.useWorksheetQuery(id, { pollingInterval: fast ? LOOK_MS : 0 });
  const [cancel, cancelling] = worksheetsApi.useCancelWorksheetMutation();
  const [discard, discarding] = worksheetsApi.useDiscardWorksheetMutation();
  const [sure, setSure] = useState(false);
  const [posting, setPosting] = useState(false);
  const [reversing, setReversing] = useState(false);
  // prices that came into force in the background are read anew wherever they are shown
  const state = data?.state;
  const before = useRef(state);
  const dispatch = useDispatch();
  useEffect(() => {
    const was = before.current;
    if ((was === 'posting' || was === 'reversing') && state !== was) dispatch(api.util.invalidateTags(['prices']));
    before.current = state;
  }, [state, dispatch]);
  const underWay = data ? isUnderWay(data) : true;
  if (underWay !== fast) setFast(underWay);
  if (error)
    return (
      <div className="p-5">
        <Trouble>{problemOf(error).message}</Trouble>
      </div>
    );
  if (!data) return <p className="p-5 text-faint">One moment …</p>;
  const may = me.rights.has('post');
  const throwAway = async () => {
    try {
      await discard(id).unwrap();
      toast.success(`Worksheet ${id} discarded.`);
      void navigate('/worksheets');
    } catch (e) {
      toast.error(problemOf(e).message);
      setSure(false);
    }
  };
  return (
    <>
      <ViewHead
        title={`Worksheet ${data.id}: ${data.reason}`}
        about={
          <>
            {SAID.includes(data.state) ? `${WORKSHEET_STATE_NAMES[data.state]} · ` : ''}proposed by {data.madeBy},{' '}
            {moment(data.madeAt)}, for {showDay(data.day, form)}
            {data.costSheet ? (
              <>
                , of the items of{' '}
                <Link to={`/costs/${data.costSheet.id}`} className="text-accent underline">
                  {data.costSheet.fileName}
                </Link>
              </>
            ) : null}
            {data.bill ? (
              <>
                , of the items of{' '}
                <Link to={`/bills/${data.bill.id}`} className="text-accent underline">
                  bill {data.bill.number}
                </Link>
              </>
            ) : null}{' '}
            ·{' '}
            <Link to="/worksheets" className="text-accent underline">
              all worksheets
            </Link>
          </>
        }
      >
        {may && underWay ? (
          <Button weight="stop" disabled={cancelling.isLoading} onClick={() => void cancel(id)}>
            {CANCEL[data.state] ?? 'Cancel the computation'}
          </Button>
        ) : null}
        {may && (data.state === 'draft' || data.state === 'posted') && standingOf(data).length > 0 ? (
          <Button weight="stop" onClick={() => setReversing(true)}>
            Reverse …
          </Button>
        ) : null}
        {may && !underWay ? <Button onClick={() => setSure(true)}>Discard</Button> : null}
        {may &&
        data.state === 'draft' &&
        data.request === null &&
        data.lists.some((l) => l.rises + l.falls + l.first > 0) ? (
          <Button weight="main" onClick={() => setPosting(true)}>
            Post …
          </Button>
        ) : null}
      </ViewHead>
      <div className="flex max-h-[30vh] shrink-0 flex-col gap-2 overflow-auto px-5 py-2">
        {underWay ? (
          <div className="flex items-center gap-3" role="status">
            <Progress worksheet={data} />
            {data.underWay ? (
              <span className="text-faint">
                {data.underWay.written} of {counted(data.underWay.postings, 'posting')} written; nothing is in force
                before all are
              </span>
            ) : data.total > 0 ? (
              <span className="text-faint">
                {show(String(data.done), form)} of {show(String(data.total), form)} prices
              </span>
            ) : null}
          </div>
        ) : null}
        {data.state === 'failed' ? <Trouble>The prices could not be computed: {data.trouble}</Trouble> : null}
        {data.state === 'cancelled' ? <Empty>The computation was cancelled; no price was written down.</Empty> : null}
        {data.state === 'draft' && data.trouble ? <Trouble>It was left as it was: {data.trouble}</Trouble> : null}
        {data.state === 'posted' && data.trouble ? <Trouble>It was not reversed: {data.trouble}</Trouble> : null}
        {data.byItself && data.state !== 'failed' ? <ByItself worksheet={data} of={data.byItself} /> : null}
        {data.request ? (
          <Trouble tone="warn">
            Its posting waits for a second person:{' '}
            <Link to={`/ledger/requests/${data.request}`} className="underline">
              request {data.request}
            </Link>
            .
          </Trouble>
        ) : null}
        {data.outdated ? (
          <Trouble tone="warn">
            Something that prices are made from has changed since these prices were computed.
          </Trouble>
        ) : null}
      </div>
      {WITH_PRICES.includes(data.state) ? <Proposed worksheet={data} /> : null}
      {reversing ? <ReverseWorksheetDialog worksheet={data} onClose={() => setReversing(false)} /> : null}
      {posting ? <PostWorksheetDialog worksheet={data} onClose={() => setPosting(false)} /> : null}
      {sure ? (
        <Dialog open onClose={() => setSure(false)} title={`Discard worksheet ${id}?`}>
          <p>
            Its proposed prices are thrown away. Posted prices stay as they are; the ledger keeps that it was there.
          </p>
          <div className="mt-4 flex justify-end gap-2">
            <Button onClick={() => setSure(false)}>Keep it</Button>
            <Button weight="stop" disabled={discarding.isLoading} onClick={() => void throwAway()}>
              Discard
            </Button>
          </div>
        </Dialog>
      ) : null}
    </>
  );
}

function Proposed({ worksheet }: { worksheet: Worksheet }) {
  const [params, setParams] = useSearchParams();
  const list = worksheet.lists.find((l) => l.list === params.get('list')) ?? worksheet.lists[0];
  const asked = params.get('shows') as WorksheetShows | null;
  const shows = asked && WORKSHEET_SHOWS.includes(asked) ? asked : 'changed';
  const go = (change: Record<string, string>) =>
    setParams((now) => {
      const next = new URLSearchParams(now);
      for (const [key, value] of Object.entries(change)) next.set(key, value);
      return next;
    });
  if (!list) return <Empty>There is no list on this worksheet.</Empty>;
  return (
    <>
      <div className="max-h-[38vh] shrink-0 overflow-auto px-5">
        <Lists worksheet={worksheet} chosen={list.list} onShow={(l, s) => go({ list: l, shows: s })} />
      </div>
      <div className="mt-3 mb-1 flex items-baseline gap-3 px-5">
        <h2>{list.name}</h2>
        <Select
          aria-label="Which prices"
          value={shows}
          onValue={(chosen) => go({ shows: chosen })}
          options={WORKSHEET_SHOWS.map((s) => [s, SHOWS[s]] as const)}
        />
      </div>
      {/* another list, or another look at it, is another grid */}
      <ProposedPrices key={`${list.list} ${shows}`} id={worksheet.id} day={worksheet.day} list={list} shows={shows} />
    </>
  );
}

const COLUMNS: readonly [keyof WorksheetList & WorksheetShows, string][] = [
  ['rises', 'up'],
  ['falls', 'down'],
  ['first', 'first'],
  ['guarded', 'set by a guard'],
  ['held', 'to decide'],
  ['without', 'without'],
];

function Lists({
  worksheet,
  chosen,
  onShow,
}: {
  worksheet: Worksheet;
  chosen: string;
  onShow: (list: string, shows: WorksheetShows) => void;
}) {
  const form = useNumberForm();
  return (
    <table className="ruled max-w-5xl">
      <thead>
        <tr>
          <th>List</th>
          {COLUMNS.map(([key, title]) => (
            <th key={key} className="figure">
              {title}
            </th>
          ))}
          <th className="figure">unchanged</th>
          {worksheet.lists.some((l) => l.postings.length > 0) ? <th>posted</th> : null}
        </tr>
      </thead>
      <tbody>
        {worksheet.lists.map((l) => (
          <tr key={l.list} className={l.list === chosen ? 'bg-chosen' : ''}>
            <td>
              <button
                type="button"
                aria-pressed={l.list === chosen}
                className="text-accent underline underline-offset-2"
                onClick={() => onShow(l.list, 'changed')}
              >
                {l.name}
              </button>{' '}
              <span className="text-xs text-faint">{l.currency}</span>
            </td>
            {COLUMNS.map(([key]) => (
              <td key={key} className="figure">
                {l[key] === 0 ? (
                  <span className="text-faint">0</span>
                ) : (
                  <button
                    type="button"
                    className="text-accent underline underline-offset-2"
                    onClick={() => onShow(l.list, key)}
                  >
                    {show(String(l[key]), form)}
                  </button>
                )}
              </td>
            ))}
            <td className="figure">{show(String(l.unchanged), form)}</td>
            {worksheet.lists.some((o) => o.postings.length > 0) ? (
              <td>
                {l.postings.map((p) => (
                  <Link
                    key={p.id}
                    to={`/ledger/${p.id}`}
                    className={`mr-2 ${p.stands ? 'text-accent underline underline-offset-2' : 'text-faint line-through'}`}
                    title={p.stands ? undefined : 'reversed'}
                  >
                    posting {p.id}
                  </Link>
                ))}
              </td>
            ) : null}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
