import { useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { PostingLine } from '#contract/lists.ts';
import { ledgerApi } from './endpoints.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import type { Column } from '../grid/columns.ts';
import { GridTools } from '../grid/grid-tools.tsx';
import { Grid } from '../grid/grid.tsx';
import { useSheet } from '../grid/use-sheet.ts';
import { Button, Trouble, ViewHead } from '../kit/controls.tsx';
import { Change, Figure } from '../kit/figure.tsx';
import { type NumberForm, showDay, showMoment } from '../kit/number-form.ts';
import { counted } from '../kit/words.ts';
import { useSignedIn } from '../people/use-me.ts';
import { ReverseDialog } from './reverse-dialog.tsx';
import { reversedWords, whollyReversed } from './reversed.ts';

const keyOf = (l: PostingLine) => `${l.item}-${l.pack}-${l.from}`;
const NO_LINES: PostingLine[] = [];
const plainNumber = (t: string) => (/^-?\d+(\.\d+)?$/.test(t) ? t : null);

const COLUMNS: Column<PostingLine>[] = [
  { id: 'sku', title: 'SKU', width: 120, frozen: 'start', value: (l) => l.sku },
  { id: 'name', title: 'Item', width: 300, frozen: 'start', value: (l) => l.name },
  { id: 'pack', title: 'Pack', width: 80, value: (l) => l.packName },
  {
    id: 'before',
    title: 'before',
    width: 110,
    align: 'end',
    numeric: true,
    value: (l) => l.before ?? '',
    draw: (_, v) => (v === '' ? 'none' : <Figure value={v} places={2} />),
  },
  {
    id: 'after',
    title: 'after',
    width: 110,
    align: 'end',
    numeric: true,
    value: (l) => l.after ?? '',
    draw: (_, v) => (v === '' ? 'none' : <Figure value={v} places={2} final />),
  },
  {
    id: 'change',
    title: 'change, %',
    width: 110,
    align: 'end',
    numeric: true,
    value: (l) => l.changePercent ?? '',
    draw: (l) => (l.changePercent ? <Change value={l.changePercent} /> : ''),
  },
  {
    id: 'margin',
    title: 'margin, %',
    width: 100,
    align: 'end',
    numeric: true,
    value: (l) => l.margin ?? '',
    draw: (_, v) => (v === '' ? '' : <Figure value={v} places={2} />),
  },
  { id: 'hand', title: 'typed, why', width: 200, value: (l) => l.handSet ?? '' },
];
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

/** One posting with all its lines; from here it can be reversed. */
export function PostingView() {
  const { id = '' } = useParams();
  const me = useSignedIn();
  const form = useNumberForm();
  const { data: p, error } = ledgerApi.usePostingQuery(id);
  const [asking, setAsking] = useState<'all' | 'chosen' | null>(null);
  const [chosen, setChosen] = useState<readonly PostingLine[]>(NO_LINES);
  const dated = p?.detail.some((l) => l.lastDay !== null || l.from !== p.effective) ?? false;
  const columns = useMemo(
    () => [...COLUMNS.filter((c) => c.id !== 'margin' || me.rights.has('see_cost')), ...(dated ? daysOf(form) : [])],
    [me.rights, dated, form],
  );
  const state = useSheet({ name: 'posting', columns, rows: p?.detail ?? NO_LINES, keyOf, read: plainNumber });
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  if (!p) return null;
  return (
    <>
      <ViewHead
        title={`Posting ${p.id}`}
        about={
          <>
            {p.listName}, {p.currency} · in force from {showDay(p.effective, form)}
            {p.lastDay ? ` until ${showDay(p.lastDay, form)}` : ''} · {p.by}, {showMoment(p.at, form)} · {p.reason}
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
                · {reversedWords(p)}
                {p.reversedBy.map((by) => (
                  <Link key={by} className="ml-1 text-accent underline" to={`/ledger/${by}`}>
                    {by}
                  </Link>
                ))}
              </>
            ) : null}
          </>
        }
      >
        {me.rights.has('post') && p.kind === 'post' && !whollyReversed(p) ? (
          <>
            {chosen.length > 0 && chosen.length < p.lines ? (
              <Button onClick={() => setAsking('chosen')}>Reverse {counted(chosen.length, 'chosen price')} …</Button>
            ) : null}
            <Button weight="stop" onClick={() => setAsking('all')}>
              Reverse …
            </Button>
          </>
        ) : null}
      </ViewHead>
      <GridTools state={state} columns={columns} what="prices" />
      <Grid state={state} label={`Prices of posting ${p.id}`} onSelected={setChosen} />
      {asking ? (
        <ReverseDialog
          id={p.id}
          lines={asking === 'all' ? null : chosen.map(({ item, pack }) => ({ item, pack }))}
          onClose={() => setAsking(null)}
        />
      ) : null}
    </>
  );
}
