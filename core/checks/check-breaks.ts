import { priceOnList } from '../lists/list-price.ts';
import { dec, plain, settle } from '../numbers/decimal.ts';
import { type BreakTable, ascending, breakTableFor, cheaperByBuyingMore } from '../quotes/breaks.ts';
import { firstAllowedFrom } from '../quotes/order-quantity.ts';
import type { Day } from '../numbers/day.ts';
import type { Item, Pack } from '../items/item.ts';
import type { Prepared } from '../workspace/prepared.ts';
import type { Pausable } from '../pausable.ts';
import { type Finding, finding } from './finding.ts';

/** Breaks where more units cost less in all, and those that no allowed quantity reaches. */
export function* checkBreaks(ws: Prepared, day: Day): Pausable<Finding[]> {
  const perTable = new Map<BreakTable, { item: Item; pack: Pack }[]>();
  for (const table of ws.workspace.breaks) {
    for (const item of ws.workspace.items) {
      yield;
      for (const pack of ws.followed(item).packs) {
        const buyer = { groups: table.group ? [table.group] : [], region: table.region ?? null };
        if (breakTableFor(ws, table.list, item, pack.name, buyer) !== table) continue;
        perTable.set(table, [...(perTable.get(table) ?? []), { item, pack }]);
      }
    }
  }
  const out: Finding[] = [];
  for (const [table, reached] of perTable)
    out.push(...(yield* cliffs(ws, table, reached, day)), ...unreachable(table, reached));
  return out;
}

function* cliffs(
  ws: Prepared,
  table: BreakTable,
  reached: readonly { item: Item; pack: Pack }[],
  day: Day,
): Pausable<Finding[]> {
  if (table.way !== 'whole' || table.neverMoreThanNext) return [];
  const rows = ascending(table.rows);
  const found = new Map<number, { items: Set<string>; example: Record<string, string> }>();
  for (const { item, pack } of reached) {
    yield;
    const price = priceOnList(ws, { item: item.id, pack: pack.id, list: table.list, day }, 'compute');
    if (!price.ok) continue;
    rows.forEach((row, i) => {
      const step = dec(item.order?.step ?? '1');
      const below = dec(row.from).minus(step);
      if (below.lte(0)) return;
      const more = cheaperByBuyingMore([...rows.slice(0, i + 1)], price.value.regular, below);
      if (!more) return;
      const known = found.get(i) ?? {
        items: new Set<string>(),
        example: {
          item: item.sku,
          quantity: plain(below),
          'buy more': plain(more.buy),
          'pays less by': plain(settle(more.saves)),
        },
      };
      known.items.add(item.id);
      found.set(i, known);
    });
  }
  return [...found].map(([i, f]) =>
    finding('more_costs_less', [`breaks/${table.id}/rows/${table.rows.indexOf(rows[i]!)}`], f.items.size, f.example),
  );
}

function unreachable(table: BreakTable, reached: readonly { item: Item; pack: Pack }[]): Finding[] {
  if (table.count === 'pool') return [];
  const rows = ascending(table.rows);
  return rows.flatMap((row, i) => {
    const next = rows[i + 1];
    const touched = reached.filter(({ item }) => {
      const first = firstAllowedFrom(item, dec(row.from));
      return first === null || (next !== undefined && first.gte(next.from));
    });
    if (touched.length === 0) return [];
    const { item } = touched[0]!;
    const first = firstAllowedFrom(item, dec(row.from));
    const items = new Set(touched.map((t) => t.item.id)).size;
    return [
      finding('break_never_reached', [`breaks/${table.id}/rows/${table.rows.indexOf(row)}`], items, {
        item: item.sku,
        from: row.from,
        'next quantity that can be ordered': first ? plain(first) : 'none',
      }),
    ];
  });
}
