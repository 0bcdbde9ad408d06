import { type ReactNode, useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { PostingDetail, PostingLine, PostingLines, ReverseBody } from '#contract/lists.ts';
import { type LinesQuery, ledgerApi } from './endpoints.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { useMoment } from '../frame/moments.ts';
import type { Column } from '../grid/columns.ts';
import { GridTools } from '../grid/grid-tools.tsx';
import { Grid } from '../grid/grid.tsx';
import { type WindowSource, useWindow } from '../grid/use-window.ts';
import { Button, Trouble, ViewHead } from '../kit/controls.tsx';
import { type NumberForm, showDay } from '../kit/number-form.ts';
import { countedIn } from '../kit/words.ts';
import { useSignedIn } from '../people/use-me.ts';
import { lineColumns, linesAsked, plainNumber } from './line-columns.tsx';
import { ReverseDialog } from './reverse-dialog.tsx';
import { reversedWords, whollyReversed } from './reversed.ts';

const keyOf = (l: PostingLine) => `${l.item}-${l.pack}-${l.from}`;
const COLUMNS = lineColumns<PostingLine>({ before: 'before', after: 'after', final: true });
/** Where some of its prices end, or begin on another day than the posting. */
const daysOf = (form: NumberForm): Column<PostingLine>[] => [
  { id: 'from', title: 'from', width: 98, value: (l) => l.from, draw: (l) => showDay(l.from, form) },
  {
    id: 'until',
    title: 'until',
    width: 98,
    value: (l) => l.lastDay ?? '',
    draw: (l) => (l.lastDay ? showDay(l.lastDay, form) : ''),
  },
];

const useLines = (id: string): WindowSource<{ id: string; query: LinesQuery }, PostingLines> =>
  useMemo(
    () => ({
      endpoint: ledgerApi.endpoints.postingLines,
      ...linesAsked(id),
    }),
    [id],
  );

/** One posting with all its lines; from here it can be reversed, whole or for chosen rows. */
export function PostingView() {
  const { id = '' } = useParams();
  const form = useNumberForm();
  const moment = useMoment();
  const { counted } = countedIn(form);
  const { data: p, error } = ledgerApi.usePostingQuery(id);
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  if (!p) return null;
  const about = (
    <>
      {p.listName}, {p.currency} · in force from {showDay(p.effective, form)}
      {p.lastDay ? ` until ${showDay(p.lastDay, form)}` : ''} · {p.by}
      {p.agreedBy ? ` and ${p.agreedBy}` : ''}, {moment(p.at)} · {p.reason}
      {p.worksheet ? (
        <>
          {' '}
          · of{' '}
          <Link className="text-accent underline" to={`/worksheets/${p.worksheet.id}`}>
            worksheet {p.worksheet.id}
          </Link>
          {p.worksheet.lists > 1 ? `, with ${counted(p.worksheet.lists - 1, 'other list')}` : ''}
        </>
      ) : null}
      {p.reverses ? (
        <>
          {' '}
          · reverses{' '}
          <Link className="text-accent underline" to={`/ledger/${p.reverses}`}>
            {p.reverses}
          </Link>
        </>
      ) : null}
      {p.reversedBy.length > 0 ? (
        <>
          {' '}
          · {reversedWords(p, form)}
          {p.reversedBy.map((by) => (
            <Link key={by} className="ml-1 text-accent underline" to={`/ledger/${by}`}>
              {by}
            </Link>
          ))}
        </>
      ) : null}
    </>
  );
  // another posting is another grid
  return <Lines key={p.id} posting={p} about={about} />;
}

function Lines({ posting: p, about }: { posting: PostingDetail; about: ReactNode }) {
  const me = useSignedIn();
  const form = useNumberForm();
  const { counted } = countedIn(form);
  const [asking, setAsking] = useState<{ lines: ReverseBody['lines'] } | null>(null);
  const [chosen, setChosen] = useState<{ top: number; bottom: number } | null>(null);
  const columns = useMemo(
    () =>
      COLUMNS.filter((c) => c.id !== 'margin' || me.rights.has('see_cost')).flatMap((c) =>
        p.dated && c.id === 'hand' ? [...daysOf(form), c] : [c],
      ),
    [me.rights, p.dated, form],
  );
  const { state, busy, window, error } = useWindow({
    name: 'posting',
    columns,
    keyOf,
    read: plainNumber,
    source: useLines(p.id),
  });
  // in another order the same places are other rows
  const [order, setOrder] = useState(window?.arrangement);
  if (order !== window?.arrangement) {
    setOrder(window?.arrangement);
    setChosen(null);
  }
  const count = chosen === null ? 0 : chosen.bottom - chosen.top + 1;
  // rows that are not at hand are fetched first; a price that has several lines is one
  const askChosen = ({ top, bottom }: { top: number; bottom: number }) =>
    state.reach(top, bottom, ({ rowAt }) => {
      const prices = new Map<string, { item: string; pack: string }>();
      for (let r = top; r <= bottom; r++) {
        const { item, pack } = rowAt(r)!;
        prices.set(`${item}-${pack}`, { item, pack });
      }
      setAsking({ lines: [...prices.values()] });
    });
  return (
    <>
      <ViewHead title={`Posting ${p.id}`} about={about}>
        {me.rights.has('post') && p.kind === 'post' && !whollyReversed(p) ? (
          <>
            {chosen && count < p.lines ? (
              <Button onClick={() => askChosen(chosen)}>Reverse {counted(count, 'chosen price')} …</Button>
            ) : null}
            <Button weight="stop" onClick={() => setAsking({ lines: null })}>
              Reverse …
            </Button>
          </>
        ) : null}
      </ViewHead>
      {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
      {window ? (
        <>
          <GridTools state={state} columns={columns} what="prices" />
          <Grid
            state={state}
            busy={busy}
            label={`Prices of posting ${p.id}`}
            onSelected={(_, reach) => setChosen(reach)}
          />
        </>
      ) : null}
      {asking ? <ReverseDialog id={p.id} lines={asking.lines} onClose={() => setAsking(null)} /> : null}
    </>
  );
}
