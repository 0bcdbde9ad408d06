import { type Dec, dec, divide, plain, roundHalfUp } from '../numbers/decimal.ts';
import { type Day, plusDays } from '../numbers/day.ts';
import type { AmountText } from '../numbers/amount.ts';
import type { Cost, QuantityPrice } from './cost.ts';
import type { Item } from '../items/item.ts';
import type { CostsView } from './view.ts';
import { type TaxView, taxFactor } from '../regions/tax.ts';
import { type CostMove, compareCosts } from './compare-costs.ts';
import { exchangeOn } from './exchange.ts';
import { askedOn, costOn, landedFrom } from './landed-cost.ts';
import { landedTermsOf } from './landed-terms.ts';
import type { LikeItems } from './like-items.ts';
import type { SuspicionCode } from './suspicions.ts';

/** Why, in figures and names as texts: the screen shows them in the reader's form. */
export type Because = Readonly<Record<string, string>>;

export interface ArrivingCost {
  /** Per cost pack, tax out. */
  readonly cost: AmountText;
  /** Paid instead for the time being. */
  readonly reduced?: AmountText | null;
  readonly quantityPrices?: readonly QuantityPrice[] | null;
  readonly packUnits: string;
  readonly from: Day;
  readonly to?: Day | null;
}

export interface ExaminedCost {
  /** The supplier's cost of that day, as it is known. */
  readonly before: Cost | null;
  /** `new`: nothing to compare with, or the same cost per unit in another pack or currency. */
  readonly kind: 'new' | 'up' | 'down' | 'unchanged';
  /** Per cent of the cost per unit; null: nothing to compare. */
  readonly changePercent: string | null;
  readonly suspicions: ReadonlyMap<SuspicionCode, Because>;
}

/** What an arriving cost is looked at beside. */
export interface Arrival {
  readonly ws: CostsView & TaxView;
  readonly supplier: string;
  readonly today: Day;
  readonly like: LikeItems;
  /** Costs of other items that arrive with it, by item. */
  readonly beside: ReadonlyMap<string, ArrivingCost>;
}

/** Moves beyond this, in per cent, are looked at. */
const LARGE_PERCENT = 25;
/** A day before today by more than this, and after it by more than that. */
const PAST_DAYS = 31;
const AHEAD_DAYS = 183;
const YEAR_DAYS = 365;

/** Compares one arriving cost with what is known, and says what may be wrong with it. Nothing is decided here. */
export function examineCost(arrival: Arrival, item: Item, arriving: ArrivingCost): ExaminedCost {
  const { ws, supplier } = arrival;
  const known = (ws.costsByItem.get(item.id) ?? []).filter((c) => c.supplier === supplier);
  const before = costOn(known, arriving.from);
  const found = new Map<SuspicionCode, Because>();
  const of = ws.suppliers.get(supplier);
  const ordered = of ? landedTermsOf(ws, item, of, arriving.from).terms.usualOrder : null;
  const move = before && moveOf(ws, before, arriving, ordered);
  const differs =
    before !== null &&
    (!dec(before.packUnits).eq(arriving.packUnits) ||
      before.cost.currency !== arriving.cost.currency ||
      (before.to ?? null) !== (arriving.to ?? null) ||
      !sameQuantityPrices(before.quantityPrices ?? [], arriving.quantityPrices ?? []));
  // the same cost per unit, but in another pack or currency or otherwise for more, is kept as a change of its own
  const kind =
    !move || move.kind === 'not_comparable' || (move.kind === 'unchanged' && differs) ? ('new' as const) : move.kind;
  if (before && move) besideKnown(found, before, arriving, move, kind, arrival.today);
  if (known.some((c) => c.from > arriving.from)) found.set('earlier_day', {});
  besideLike(found, arrival, item, before, arriving);
  besideLockstep(found, arrival, item, arriving);
  besideRrp(found, arrival, item, arriving);
  besideToday(found, arriving.from, arrival.today);
  return { before, kind, changePercent: move?.changePercent ?? null, suspicions: found };
}

const sameQuantityPrices = (a: readonly QuantityPrice[], b: readonly QuantityPrice[]): boolean =>
  a.length === b.length && a.every((q) => b.some((o) => dec(o.from).eq(q.from) && dec(o.cost).eq(q.cost)));

/** How what is paid moves, for as many as are ordered at once; where only the usual cost does, how that moves. */
function moveOf(ws: CostsView, before: Cost, after: ArrivingCost, ordered: string | null | undefined): CostMove {
  const paid = (c: ArrivingCost) => ({
    cost: askedOn(c, after.from, 'paid', ordered),
    packUnits: c.packUnits,
  });
  const move = compareCosts(ws, paid(before), paid(after), after.from);
  return move.kind === 'unchanged' && (before.reduced || after.reduced)
    ? compareCosts(ws, before, after, after.from)
    : move;
}

