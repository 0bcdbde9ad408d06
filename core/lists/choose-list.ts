import type { Lost } from '../buildup/steps.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { Customer, Day, Prepared, PriceList } from '../workspace/index.ts';

export interface ChosenList {
  readonly list: PriceList;
  readonly why: string;
  readonly lost: readonly Lost[];
}

/** Whether a day lies in a list's validity; both ends are whole days. */
export function validOn(list: Pick<PriceList, 'active' | 'from' | 'to'>, day: Day): boolean {
  return list.active && (!list.from || list.from <= day) && (!list.to || day <= list.to);
}

/**
 * The lists meant for a customer on a day, the best first: a list for the customer's group before one for everyone;
 * within that, the administrator's rank. docs/arithmetic.md, "Which list".
 */
export function candidateLists(ws: Prepared, customer: Customer, day: Day): { list: PriceList; why: string }[] {
  return ws.workspace.lists
    .filter(
      (l) =>
        validOn(l, day) && (l.groups.length === 0 || (customer.group !== null && l.groups.includes(customer.group))),
    )
    .map((list) => ({ list, why: list.groups.length > 0 ? 'meant for the customer’s group' : 'meant for everyone' }))
    .sort(
      (a, b) =>
        Number(b.list.groups.length > 0) - Number(a.list.groups.length > 0) ||
        a.list.rank - b.list.rank ||
        (a.list.id < b.list.id ? -1 : 1),
    );
}

/** The list a customer buys from on a day, with the candidates that lost and why. */
export function chooseList(ws: Prepared, customer: Customer, day: Day): Outcome<ChosenList> {
  const [best, ...rest] = candidateLists(ws, customer, day);
  if (!best) return refusal('no_list', `customers/${customer.id}`, { customer: customer.name, day });
  const lost: Lost[] = rest.map((r) => ({ name: r.list.name, why: `comes later: ${r.why}` }));
  for (const list of ws.workspace.lists) {
    if (list === best.list || rest.some((r) => r.list === list)) continue;
    lost.push({ name: list.name, why: validOn(list, day) ? 'not meant for this customer' : 'not valid on this day' });
  }
  return figure({ list: best.list, why: best.why, lost });
}
