import type { Problem } from '#contract/problems.ts';
import { type Arranged, type Stretch, windowQuery } from '#contract/windows.ts';
import { problemOf } from '../api.ts';
import type { Column } from '../grid/columns.ts';
import type { AskedMore } from '../grid/use-window.ts';
import { Change, Figure } from '../kit/figure.tsx';

/** A price that was posted, or is to be. */
interface Line {
  readonly sku: string;
  readonly name: string;
  readonly packName: string;
  readonly before: string | null;
  readonly after: string | null;
  readonly changePercent: string | null;
  readonly margin: string | null;
  /** Why it is typed. */
  readonly handSet: string | null;
}

export const plainNumber = (t: string) => (/^-?\d+(\.\d+)?$/.test(t) ? t : null);

/** What lines of a posting show: from what price to what, and what it leaves. `final`: it is posted. */
export function lineColumns<L extends Line>(titles: {
  readonly before: string;
  readonly after: string;
  readonly final: boolean;
}): Column<L>[] {
  const price = (id: 'before' | 'after', final: boolean): Column<L> => ({
    id,
    title: titles[id],
    width: 110,
    align: 'end',
    numeric: true,
    value: (l) => l[id] ?? '',
    draw: (_, v) => (v === '' ? 'none' : <Figure value={v} places={2} final={final} />),
  });
  return [
    { id: 'sku', title: 'SKU', width: 120, frozen: 'start', value: (l) => l.sku },
    { id: 'name', title: 'Item', width: 300, frozen: 'start', value: (l) => l.name },
    { id: 'pack', title: 'Pack', width: 80, value: (l) => l.packName },
    price('before', false),
    price('after', titles.final),
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
}

/** How lines of one posting, or of one request, are asked for. */
export const linesAsked = (id: string) => ({
  argOf: (arranged: Arranged, stretch: Stretch, more?: AskedMore) => {
    const { day: _, show: __, ...query } = windowQuery(null, arranged, stretch, more);
    return { id, query };
  },
  wordsOf: (error: unknown) => problemOf(error as Problem).message,
});
