import type { ListAudience } from '#contract/lists.ts';
import type { ListBody } from '#contract/records/plain.ts';
import { buyerOf } from '#core/lists/buyer.ts';
import { listsMeantFor } from '#core/lists/choose-list.ts';
import type { PriceList } from '#core/lists/price-list.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import type { Loaded } from '../workspace/state.ts';
import { findList } from './build-up.ts';

/** A list as it travels, with what is kept beside its columns. */
export type WholeList = ListBody & Pick<PriceList, 'customers' | 'regions' | 'channels'>;

/** Customers named in an answer; more are counted. */
const NAMED = 12;

/** Whom a list would answer if it were active with these terms, and for how many prices it would have nothing to say. */
export function audienceOf({ ws, day }: Loaded, id: string, body: WholeList): ListAudience {
  const list = findList(ws, id);
  const asked = {
    ...list,
    active: true,
    rank: body.rank,
    groups: body.groups,
    from: body.from,
    to: body.to,
    customers: body.customers ?? [],
    regions: body.regions ?? [],
    channels: body.channels ?? [],
  };
  const lists = ws.workspace.lists.map((l) => (l.id === id ? asked : l));
  const then = new Prepared({ ...ws.workspace, lists }, ws);
  const customers: string[] = [];
  let first = 0;
  for (const customer of ws.workspace.customers) {
    const buyer = buyerOf(then, { customer: customer.id });
    if (!buyer.ok) continue;
    const { candidates } = listsMeantFor(then, buyer.value, day);
    const at = candidates.findIndex((c) => c.list.id === id);
    if (at < 0) continue;
    customers.push(customer.name);
    if (at === 0) first++;
  }
  let prices = 0;
  let missing = 0;
  for (const item of ws.workspace.items)
    for (const pack of item.packs) {
      prices++;
      if ((ws.postedFor(id, item, pack.id, day)?.price ?? null) === null) missing++;
    }
  return {
    customers: customers.length,
    named: customers.slice(0, NAMED),
    first,
    everyone: body.groups.length === 0 && !body.customers?.length,
    prices,
    missing,
  };
}
