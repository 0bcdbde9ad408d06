import { useCallback, useMemo, useState } from 'react';
import { Link, Navigate, useParams, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import type { ListPrices, ToPost } from '#contract/lists.ts';
import { LOOKS, type Look } from '#contract/looks.ts';
import type { Problem } from '#contract/problems.ts';
import { type Arranged, EVERYTHING, type Stretch, windowQuery } from '#contract/windows.ts';
import { listsApi } from './endpoints.ts';
import { useRegister } from '../records/use-register.ts';
import { problemOf } from '../api.ts';
import { BuildUpPanel } from '../buildup/build-up.tsx';
import { useDay } from '../frame/day.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { AsOf } from '../grid/as-of.tsx';
import type { Edit } from '../grid/edits.ts';
import { GridTools } from '../grid/grid-tools.tsx';
import { Grid } from '../grid/grid.tsx';
import { type AskedMore, FIRST_STRETCH, useWindow } from '../grid/use-window.ts';
import { Button, Empty, Trouble, ViewHead } from '../kit/controls.tsx';
import { read } from '../kit/number-form.ts';
import { countedIn } from '../kit/words.ts';
import { useSignedIn } from '../people/use-me.ts';
import { FromFileDialog } from './from-file-dialog.tsx';
import { ListLooks } from './list-looks.tsx';
import { PostDialog } from './post-dialog.tsx';
import { priceColumns } from './price-columns.tsx';
import { changeOf, marginOfRow } from './typed-price.ts';
import { useWouldPost } from './would-post.ts';
import { useTypedPrices, withEdits } from './typed-prices.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

const keyOf = (r: ListPriceRow) => `${r.item}-${r.pack}`;

function useLook(): Look {
  const asked = useSearchParams()[0].get('show') ?? 'all';
  return asked in LOOKS ? (asked as Look) : 'all';
}

export function ListView() {
  const { id } = useParams();
  const { rows: lists, isLoading } = useRegister('lists');
  const { asked } = useDay();
  const show = useLook();
  // what the grid asks for first: it finds it at hand
  const first = windowQuery(asked, { ...EVERYTHING, show }, FIRST_STRETCH);
  const { data: prices, error } = listsApi.useListPricesQuery({ list: id ?? '', query: first }, { skip: !id });
  if (!id) {
    if (isLoading) return null;
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
  if (prices?.list.id !== id || (asked !== null && prices.day !== asked))
    return (
      <p className="p-6 text-faint" role="status">
        Computing the list …
      </p>
    );
  return <ListBody key={`${id} ${prices.day}`} head={prices} look={show} />;
}

function ListBody({ head, look }: { head: ListPrices; look: Look }) {
  const me = useSignedIn();
  const form = useNumberForm();
  const { whole, counted } = countedIn(form);
  const { asked, today } = useDay();
  const [params, setParams] = useSearchParams();
  const cost = me.rights.has('see_cost');
  const mayPost = me.rights.has('post') && cost && (asked === null || asked >= today);
  const id = head.list.id;
  const [byHand, setByHand] = useTypedPrices(id);
  const [posting, setPosting] = useState<ToPost['what'] | null>(null);
  const [bringing, setBringing] = useState(false);
  const at = params.get('at');

  const { currency, decimals, recipe } = head.list;
  const ending = head.looks.ending > 0;
  const columns = useMemo(() => {
    const typedOf = (r: ListPriceRow) => byHand.get(keyOf(r))?.after;
    const all = priceColumns({ currency, decimals, priced: recipe !== null, ending }, form, cost, mayPost);
    return all.map((c) =>
      c.id === 'proposed'
        ? { ...c, value: (r: ListPriceRow) => typedOf(r) ?? r.proposed ?? '' }
        : c.id === 'change'
          ? { ...c, value: (r: ListPriceRow) => changeOf(r, typedOf(r)) ?? '' }
          : c.id === 'marginAfter'
            ? { ...c, value: (r: ListPriceRow) => marginOfRow(r, typedOf(r)) ?? '' }
            : c,
    );
  }, [currency, decimals, recipe, ending, form, cost, mayPost, byHand]);
  const onEdits = useCallback(
    async (edits: readonly Edit[]) => {
      setByHand((now) => withEdits(now, edits));
      return Promise.resolve(null);
    },
    [setByHand],
  );
  const readNumber = useCallback(
    (t: string) => {
      const r = read(t, form);
      return r.ok && r.value !== '' ? r.value : null;
    },
    [form],
  );
  const source = useMemo(
    () => ({
      endpoint: listsApi.endpoints.listPrices,
      argOf: (arranged: Arranged, stretch: Stretch, more?: AskedMore) => ({
        list: id,
        query: windowQuery(asked, arranged, stretch, more),
      }),
      wordsOf: (error: unknown) => problemOf(error as Problem).message,
    }),
    [id, asked],
  );
  const { state, busy, arranged, window, error } = useWindow({
    name: 'list',
    columns,
    keyOf,
    read: readNumber,
    onEdits,
    source,
    show: look,
  });
  const prices = window ?? head;
  const toPost = useMemo(
    (): ToPost => ({
      arranged,
      // what one typed oneself goes first, and nothing with it
      what: byHand.size > 0 ? 'typed' : 'changes',
      typed: [...byHand].map(([key, { after }]) => {
        const [item = '', pack = ''] = key.split('-');
        return { item, pack, after };
      }),
    }),
    [arranged, byHand],
  );
  const would = useWouldPost(id, asked, toPost, mayPost);
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
                · <span className="figure">{whole(summary.up)}</span> up,{' '}
                <span className="figure">{whole(summary.down)}</span> down,{' '}
                <span className="figure">{whole(summary.unchanged)}</span> as posted
              </>
            ) : null}
          </>
        }
      >
        {mayPost ? (
          <>
            {byHand.size > 0 ? (
              <Button onClick={() => setByHand(new Map())}>Drop {counted(byHand.size, 'typed price')}</Button>
            ) : null}
            {look === 'hand' && (window?.fits ?? 0) > 0 ? (
              <Button onClick={() => setPosting('releases')}>Release {counted(window!.fits, 'typed price')} …</Button>
            ) : null}
            <Button
              weight="main"
              disabled={(would?.lines ?? 0) === 0}
              onClick={() => setPosting(byHand.size > 0 ? 'typed' : 'changes')}
            >
              Post {byHand.size > 0 ? counted(would?.lines ?? 0, 'typed price') : counted(would?.lines ?? 0, 'change')}{' '}
              …
            </Button>
          </>
        ) : null}
      </ViewHead>
      {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
      <ListLooks
        counts={prices.looks}
        look={look}
        open={!cost || recipe === null}
        onLook={(next) =>
          setParams((now) => {
            const then = new URLSearchParams(now);
            if (next === 'all') then.delete('show');
            else then.set('show', next);
            return then;
          })
        }
      />
      <GridTools state={state} columns={columns} what="prices" one="price" fileName={`${list.name}, ${prices.day}`}>
        <AsOf window={prices} />
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
        {mayPost ? <Button onClick={() => setBringing(true)}>From a file</Button> : null}
      </GridTools>
      {bringing ? (
        <FromFileDialog
          list={list}
          onClose={() => setBringing(false)}
          onTake={(taken) => {
            setBringing(false);
            void onEdits(
              taken.map(({ row, value }) => ({
                key: keyOf(row),
                column: 'proposed',
                before: byHand.get(keyOf(row))?.after ?? row.proposed ?? '',
                after: value,
              })),
            );
            toast.success(`${counted(taken.length, 'price')} of the file stand in the list: look at them, then post.`);
          }}
        />
      ) : null}
      <div className="flex min-h-0 flex-1">
        <div className="flex min-w-0 flex-1 flex-col">
          <Grid state={state} busy={busy} label={`Prices of ${list.name}`} at={at} onActive={choose} onOpen={choose} />
        </div>
        {item && pack ? (
          <BuildUpPanel list={list.id} item={item} pack={pack} day={asked} onClose={() => choose(null)} />
        ) : null}
      </div>
      {posting ? (
        <PostDialog
          list={list}
          toPost={posting === 'releases' ? { arranged, typed: [], what: 'releases' } : toPost}
          onClose={(done) => {
            setPosting(null);
            if (done) {
              if (done.typed) setByHand(new Map());
              toast.success(done.words);
            }
          }}
        />
      ) : null}
    </>
  );
}
