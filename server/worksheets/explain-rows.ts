import type { WorksheetCounts } from '#contract/worksheets.ts';
import type { BulkWorkspace } from '#core/bulk/bulk-prices.ts';
import { FLAGS, PERCENT_PLACES } from '#core/bulk/price-rows.ts';
import { GUARD_NAMES } from '#core/guards/guards.ts';
import { priceToPost } from '#core/lists/price-to-post.ts';
import { type Dec, dec, money, roundHalfUp } from '#core/numbers/decimal.ts';
import { wording } from '#core/reasons.ts';
import { GUARD_KINDS } from '#core/recipes/recipe.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import type { PriceList } from '#core/lists/price-list.ts';
import { copyField } from '../platform/copy.ts';
import type { Queries } from '../platform/database.ts';
import type { Becoming } from './becoming.ts';
import { readPostedOf } from '../workspace/posted-rows.ts';

/** Rows whose postings are read at a time, and rows between two texts. */
const READ_ROWS = 10_000;
const TEXT_ROWS = 200;

/** A row that the bulk way leaves open, and where its list is counted. */
export interface OpenRow {
  readonly list: PriceList;
  readonly row: number;
  readonly counts: WorksheetCounts;
}

/** Open rows as the explained way decides them, in COPY's text format. */
export async function* explainRows(
  snapshot: Queries,
  bulk: BulkWorkspace,
  worksheet: number,
  open: readonly OpenRow[],
  becoming: Becoming,
): AsyncGenerator<{ text: string; rows: number }> {
  const { columns } = bulk;
  for (let start = 0; start < open.length; start += READ_ROWS) {
    const some = open
      .slice(start, start + READ_ROWS)
      .map((o) => ({ row: o.row, counts: o.counts, list: o.list, ...columns.rows[o.row]! }));
    // who follows a lead of a lockstep group has what is posted for it
    const items = some.map((r) => Number(bulk.ws.followed(bulk.ws.items.get(r.item)!).id));
    const stands = await readPostedOf(snapshot, columns.day, [...new Set(items)]);
    const posted = becoming.over(stands, bulk, some);
    const ws = new Prepared({ ...bulk.ws.workspace, posted });
    for (let at = 0; at < some.length; at += TEXT_ROWS) {
      const texts = some.slice(at, at + TEXT_ROWS).map(({ item, pack, list, counts, row }) => {
        const q = { item, pack, list: list.id, day: columns.day };
        const found = priceToPost(ws, q);
        becoming.decided(
          list.id,
          row,
          found.ok && found.value.flag !== 'floor_above_ceiling' ? found.value.price : null,
        );
        return textOf(ws, q, found, worksheet, counts);
      });
      yield { text: texts.join(''), rows: texts.length };
    }
  }
}

function textOf(
  ws: Prepared,
  q: { item: string; pack: string; list: string; day: string },
  found: ReturnType<typeof priceToPost>,
  worksheet: number,
  counts: WorksheetCounts,
): string {
  // of a lockstep group what is posted for the lead counts for every member
  const asked = ws.items.get(q.item)!;
  const pack = ws.packOf(asked, q.pack)?.id ?? q.pack;
  const before = ws.postedOn(q.list, ws.followed(asked).id, pack, q.day)?.price ?? null;
  const percent = (d: Dec | null) => (d ? roundHalfUp(d, PERCENT_PLACES).toFixed(PERCENT_PLACES) : null);
  const line = (fields: readonly (string | number | null)[]) =>
    `${[worksheet, q.list, q.item, q.pack, before, ...fields].map(copyField).join('\t')}\n`;
  if (!found.ok) {
    counts.without++;
    return line([null, null, null, FLAGS.indexOf('refused'), 0, -1, null, wording(found.reason)]);
  }
  const p = found.value;
  const list = ws.lists.get(q.list)!;
  const decimals = ws.decimalsOf(list);
  if (before === null) counts.first++;
  else if (p.price.gt(before)) counts.rises++;
  else if (p.price.lt(dec(before))) counts.falls++;
  else counts.unchanged++;
  if (p.flag !== null) counts.guarded++;
  if (p.flag === 'floor_above_ceiling') counts.held++;
  return line([
    money(p.price, decimals),
    percent(p.markup),
    percent(p.margin),
    FLAGS.indexOf(p.flag ?? 'none'),
    GUARD_KINDS.reduce((bits, kind, i) => (p.bit.includes(GUARD_NAMES[kind]) ? bits | (1 << i) : bits), 0),
    ws.recipes.get(p.recipe.id)!.uplift.findIndex((r) => r.id === p.row),
    p.wouldFallTo && money(p.wouldFallTo, decimals),
    null,
  ]);
}
