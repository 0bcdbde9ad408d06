import { useCallback, useMemo, useState } from 'react';
import { Link, Navigate, useParams, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import type { ListPriceRow, ListPrices } from '#contract/lists.ts';
import { listsApi } from './endpoints.ts';
import { recordsApi } from '../records/endpoints.ts';
import { problemOf } from '../api.ts';
import { BuildUpPanel } from '../buildup/build-up.tsx';
import { useDay } from '../frame/day.ts';
import { useNumberForm } from '../frame/preferences.ts';
import type { Edit } from '../grid/edits.ts';
import { compareNumbers } from '../grid/arrange.ts';
import { GridTools } from '../grid/grid-tools.tsx';
import { Grid } from '../grid/grid.tsx';
import { useSheet } from '../grid/use-sheet.ts';
import { Button, Empty, Trouble, ViewHead } from '../kit/controls.tsx';
import { read } from '../kit/number-form.ts';
import { counted } from '../kit/words.ts';
import { useSignedIn } from '../people/use-me.ts';
import { FromFileDialog } from './from-file-dialog.tsx';
import { LOOKS, type Look, OPEN_LOOKS } from './looks.ts';
import { PostDialog, type PostLine } from './post-dialog.tsx';
import { priceColumns } from './price-columns.tsx';
import { changeOf, marginOfRow } from './typed-price.ts';
import { useTypedPrices } from './typed-prices.ts';

const keyOf = (r: ListPriceRow) => `${r.item}-${r.pack}`;

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
  const [bringing, setBringing] = useState(false);
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

  const looks = (Object.keys(LOOKS) as Look[])
    .filter((k) => (cost && list.recipe !== null) || OPEN_LOOKS.includes(k))
    .filter((k) => k === 'all' || k === look || (counts[k] ?? 0) > 0);

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
      {looks.length > 1 ? (
        <div role="group" aria-label="Which prices" className="flex flex-wrap gap-1 border-b border-rule px-4">
          {looks.map((k) => (
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
      <GridTools
        state={state}
        columns={columns}
        total={rows.length}
        what="prices"
        one="price"
        fileName={`${list.name}, ${prices.day}`}
      >
        <Link
          className="text-accent underline underline-offset-2"
          to={`/lists/${list.id}/days${prices.day === today ? '' : `?from=${prices.day}`}`}
        >
          Compare two days
        </Link>
        <a
          className="text-accent underline underline-offset-2"
          href={`/api/lists/${list.id}/ubl?day=${prices.day}`}
          title="without tax and deposit, a line for each pack"
          download
        >
          as a UBL catalogue
        </a>
        {mayPost && cost ? <Button onClick={() => setBringing(true)}>From a file</Button> : null}
      </GridTools>
      {bringing ? (
        <FromFileDialog
          prices={prices}
          onClose={() => setBringing(false)}
          onTake={(taken) => {
            setBringing(false);
            void onEdits(
              taken.map(({ row, value }) => ({
                key: keyOf(row),
                column: 'proposed',
                before: byHand.get(keyOf(row)) ?? row.proposed ?? '',
                after: value,
              })),
            );
            toast.success(`${counted(taken.length, 'price')} of the file stand in the list: look at them, then post.`);
          }}
        />
      ) : null}
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
