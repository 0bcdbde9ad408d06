import { useMemo, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Problem } from '#contract/problems.ts';
import { windowQuery } from '#contract/windows.ts';
import {
  type WorksheetList,
  type WorksheetPrice,
  type WorksheetPrices,
  type WorksheetShows,
  remarkOf,
} from '#contract/worksheets.ts';
import { problemOf } from '../api.ts';
import type { Column } from '../grid/columns.ts';
import { GridTools } from '../grid/grid-tools.tsx';
import { Grid } from '../grid/grid.tsx';
import { type WindowSource, useWindow } from '../grid/use-window.ts';
import { Empty, Trouble } from '../kit/controls.tsx';
import { Change, Figure } from '../kit/figure.tsx';
import { type PricesAsked, worksheetsApi } from './endpoints.ts';

const keyOf = (p: WorksheetPrice) => `${p.item}-${p.pack}`;
const plainNumber = (t: string) => (/^-?\d+(\.\d+)?$/.test(t) ? t : null);

/** `decimals`: of the list; a price is shown whole. */
const columnsOf = (currency: string, decimals: number): Column<WorksheetPrice>[] => {
  const figure = (
    id: string,
    title: string,
    value: (p: WorksheetPrice) => string | null,
    more: Partial<Column<WorksheetPrice>> & { places?: number } = {},
  ): Column<WorksheetPrice> => {
    const { places = 2, ...rest } = more;
    return {
      id,
      title,
      width: 104,
      align: 'end',
      numeric: true,
      value: (p) => value(p) ?? '',
      draw: (_, v) => <Figure value={v} places={places} />,
      ...rest,
    };
  };
  return [
    { id: 'sku', title: 'SKU', width: 116, frozen: 'start', value: (p) => p.sku },
    { id: 'name', title: 'Item', width: 270, frozen: 'start', value: (p) => p.name },
    { id: 'pack', title: 'Pack', width: 70, value: (p) => p.packName },
    figure('before', `posted, ${currency}`, (p) => p.before, {
      draw: (p) => <Figure value={p.before} places={decimals} final={p.before !== null} />,
    }),
    figure('after', 'proposed', (p) => p.after, { places: decimals, tone: () => 'proposed' }),
    figure('change', 'change, %', (p) => p.changePercent, { draw: (p) => <Change value={p.changePercent} /> }),
    figure('markup', 'markup, %', (p) => p.markup, { width: 92 }),
    figure('margin', 'margin, %', (p) => p.margin, { width: 92 }),
    {
      id: 'remark',
      title: 'Remark',
      width: 300,
      value: remarkOf,
      tone: (p) => (p.reason || p.flag === 'floor_above_ceiling' ? 'stop' : remarkOf(p) === '' ? undefined : 'warn'),
    },
  ];
};

const usePrices = (id: string, list: string): WindowSource<PricesAsked, WorksheetPrices> =>
  useMemo(
    () => ({
      endpoint: worksheetsApi.endpoints.worksheetPrices,
      argOf: (arranged, stretch, more) => {
        const { day: _, ...query } = windowQuery(null, arranged, stretch, more);
        return { id, list, query };
      },
      wordsOf: (error) => problemOf(error as Problem).message,
    }),
    [id, list],
  );

/** The prices that a worksheet proposes for a list, posted beside proposed. */
export function ProposedPrices({
  id,
  day,
  list,
  shows,
}: {
  id: string;
  day: string;
  list: WorksheetList;
  shows: WorksheetShows;
}) {
  const navigate = useNavigate();
  const [active, setActive] = useState<WorksheetPrice | null>(null);
  const inList = (p: WorksheetPrice) => `/lists/${list.list}?day=${day}&at=${keyOf(p)}`;
  const columns = useMemo(() => columnsOf(list.currency, list.decimals), [list.currency, list.decimals]);
  const { state, busy, window, error } = useWindow({
    name: 'worksheet',
    columns,
    keyOf,
    read: plainNumber,
    show: shows,
    source: usePrices(id, list.list),
  });
  const asked = state.everywhere !== '' || Object.values(state.filters).some((f) => f !== '');
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  if (!window) return <p className="px-5 text-faint">One moment …</p>;
  if (window.fits === 0 && !asked && !busy) return <Empty>There are none of these on {list.name}.</Empty>;
  return (
    <>
      <GridTools state={state} columns={columns} what="prices" fileName={`worksheet-${id}-${list.name}`}>
        {active ? (
          <Link to={inList(active)} className="border border-rule-strong px-3 py-1 font-medium text-accent">
            {active.sku} on the list, and why
          </Link>
        ) : null}
      </GridTools>
      <Grid
        state={state}
        busy={busy}
        label={`Prices proposed for ${list.name}`}
        onActive={setActive}
        onOpen={(price) => void navigate(inList(price))}
      />
    </>
  );
}
