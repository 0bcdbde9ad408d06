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

/** The lists meant for a buyer on a day, the best first, and why the others are not. */
export interface ListsMeant {
  readonly candidates: readonly { readonly list: PriceList; readonly why: string }[];
  readonly leftOut: readonly Lost[];
}

/**
 * The lists meant for a buyer on a day, the best first: by audience, then the administrator's rank, then the rank of
 * the buyer's group. docs/arithmetic.md, "Which list".
 */
export function listsMeantFor(ws: ListsView, buyer: Buyer, day: Day): ListsMeant {
  const { customer, groups, region, channel } = buyer;
  const named = ws.remember('lists name', '', () => new Set(ws.workspace.lists.flatMap((l) => l.customers ?? [])));
  // customers that no list names are of a kind with others of their groups and region
  const kind = JSON.stringify([customer && named.has(customer) ? customer : null, groups, region, channel, day]);
  return ws.remember('lists meant', kind, () => listsMeant(ws, buyer, day), KINDS_REMEMBERED);
}

const KINDS_REMEMBERED = 100;

function listsMeant(ws: ListsView, buyer: Buyer, day: Day): ListsMeant {
  const candidates: Candidate[] = [];
  const leftOut: Lost[] = [];
  for (const list of ws.workspace.lists) {
    const found = fit(ws, list, buyer, day);
    if (typeof found === 'string') leftOut.push({ name: list.name, why: found });
    else candidates.push(found);
  }
  candidates.sort(
    (a, b) =>
      a.audience - b.audience ||
      a.list.rank - b.list.rank ||
      a.groupRank - b.groupRank ||
      (a.list.id < b.list.id ? -1 : 1),
  );
  return { candidates, leftOut };
}

/** The list a buyer buys from on a day, with the candidates that lost and why. */
export function chooseList(ws: ListsView, buyer: Buyer, day: Day): Outcome<ChosenList> {
  const { candidates, leftOut } = listsMeantFor(ws, buyer, day);
  const [best, ...rest] = candidates;
  if (!best) return refusal('no_list', `customers/${buyer.customer ?? ''}`, { customer: buyer.name, day });
  return figure({
    list: best.list,
    why: best.why,
    lost: [...rest.map((r) => ({ name: r.list.name, why: `comes later: ${r.why}` })), ...leftOut],
  });
}
