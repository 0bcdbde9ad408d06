import { startTransition, useCallback, useMemo, useState } from 'react';
import { plainFilter } from '#contract/filters.ts';
import { type Arranged, type Jump, MOST_ROWS, type Stretch, type Window } from '#contract/windows.ts';
import { useRested } from '../kit/use-rested.ts';
import type { Column } from './columns.ts';
import type { Rows, RowsAway } from './rows.ts';
import { type GridOptions, type Look, useEdits } from './use-sheet.ts';
import { useArrangement } from './use-arrangement.ts';

/** Rows are fetched in stretches that begin at a multiple of this. */
const STEP = 100;
const STRETCH = 300;
export const FIRST_STRETCH: Stretch = { from: 0, count: STRETCH };
/** More rows than these are let go of, but for those that are looked at. */
const MOST_KEPT = 20_000;

export interface AskedMore {
  readonly key?: string;
  readonly jump?: Jump;
}

/** The question that is answered by windows: one followed, or one asked once. */
export interface WindowEndpoint<Arg, W> {
  readonly useQuery: (
    arg: Arg,
    options: { pollingInterval: number },
  ) => {
    /** Of this very question; undefined while it is asked. */
    readonly currentData?: W | undefined;
    readonly error?: unknown;
    readonly refetch: () => PromiseLike<unknown>;
  };
  readonly useLazyQuery: () => readonly [(arg: Arg) => { readonly unwrap: () => Promise<W> }, ...unknown[]];
}

export interface WindowSource<Arg, W> {
  readonly endpoint: WindowEndpoint<Arg, W>;
  readonly argOf: (arranged: Arranged, stretch: Stretch, more?: AskedMore) => Arg;
  /** A refusal as a sentence. */
  readonly wordsOf: (error: unknown) => string;
}

/** How long words and filters stay as they were typed before it is asked for them, in milliseconds: no letter of a word is. */
const REST_MS = 120;
/** While what rows are arranged by is worked out again, it is asked whether it is there, in milliseconds. */
const STALE_MS = 1_000;

interface Known<Row, W> {
  readonly data: W;
  /** What it answers. */
  readonly arranged: Arranged;
  readonly rows: ReadonlyMap<number, Row>;
}

function grown<Row, W extends Window<Row>>(known: Known<Row, W> | null, data: W, arranged: Arranged): Known<Row, W> {
  const goesOn = known?.data.arrangement === data.arrangement && known.rows.size < MOST_KEPT;
  const rows = new Map(goesOn ? known.rows : []);
  data.rows.forEach((row, i) => rows.set(data.from + i, row));
  return { data, rows, arranged };
}

/** Why rows that are not at hand were not reached. */
const MOVED =
  'Something was changed meanwhile, and these rows may stand in another order: nothing was done. Try again.';

const NOTHING: Stretch = { from: 0, count: 0 };

/** What is looked for, as it travels. */
export function arrangedBy<Row>(
  columns: readonly Column<Row>[],
  { sort, filters, everywhere }: Pick<Look<Row>, 'sort' | 'filters' | 'everywhere'>,
  read: (text: string) => string | null,
  show: string,
): Arranged {
  return {
    sort: sort?.column ?? '',
    down: sort?.down ?? false,
    filters: columns.flatMap((c) => {
      const filter = plainFilter(filters[c.id] ?? '', c.numeric ?? false, read);
      return filter === '' ? [] : [{ column: c.id, filter }];
    }),
    find: everywhere.trim(),
    show,
  };
}

/**
 * The state of one grid whose rows stand on the server: only what is looked at is fetched. Null with it as long as
 * nothing is known; what was asked last but one is shown until the next is there.
 */
export function useWindow<Row, Arg, W extends Window<Row>>({
  source: { endpoint, argOf, wordsOf },
  show = '',
  ...options
}: GridOptions<Row> & { readonly source: WindowSource<Arg, W>; readonly show?: string }) {
  const { name, columns, read, find = '' } = options;
  const look = useArrangement(name, columns, find);
  const { sort } = look;
  const filters = useRested(look.filters, REST_MS);
  const everywhere = useRested(look.everywhere, REST_MS);
  const arranged = useMemo(
    () => arrangedBy(columns, { sort, filters, everywhere }, read, show),
    [columns, sort, filters, everywhere, read, show],
  );
  const [stretch, setStretch] = useState<Stretch>(FIRST_STRETCH);
  const [known, setKnown] = useState<Known<Row, W> | null>(null);
  const { currentData, error, refetch } = endpoint.useQuery(argOf(arranged, stretch), {
    pollingInterval: known?.data.stale ? STALE_MS : 0,
  });
  const [askOnce] = endpoint.useLazyQuery();
  if (currentData && known?.data !== currentData) setKnown(grown(known, currentData, arranged));

  const ask = useCallback(
    async (asked: Stretch, more?: AskedMore): Promise<W> => {
      try {
        return await askOnce(argOf(arranged, asked, more)).unwrap();
      } catch (refusal) {
        throw new Error(wordsOf(refusal), { cause: refusal });
      }
    },
    [askOnce, argOf, arranged, wordsOf],
  );
  const lookAt = useCallback((first: number, last: number) => {
    const from = Math.max(0, Math.floor((first - STEP / 2) / STEP) * STEP);
    const count = Math.max(STRETCH, Math.ceil((last + STEP / 2 - from) / STEP) * STEP);
    // the rows' places are drawn at once, and what is fetched for them in a task of its own
    startTransition(() =>
      setStretch((now) =>
        now.from === from && now.count === count ? now : { from, count: Math.min(count, MOST_ROWS) },
      ),
    );
  }, []);
  const arrangement = known?.data.arrangement;
  const away = useMemo(
    (): RowsAway<Row> => ({
      look: lookAt,
      again: async () => {
        try {
          await refetch();
        } catch {
          /* the grid has been left meanwhile: nobody looks at it */
        }
      },
      fetch: async (first, last) => {
        const found = new Map<number, Row>();
        for (let from = first; from <= last; from += MOST_ROWS) {
          const count = Math.min(MOST_ROWS, last - from + 1);
          const part = await ask({ from, count });
          // rows of two orders must never be taken for those of one
          if (part.arrangement !== arrangement) throw new Error(MOVED);
          part.rows.forEach((row, i) => found.set(from + i, row));
        }
        return found;
      },
      placeOf: async (key) => (await ask(NOTHING, { key })).place,
      seek: async (jump) => (await ask(NOTHING, { jump })).place,
    }),
    [ask, lookAt, refetch, arrangement],
  );
  const rows = useMemo(
    (): Rows<Row> => ({
      count: known?.data.fits ?? 0,
      total: known?.data.total ?? 0,
      rowAt: (r) => known?.rows.get(r),
      away,
    }),
    [known, away],
  );
  const state = useEdits(rows, look, options);
  // what was asked before is shown, and told from what is asked now
  const resting = look.filters !== filters || look.everywhere !== everywhere;
  const busy = known !== null && (resting || known.arranged !== arranged) && !error;
  return { state, busy, arranged, window: known?.data ?? null, error, again: away.again };
}
