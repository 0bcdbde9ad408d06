import type { Lost } from '../buildup/steps.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { Day } from '../numbers/day.ts';
import type { ListsView } from './view.ts';
import type { PriceList } from './price-list.ts';
import { onDay } from './entries.ts';

/** Who buys: a customer with the groups it is in, where the goods go, and through which sales channel. */
export interface Buyer {
  readonly customer: string | null;
  /** For a name in messages. */
  readonly name: string;
  readonly groups: readonly string[];
  readonly country: string | null;
  readonly region: string | null;
  readonly channel: string | null;
}

export interface ChosenList {
  readonly list: PriceList;
  readonly why: string;
  readonly lost: readonly Lost[];
}

/** The audiences in their order; source: docs/arithmetic.md, "Which list". */
const AUDIENCES = [
  'names the customer',
  'meant for the customer’s group in this region',
  'meant for the customer’s group',
  'meant for this region',
  'meant for everyone',
] as const;

interface Candidate {
  readonly list: PriceList;
  readonly why: string;
  readonly audience: number;
  /** The best rank among the buyer's groups it is meant for. */
  readonly groupRank: number;
}

/** How a list's audience fits a buyer, or why it does not. */
function fit(ws: ListsView, list: PriceList, buyer: Buyer, day: Day): Candidate | string {
  if (!list.active) return 'not active';
  if (!onDay(list, day)) return 'not valid on this day';
  const named = buyer.customer !== null && (list.customers?.includes(buyer.customer) ?? false);
  const groups = buyer.groups.filter((g) => list.groups.includes(g));
  const open = list.groups.length === 0 && !list.customers?.length;
  if (!named && !open && groups.length === 0) return 'not meant for this customer';
  const regional = (list.regions?.length ?? 0) > 0;
  if (regional && !inRegion(ws, list.regions!, buyer.region)) return 'not meant for this region';
  if (list.channels?.length && !(buyer.channel && list.channels.includes(buyer.channel)))
    return 'not meant for this sales channel';
  const audience = named ? 0 : groups.length > 0 ? (regional ? 1 : 2) : regional ? 3 : 4;
  const groupRank = Math.min(...groups.map((g) => ws.groups.get(g)?.rank ?? 0), Number.MAX_SAFE_INTEGER);
  return { list, audience, groupRank, why: AUDIENCES[audience]! };
}

function inRegion(ws: ListsView, regions: readonly string[], region: string | null): boolean {
  const seen = new Set<string>();
  for (let at = region; at && !seen.has(at); at = ws.regions.get(at)?.inside ?? null) {
    if (regions.includes(at)) return true;
    seen.add(at);
  }
  return false;
}

/**
 * The lists meant for a buyer on a day, the best first: by audience, then the administrator's rank, then the rank of
 * the buyer's group. docs/arithmetic.md, "Which list".
 */
export function candidateLists(ws: ListsView, buyer: Buyer, day: Day): { list: PriceList; why: string }[] {
  return ws.workspace.lists
    .map((list) => fit(ws, list, buyer, day))
    .filter((c) => typeof c !== 'string')
    .sort(
      (a, b) =>
        a.audience - b.audience ||
        a.list.rank - b.list.rank ||
        a.groupRank - b.groupRank ||
        (a.list.id < b.list.id ? -1 : 1),
    );
}

/** Why the other lists were no candidates. */
export function listsLeftOut(ws: ListsView, buyer: Buyer, day: Day): Lost[] {
  return ws.workspace.lists.flatMap((list) => {
    const found = fit(ws, list, buyer, day);
    return typeof found === 'string' ? [{ name: list.name, why: found }] : [];
  });
}

/** The list a buyer buys from on a day, with the candidates that lost and why. */
export function chooseList(ws: ListsView, buyer: Buyer, day: Day): Outcome<ChosenList> {
  const [best, ...rest] = candidateLists(ws, buyer, day);
  if (!best) return refusal('no_list', `customers/${buyer.customer ?? ''}`, { customer: buyer.name, day });
  return figure({
    list: best.list,
    why: best.why,
    lost: [...rest.map((r) => ({ name: r.list.name, why: `comes later: ${r.why}` })), ...listsLeftOut(ws, buyer, day)],
  });
}
