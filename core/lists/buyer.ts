import { type Outcome, figure, refusal } from '../reasons.ts';
import { type Region, regionOf } from '../regions/region.ts';
import type { ListsView } from './view.ts';
import type { Buyer } from './choose-list.ts';

/** A buyer as it is asked for: a customer, or a group, or nobody in particular. */
export interface BuyerQuestion {
  readonly customer?: string | null;
  /** Instead of a customer's own groups. */
  readonly groups?: readonly string[] | null;
  /** Delivery country, ISO 3166-1 alpha-2; goes before the billing country, and that before the customer's. */
  readonly country?: string | null;
  readonly billingCountry?: string | null;
  /** Overrules the country's region, with a reason. */
  readonly region?: string | null;
  readonly regionReason?: string | null;
  readonly channel?: string | null;
}

/** Who buys, with region and groups found. docs/arithmetic.md, "Regions". */
export function buyerOf(ws: ListsView, q: BuyerQuestion): Outcome<Buyer> {
  const customer = q.customer ? ws.customers.get(q.customer) : null;
  if (customer === undefined) return refusal('unknown_customer', 'customer', { customer: q.customer! });
  const groups = q.groups ?? customer?.groups ?? [];
  const stranger = groups.find((g) => !ws.groups.has(g));
  if (stranger !== undefined) return refusal('unknown_group', 'groups', { group: stranger });
  const country = q.country ?? q.billingCountry ?? customer?.country ?? null;
  const own = country ? regionOf(ws, country) : figure<Region | null>(null);
  let region = own.ok ? (own.value?.id ?? null) : null;
  if (q.region) {
    if (!ws.regions.has(q.region)) return refusal('unknown_region', 'region', { region: q.region });
    if (country && q.region !== region && !q.regionReason) return refusal('no_reason_for_region', 'regionReason');
    region = q.region;
  } else if (!own.ok) return own;
  return figure({
    customer: customer?.id ?? null,
    name: customer?.name ?? (groups.map((g) => ws.groups.get(g)!.name).join(', ') || 'anybody'),
    groups,
    country,
    region,
    channel: q.channel ?? null,
  });
}
