import { useCallback, useMemo, useState } from 'react';
import { Link, Navigate, useParams, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { FLAG_TEXT, type ListPriceRow, type ListPrices } from '#contract/lists.ts';
import { listsApi } from './endpoints.ts';
import { recordsApi } from '../records/endpoints.ts';
import { problemOf } from '../api.ts';
import { BuildUpPanel } from '../buildup/build-up.tsx';
import { useDay } from '../frame/day.ts';
import { useNumberForm } from '../frame/preferences.ts';
import type { Column } from '../grid/columns.ts';
import type { Edit } from '../grid/edits.ts';
import { compareNumbers } from '../grid/arrange.ts';
import { GridTools } from '../grid/grid-tools.tsx';
import { Grid } from '../grid/grid.tsx';
import { useSheet } from '../grid/use-sheet.ts';
import { Button, Empty, Trouble, ViewHead } from '../kit/controls.tsx';
import { Change, Figure } from '../kit/figure.tsx';
import { type NumberForm, read, show, showDay } from '../kit/number-form.ts';
import { counted } from '../kit/words.ts';
import { useSignedIn } from '../people/use-me.ts';
import { PostDialog, type PostLine } from './post-dialog.tsx';
import { changeOf, marginOfRow } from './typed-price.ts';
import { useTypedPrices } from './typed-prices.ts';

const keyOf = (r: ListPriceRow) => `${r.item}-${r.pack}`;

/** Which rows a look shows. */
const LOOKS = {
  all: { title: 'all', fits: () => true },
  changed: {
    title: 'differ from posted',
    fits: (r: ListPriceRow) => r.posted !== null && r.proposed !== null && compareNumbers(r.posted, r.proposed) !== 0,
  },
  new: { title: 'not posted yet', fits: (r: ListPriceRow) => r.posted === null && r.proposed !== null },
  bit: { title: 'a guard bit', fits: (r: ListPriceRow) => r.flag !== null },
  held: { title: 'held', fits: (r: ListPriceRow) => r.flag === 'floor_above_ceiling' },
  hand: { title: 'set by hand', fits: (r: ListPriceRow) => r.handSet !== null },
  loss: { title: 'below cost', fits: (r: ListPriceRow) => r.marginBefore?.startsWith('-') ?? false },
  without: { title: 'without a price', fits: (r: ListPriceRow) => r.proposed === null },
} as const;
type Look = keyof typeof LOOKS;

export function ListView() {
  const { id } = useParams();
  const { data: lists } = recordsApi.useRegisterQuery('lists');
  const { asked } = useDay();
  const { currentData: prices, error } = listsApi.useListPricesQuery({ list: id ?? '', day: asked }, { skip: !id });
  if (!id) {
    if (!lists) return null;
    const first = lists[0];
    return first ? (
      <Navigate to={{ pathname: `/lists/${first.id}`, search: asked ? `?day=${asked}` : '' }} replace />
    ) : (
      <>
        <ViewHead title="Price lists" />
        <Empty
          action={
            <Link className="text-accent underline" to="/setup/lists">
              Make the first list
            </Link>
          }
        >
          A price list holds the prices that one audience sees, in one currency, with tax in or out.
        </Empty>
      </>
    );
  }
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  if (!prices)
    return (
      <p className="p-6 text-faint" role="status">
        Computing the list …
      </p>
    );
  return <ListBody key={prices.list.id} prices={prices} />;
}

function priceColumns(prices: ListPrices, form: NumberForm, cost: boolean, editable: boolean): Column<ListPriceRow>[] {
  const { currency, decimals } = prices.list;
  const figure = (
    id: 'posted' | 'cost' | 'marginBefore' | 'marginAfter',
    title: string,
    places: number,
    width: number,
    more: Partial<Column<ListPriceRow>> = {},
  ): Column<ListPriceRow> => ({
    id,
    title,
    width,
    align: 'end',
    numeric: true,
    value: (r) => r[id] ?? '',
    copied: (v) => (v === '' ? '' : show(v, form)),
    draw: (_, v) => (v === '' ? '' : <Figure value={v} places={places} />),
    ...more,
  });
  const head: Column<ListPriceRow>[] = [
    { id: 'sku', title: 'SKU', width: 112, frozen: 'start', value: (r) => r.sku },
    { id: 'name', title: 'Item', width: 205, frozen: 'start', value: (r) => r.name },
    { id: 'pack', title: 'Pack', width: 62, frozen: 'start', value: (r) => r.packName },
    { id: 'category', title: 'Category', width: 130, hidden: true, value: (r) => r.category },
  ];
  const posted = figure('posted', `posted, ${currency}`, decimals, 108, {
    draw: (_, v) =>
      v === '' ? <span className="text-xs text-faint">none</span> : <Figure value={v} places={decimals} final />,
  });
  const from: Column<ListPriceRow> = {
    id: 'from',
    title: 'from',
    width: 98,
    value: (r) => r.postedFrom ?? '',
    draw: (r) => (r.postedFrom ? showDay(r.postedFrom, form) : ''),
  };
  const hand: Column<ListPriceRow> = {
    id: 'handSet',
    title: 'set by hand',
    width: 190,
    value: (r) =>
      r.handSet === null ? '' : r.handSetLastDay ? `${r.handSet}, until ${showDay(r.handSetLastDay, form)}` : r.handSet,
    draw: (_, v) => (v === '' ? '' : <span className="border-l-2 border-accent pl-1.5">✎ {v}</span>),
  };
  if (!cost) return [...head, posted, from];
  return [
    ...head,
    posted,
    {
      id: 'proposed',
      title: `computed, ${currency}`,
      width: 118,
      align: 'end',
      numeric: true,
      value: (r) => r.proposed ?? '',
      typed: (v) => show(v, form),
      copied: (v) => (v === '' ? '' : show(v, form)),
      tone: (r) => (r.flag === 'floor_above_ceiling' || r.flag === 'no_ending_fits' ? 'stop' : 'proposed'),
      draw: (r, v) =>
        v === '' ? (
          <span className="text-xs text-stop" title={r.reason ?? ''}>
            no price
          </span>
        ) : (
          <Figure value={v} places={decimals} className={v !== (r.proposed ?? '') ? 'italic underline' : ''} />
        ),
      ...(editable
        ? {
            parse: (t: string) => {
              const found = read(t, form);
              if (!found.ok || found.value === '') return found;
              if (found.value.startsWith('-') || /^0(\.0*)?$/.test(found.value))
                return { ok: false as const, message: 'a price must be more than 0' };
              return (found.value.split('.')[1]?.length ?? 0) > decimals
                ? { ok: false as const, message: `the list keeps ${decimals} decimals` }
                : found;
            },
          }
        : {}),
    },
    {
      id: 'change',
      title: 'change, %',
      width: 98,
      align: 'end',
      numeric: true,
      value: (r) => r.changePercent ?? '',
      draw: (_, v) => (v === '' ? '' : <Change value={v} />),
    },
    figure('marginBefore', 'posted, %', 2, 82, { group: 'margin' }),
    figure('marginAfter', 'computed, %', 2, 94, { group: 'margin' }),
    figure('cost', `landed, ${currency}`, 4, 104),
    {
      id: 'guard',
      title: 'guard that bit',
      width: 168,
      value: (r) => r.bit.join(', '),
      draw: (r) =>
        r.flag ? (
          <span title={FLAG_TEXT[r.flag]} className={r.flag === 'bit' ? 'text-warn' : 'text-stop'}>
            ▲ {r.bit.join(', ')}
          </span>
        ) : (
          ''
        ),
      tone: (r) => (r.flag === null ? undefined : r.flag === 'bit' ? 'warn' : 'stop'),
    },
    { id: 'uplift', title: 'uplift', width: 110, value: (r) => r.uplift ?? '' },
    from,
    hand,
    { id: 'reason', title: 'why no price', width: 260, value: (r) => r.reason ?? '' },
  ];
}

function ListBody({ prices }: { prices: ListPrices }) {
  const me = useSignedIn();
  const form = useNumberForm();
  const { asked, today } = useDay();
  const [params, setParams] = useSearchParams();
  const look = (params.get('show') ?? 'all') as Look;
  const cost = me.rights.has('see_cost');
  const mayPost = me.rights.has('post') && (asked === null || asked >= today);
  const [byHand, setByHand] = useTypedPrices(prices.list.id);
  const [posting, setPosting] = useState(false);
  const at = params.get('at');

  const rows = useMemo(() => prices.rows.filter((LOOKS[look] ?? LOOKS.all).fits), [prices.rows, look]);
  const columns = useMemo(() => {
    const all = priceColumns(prices, form, cost, mayPost);
    return all.map((c) =>
      c.id === 'proposed'
        ? { ...c, value: (r: ListPriceRow) => byHand.get(keyOf(r)) ?? r.proposed ?? '' }
        : c.id === 'change'
          ? { ...c, value: (r: ListPriceRow) => changeOf(r, byHand.get(keyOf(r))) ?? '' }
          : c.id === 'marginAfter'
            ? { ...c, value: (r: ListPriceRow) => marginOfRow(r, byHand.get(keyOf(r))) ?? '' }
            : c,
    );
  }, [prices, form, cost, mayPost, byHand]);
  const proposed = useMemo(() => new Map(prices.rows.map((r) => [keyOf(r), r.proposed])), [prices.rows]);
  const onEdits = useCallback(
    async (edits: readonly Edit[]) => {
      setByHand((now) => {
        const next = new Map(now);
        for (const e of edits) {
          const computed = proposed.get(e.key) ?? null;
          // what is computed anyway was not typed: undoing leaves nothing behind
          if (e.after === '' || (computed !== null && compareNumbers(e.after, computed) === 0)) next.delete(e.key);
          else next.set(e.key, e.after);
        }
        return next;
      });
      return Promise.resolve(null);
    },
    [proposed, setByHand],
  );
  const readNumber = useCallback(
    (t: string) => {
      const r = read(t, form);
      return r.ok && r.value !== '' ? r.value : null;
    },
    [form],
  );
  const state = useSheet({ name: 'list', columns, rows, keyOf, read: readNumber, onEdits });
  const { order } = state;
  const lines = useMemo(
    () =>
      order.flatMap((i): PostLine[] => {
        const r = rows[i]!;
        const typed = byHand.get(keyOf(r));
        const after = typed ?? r.proposed;
        if (after === null || (typed === undefined && r.flag === 'floor_above_ceiling')) return [];
        if (r.posted !== null && compareNumbers(r.posted, after) === 0 && typed === undefined) return [];
        return [{ row: r, after, byHand: typed !== undefined }];
      }),
    [order, rows, byHand],
  );
  const choose = useCallback(
    (r: ListPriceRow | null) =>
      setParams(
        (now) => {
          const next = new URLSearchParams(now);
          if (r) next.set('at', keyOf(r));
          else next.delete('at');
          return next;
        },
        { replace: true },
      ),
    [setParams],
  );
  const [item, pack] = (at ?? '').split('-');
  const { list, summary } = prices;
  const counts = useMemo(
    () => Object.fromEntries((Object.keys(LOOKS) as Look[]).map((k) => [k, prices.rows.filter(LOOKS[k].fits).length])),
    [prices.rows],
  );

  return (
    <>
      <ViewHead
        title={list.name}
        about={
          <>
            {list.currency}, tax {list.taxIn ? 'in' : 'out'}
            {list.recipe ? (
              <>
                {' '}
                · priced by{' '}
                <Link className="text-accent underline underline-offset-2" to={`/recipes/${list.recipe}`}>
                  {list.recipeName}
                </Link>{' '}
                · <span className="figure">{summary.up}</span> up, <span className="figure">{summary.down}</span> down,{' '}
                <span className="figure">{summary.unchanged}</span> as posted
              </>
            ) : null}
          </>
        }
      >
        {mayPost && cost ? (
          <>
            {byHand.size > 0 ? (
              <Button onClick={() => setByHand(new Map())}>Drop {counted(byHand.size, 'typed price')}</Button>
            ) : null}
            <Button weight="main" disabled={lines.length === 0} onClick={() => setPosting(true)}>
              Post {counted(lines.length, 'change')} …
            </Button>
          </>
        ) : null}
      </ViewHead>
      {cost ? (
        <div role="group" aria-label="Which prices" className="flex flex-wrap gap-1 border-b border-rule px-4">
          {(Object.keys(LOOKS) as Look[])
            .filter((k) => k === 'all' || k === look || (counts[k] ?? 0) > 0)
            .map((k) => (
              <button
                key={k}
                type="button"
                aria-pressed={look === k}
                onClick={() =>
                  setParams((now) => {
                    const next = new URLSearchParams(now);
                    if (k === 'all' || k === look) next.delete('show');
                    else next.set('show', k);
                    return next;
                  })
                }
                className={`border-b-2 px-2 py-1 ${look === k ? 'border-accent font-medium' : 'border-transparent'}`}
              >
                <span className="figure">{counts[k]}</span> {LOOKS[k].title}
              </button>
            ))}
        </div>
      ) : null}
      <GridTools state={state} columns={columns} total={rows.length} what="prices" one="price" />
      <div className="flex min-h-0 flex-1">
        <div className="flex min-w-0 flex-1 flex-col">
          <Grid state={state} label={`Prices of ${list.name}`} at={at} onActive={choose} onOpen={choose} />
        </div>
        {item && pack ? (
          <BuildUpPanel list={list.id} item={item} pack={pack} day={asked} onClose={() => choose(null)} />
        ) : null}
      </div>
      {posting ? (
        <PostDialog
          prices={prices}
          lines={lines}
          all={prices.rows.length}
          onClose={(done) => {
            setPosting(false);
            if (done) {
              setByHand(new Map());
              toast.success(done);
            }
          }}
        />
      ) : null}
    </>
  );
}
