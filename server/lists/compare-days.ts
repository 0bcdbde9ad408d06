import {
  type AskedThen,
  type ComparedDays,
  DAYS_PAGE,
  type DayChange,
  type DayDifference,
} from '#contract/compare-days.ts';
import { priceChange } from '#core/lists/price-change.ts';
import { dec, money } from '#core/numbers/decimal.ts';
import type { Item, Pack } from '#core/items/item.ts';
import type { Loaded } from '../workspace/state.ts';
import { askedPrice } from './asked-price.ts';

/** Every price of a list that differs between two days, and how many do not. */
export interface AllDifferences extends Omit<ComparedDays, 'count' | 'rows'> {
  readonly rows: readonly DayDifference[];
}

type Asks = (item: Item | undefined, pack: string) => AskedThen;

/** What a list asks in a state; it may not yet have been there, or be there no more. */
function askedIn({ ws, day }: Loaded, id: string): Asks {
  const list = ws.lists.get(id);
  return (item, packId) => {
    const here = item && ws.items.get(item.id);
    const pack = here?.packs.find((p) => p.id === packId);
    if (!list?.active || !here || !pack) return { price: null, source: null };
    const posted = ws.postedFor(list.id, here, pack.id, day);
    const text = posted ? money(dec(posted.price!), ws.decimalsOf(list)) : null;
    const asked = askedPrice(ws, list, here, pack, day, text);
    return { price: asked.asks, source: asked.source };
  };
}

function kindOf(before: string | null, after: string | null): DayChange | null {
  if (before === null) return after === null ? null : 'new';
  if (after === null) return 'gone';
  const by = dec(after).cmp(before);
  return by === 0 ? null : by > 0 ? 'up' : 'down';
}

/** Compares what a list asks in two states, each of its own day and with the rules and prices of then. */
export function compareDays(before: Loaded, after: Loaded, id: string): AllDifferences | null {
  const list = after.ws.lists.get(id) ?? before.ws.lists.get(id);
  if (!list) return null;
  const [then, now] = [askedIn(before, id), askedIn(after, id)];
  const counts = { up: 0, down: 0, new: 0, gone: 0, same: 0 };
  const rows: DayDifference[] = [];
  const look = (item: Item, pack: Pack) => {
    const [was, is] = [then(item, pack.id), now(item, pack.id)];
    const kind = kindOf(was.price, is.price);
    if (kind === null) {
      if (is.price !== null) counts.same++;
      return;
    }
    counts[kind]++;
    rows.push({
      item: item.id,
      pack: pack.id,
      sku: item.sku,
      name: item.name,
      packName: pack.name,
      kind,
      before: was,
      after: is,
      changePercent: priceChange(was.price, is.price),
    });
  };
  for (const item of after.ws.workspace.items) for (const pack of item.packs) look(item, pack);
  // what is sold no more
  for (const item of before.ws.workspace.items) {
    const still = after.ws.items.get(item.id);
    for (const pack of item.packs) if (!still?.packs.some((p) => p.id === pack.id)) look(item, pack);
  }
  const far = (d: DayDifference) => (d.changePercent === null ? dec(0) : dec(d.changePercent).abs());
  rows.sort((a, b) => far(b).cmp(far(a)) || (a.sku < b.sku ? -1 : a.sku > b.sku ? 1 : Number(a.pack) - Number(b.pack)));
  return {
    list: {
      id: list.id,
      name: list.name,
      currency: list.currency,
      taxIn: list.taxIn,
      decimals: (after.ws.lists.has(id) ? after : before).ws.decimalsOf(list),
    },
    from: before.day,
    to: after.day,
    counts,
    rows,
  };
}

/** One page of what differs. */
export function pageOf(
  { rows, ...head }: AllDifferences,
  { shows, find, at }: { shows: DayChange | 'all'; find: string; at: number },
): ComparedDays {
  const words = find
    .toLowerCase()
    .split(/\s+/)
    .filter((w) => w !== '');
  const fits = (d: DayDifference) =>
    (shows === 'all' || d.kind === shows) &&
    words.every((w) => `${d.sku} ${d.name} ${d.packName}`.toLowerCase().includes(w));
  const found = shows === 'all' && words.length === 0 ? rows : rows.filter(fits);
  return { ...head, count: found.length, rows: found.slice(at, at + DAYS_PAGE) };
}
