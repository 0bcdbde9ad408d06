import { sql } from 'drizzle-orm';
import type { Fall, Falls } from '#contract/falls.ts';
import { BulkWorkspace, bulkPrices } from '#core/bulk/bulk-prices.ts';
import { exchangeOn } from '#core/costs/exchange.ts';
import { achievedAt } from '#core/lists/achieved.ts';
import { priceChange } from '#core/lists/price-change.ts';
import { minorUnits } from '#core/numbers/currency.ts';
import { plusDays } from '#core/numbers/day.ts';
import { type Dec, ZERO, dec, money, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import type { PriceList } from '#core/lists/price-list.ts';
import type { Db } from '../platform/database.ts';
import { workspaceOn } from '../workspace/state.ts';

/** Quotes accepted in so many days before say how much of a pack is sold. */
const DAYS = 90;
const MOST_NAMED = 1_000;

interface Found {
  readonly list: PriceList;
  readonly item: string;
  readonly pack: string;
  readonly posted: Dec;
  readonly to: Dec;
  readonly sold: Dec;
  readonly money: Dec | null;
  /** Its share of the posted price: only what comes first hangs on it. */
  readonly far: number;
}

const asks = (list: PriceList, ws: Prepared): boolean =>
  list.active &&
  [list.recipe, ...(list.recipes ?? []).map((t) => t.recipe)].some((id) => {
    const recipe = id ? ws.recipes.get(id) : undefined;
    return recipe !== undefined && !recipe.quietFalls && recipe.guards.some((g) => g.kind === 'raise_only');
  });

/** Prices on every list that their recipe would let fall but for "raise only", with the money it means. */
export async function fallsOn(db: Db, day: string): Promise<Falls> {
  const { ws, revision } = await workspaceOn(db, day);
  const sold = await soldSince(db, ws, plusDays(day, -DAYS));
  const bulk = new BulkWorkspace(ws, day);
  const found = ws.workspace.lists.filter((l) => asks(l, ws)).flatMap((list) => fallsOf(ws, bulk, list, sold, day));
  found.sort((a, b) => (b.money ?? ZERO).cmp(a.money ?? ZERO) || b.far - a.far);
  const lists = [...new Set(found.map((f) => f.list))].map((list) => {
    const of = found.filter((f) => f.list === list);
    const all = of.reduce((sum, f) => sum.plus(f.money ?? 0), ZERO);
    return {
      list: list.id,
      name: list.name,
      currency: list.currency,
      decimals: ws.decimalsOf(list),
      prices: of.length,
      money: money(all, minorUnits(ws.workspace.currency)),
    };
  });
  return {
    day,
    revision,
    currency: ws.workspace.currency,
    days: DAYS,
    lists,
    rows: found.slice(0, MOST_NAMED).map((f) => told(ws, f, day)),
  };
}

function fallsOf(
  ws: Prepared,
  bulk: BulkWorkspace,
  list: PriceList,
  sold: ReadonlyMap<string, Dec>,
  day: string,
): Found[] {
  const prices = bulkPrices(bulk, list);
  const x = exchangeOn(ws, list.currency, ws.workspace.currency, day);
  const rate = list.currency === ws.workspace.currency ? dec(1) : (x?.factor ?? null);
  return bulk.columns.rows.flatMap(({ item, pack }, i): Found[] => {
    const of = ws.items.get(item)!;
    // of a lockstep group the price of its lead falls, and with it every member's
    const units = prices.wouldFallTo[bulk.rowOf(ws.followed(of).id, pack) ?? i]!;
    const posted = Number.isNaN(units) ? null : ws.postedFor(list.id, of, pack, day);
    if (!posted) return [];
    if (ws.recipeFor(list, ws.followed(of))?.quietFalls) return [];
    const [is, to] = [dec(posted.price!), dec(String(units)).div(prices.scale)];
    const count = sold.get(`${list.id}/${item}/${pack}`) ?? ZERO;
    const far = 1 - Number(plain(to)) / Number(plain(is));
    return [
      { list, item, pack, posted: is, to, sold: count, money: rate && is.minus(to).times(count).times(rate), far },
    ];
  });
}

/** Packs on accepted quotes, as their changes have left them, by "list/item/pack"; the packs of a lockstep group are its lead's. */
async function soldSince(db: Db, ws: Prepared, day: string): Promise<Map<string, Dec>> {
  const { rows } = await db.execute<{ list: string; item: string; pack: string; quantity: string }>(sql`
    with accepted as (
      select q.id, q.list_id, (
        select c.issued -> 'body' -> 'lines' from quote_changes c
        where c.quote_id = q.id and c.state = 'issued' order by c.number desc limit 1) as changed
      from quotes q where q.state = 'accepted' and q.accepted_on >= ${day}),
    lines as (
      select a.list_id, l.item_id::text as item, l.pack_id::text as pack, l.quantity
      from accepted a join quote_lines l on l.quote_id = a.id where a.changed is null
      union all
      select a.list_id, l ->> 'item', l ->> 'pack', (l ->> 'quantity')::numeric
      from accepted a cross join lateral jsonb_array_elements(a.changed) l where a.changed is not null)
    select list_id::text as list, item, pack, sum(quantity)::text as quantity from lines group by 1, 2, 3`);
  const sold = new Map<string, Dec>();
  for (const { list, item, pack, quantity } of rows) {
    const of = ws.items.get(item);
    const key = `${list}/${item}/${(of && ws.packOf(of, pack)?.id) ?? pack}`;
    sold.set(key, (sold.get(key) ?? ZERO).plus(quantity));
  }
  return sold;
}

function told(ws: Prepared, f: Found, day: string): Fall {
  const item = ws.items.get(f.item)!;
  const decimals = ws.decimalsOf(f.list);
  const margin = (price: Dec) => {
    const found = achievedAt(ws, { list: f.list.id, item: f.item, pack: f.pack, day }, price);
    return found.ok && found.value.margin ? plain(roundHalfUp(found.value.margin, 2)) : null;
  };
  const [posted, to] = [money(f.posted, decimals), money(f.to, decimals)];
  return {
    list: f.list.id,
    item: f.item,
    sku: item.sku,
    name: item.name,
    pack: f.pack,
    packName: ws.packOf(item, f.pack)?.name ?? item.packs.find((p) => p.id === f.pack)?.name ?? f.pack,
    posted,
    to,
    changePercent: priceChange(posted, to),
    marginNow: margin(f.posted),
    marginThen: margin(f.to),
    sold: plain(f.sold),
    money: f.money && money(f.money, minorUnits(ws.workspace.currency)),
  };
}