type Found = Map<SuspicionCode, Because>;

function besideKnown(
  found: Found,
  before: Cost,
  after: ArrivingCost,
  { changePercent, shifted }: CostMove,
  kind: ExaminedCost['kind'],
  today: Day,
): void {
  const [units, next] = [dec(before.packUnits), dec(after.packUnits)];
  const sameCurrency = before.cost.currency === after.cost.currency;
  if (before.origin === 'typed' && !before.released) found.set('held_by_typed', {});
  const stands = before.reduced && (!before.to || before.to >= after.from);
  if (before.reduced && stands && !after.reduced)
    found.set('ends_reduced', { amount: before.reduced.amount, currency: before.reduced.currency });
  if (!units.eq(next)) found.set('other_pack', {});
  if (!sameCurrency) found.set('other_currency', {});
  const [old, now] = [dec(before.cost.amount), dec(after.cost.amount)];
  if (sameCurrency && units.gt(1)) {
    if (units.eq(next) && near(now.times(units), old)) found.set('piece_for_pack', { units: before.packUnits });
    if (next.eq(1) && near(now, old)) found.set('pack_for_piece', { units: before.packUnits });
  }
  const explained = found.has('piece_for_pack') || found.has('pack_for_piece');
  if (shifted !== null && !found.has('pack_for_piece')) found.set('decimal_shift', { times: shifted });
  else if (!explained && changePercent !== null && dec(changePercent).abs().gt(LARGE_PERCENT))
    found.set('large_move', {});
  if (kind === 'unchanged' && before.from <= plusDays(today, -YEAR_DAYS))
    found.set('unchanged_for_year', { since: before.from });
}

/** Within a fifth less to a quarter more. */
const near = (a: Dec, b: Dec): boolean => !b.isZero() && a.gte(b.times('0.8')) && a.lte(b.times('1.25'));

/** Far from what like items cost, where what is known of the item itself is not. */
function besideLike(found: Found, { ws, like }: Arrival, item: Item, before: Cost | null, after: ArrivingCost): void {
  const far = like.farFrom(item, after);
  if (!far || (before && like.farFrom(item, before))) return;
  found.set('far_from_like', { ...far, currency: ws.workspace.currency, unit: item.unit });
}

function besideLockstep(found: Found, { ws, supplier, beside }: Arrival, item: Item, after: ArrivingCost): void {
  const group = ws.lockstepOf(item.id);
  if (!group || group.lead === item.id) return;
  const lead = ws.items.get(group.lead);
  found.set('follows_lead', { lead: lead?.sku ?? group.lead, group: group.name });
  const unit = (c: ArrivingCost) => divide(dec(c.cost.amount), dec(c.packUnits));
  const known = costOn(
    (ws.costsByItem.get(group.lead) ?? []).filter((c) => c.supplier === supplier),
    after.from,
  );
  // a lead whose own new cost is wrong makes nobody else suspicious
  const others = [beside.get(group.lead), known].flatMap((c) => c ?? []);
  const like = (c: ArrivingCost) => c.cost.currency === after.cost.currency && withinTenth(unit(c), unit(after));
  const [other] = others;
  if (!other || others.some(like)) return;
  found.set('unlike_lockstep', {
    lead: lead?.sku ?? group.lead,
    amount: other.cost.amount,
    currency: other.cost.currency,
    units: other.packUnits,
  });
}

const withinTenth = (a: Dec, b: Dec): boolean => a.minus(b).abs().lte(b.times('0.1'));

/** The landed cost against the recommended retail price without its tax, per unit in the workspace's currency. */
function besideRrp(found: Found, { ws, supplier }: Arrival, item: Item, after: ArrivingCost): void {
  const of = ws.suppliers.get(supplier);
  if (!item.rrp || !of) return;
  const own = ws.workspace.currency;
  const cost: Cost = { id: '', item: item.id, supplier, origin: 'file', entry: 0, ...after };
  const landed = landedFrom(ws, item, of, cost, after.from);
  const x = exchangeOn(ws, item.rrp.currency, own, after.from);
  const tax = item.rrp.taxIn ? ws.taxOn(item.taxClass, after.from) : null;
  if (!landed.ok || !x || (item.rrp.taxIn && !tax)) return;
  const net = divide(dec(item.rrp.amount), tax ? taxFactor(tax.percent) : dec(1)).times(x.factor);
  if (landed.value.landed.lte(net)) return;
  found.set('above_rrp', {
    rrp: plain(roundHalfUp(net, 4)),
    landed: plain(roundHalfUp(landed.value.landed, 4)),
    currency: own,
  });
}

function besideToday(found: Found, from: Day, today: Day): void {
  if (from < plusDays(today, -PAST_DAYS)) found.set('long_past', {});
  if (from > plusDays(today, AHEAD_DAYS)) found.set('far_ahead', {});
}
