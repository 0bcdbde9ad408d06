import { wordsOf } from '#contract/filters.ts';
import type { ListPrices, ToPost, WouldPost } from '#contract/lists.ts';
import { LOOKS, type Look } from '#contract/looks.ts';
import { type Arranged, type Window, readWindow } from '#contract/windows.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

type Asked = { readonly path: string };

const asked = ({ path }: Asked) => {
  const query = Object.fromEntries(new URLSearchParams(path.split('?')[1] ?? ''));
  return { ...readWindow(query), key: query['key'] };
};

/** A server's answer to a question for a stretch of rows, in the order in which they are given; words narrow them. */
export function windowOf<Row>(all: readonly Row[], of: Asked, keyOf?: (row: Row) => string): Window<Row> {
  const { arranged, stretch, key } = asked(of);
  const rows = all.filter((r) => wordsOf(arranged.find).every((w) => JSON.stringify(r).toLowerCase().includes(w)));
  const at = keyOf && key ? rows.findIndex((r) => keyOf(r) === key) : -1;
  return {
    rows: rows.slice(stretch.from, stretch.from + stretch.count),
    from: stretch.from,
    fits: rows.length,
    total: all.length,
    arrangement: JSON.stringify(arranged),
    place: at < 0 ? null : at,
    at: '2026-03-09T09:00:00.000Z',
    stale: false,
  };
}

/** What a server says of a list with these rows: looks and words narrow them, what differs can be posted. */
export function listAnswers(list: ListPrices['list'], rows: readonly ListPriceRow[]) {
  const fitting = ({ show, find }: Arranged) =>
    rows.filter(
      (r) =>
        LOOKS[(show || 'all') as Look].fits(r) &&
        wordsOf(find).every((w) => `${r.sku} ${r.name}`.toLowerCase().includes(w)),
    );
  const looks = Object.fromEntries(
    (Object.keys(LOOKS) as Look[]).map((look) => [look, rows.filter(LOOKS[look].fits).length]),
  ) as Record<Look, number>;
  return {
    [`GET /lists/${list.id}/prices`]: (of: Asked): ListPrices => ({
      ...windowOf(fitting(asked(of).arranged), of, (r) => `${r.item}-${r.pack}`),
      list,
      day: new URLSearchParams(of.path.split('?')[1] ?? '').get('day') ?? '2026-03-09',
      looks,
      summary: { up: looks.new + looks.changed, down: 0, unchanged: 0 },
    }),
    [`POST /lists/${list.id}/to-post`]: ({ body }: { body: ToPost }): WouldPost => {
      const picked = body.what === 'typed' ? rows : fitting(body.arranged);
      const lines = (what: ToPost['what']) =>
        picked.flatMap((row) => {
          const typed = body.typed.find((t) => t.item === row.item && t.pack === row.pack)?.after;
          const fits = row.flag !== 'floor_above_ceiling' && row.proposed !== null && row.proposed !== row.posted;
          if (typed === undefined && (!fits || what === 'typed')) return [];
          if (typed !== undefined && what === 'computed') return [];
          return [{ row, after: typed ?? row.proposed!, typed: typed !== undefined }];
        });
      const largest = lines(body.what);
      return {
        lines: largest.length,
        posts: largest.length,
        typed: largest.filter((l) => l.typed).length,
        untilDay: largest.filter((l) => l.row.lastDay !== null).length,
        prices: rows.length,
        largest,
        largestMoney: largest,
        choices: { typed: lines('typed').length, computed: lines('computed').length },
        harms: { below_cost: 0, below_guards: 0, above_guards: 0, under_map: 0, above_rrp: 0, beyond: 0 },
        harmed: [],
        state: '1.2.3/2026-03-09',
        stale: false,
        secondPerson: false,
      };
    },
  };
}
