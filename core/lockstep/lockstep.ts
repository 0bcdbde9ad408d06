import type { AmountText } from '../numbers/amount.ts';
import { dec } from '../numbers/decimal.ts';
import { costOn } from '../costs/landed-cost.ts';
import type { Cost } from '../costs/cost.ts';
import type { Day } from '../numbers/day.ts';
import type { Item } from '../items/item.ts';
import type { PostedPrice } from '../lists/posted-price.ts';
import type { ListsView } from '../lists/view.ts';

export interface MemberCostChange {
  readonly item: string;
  readonly before: AmountText | null;
  readonly packUnitsBefore: string | null;
  readonly after: AmountText;
  /** Typed prices of the group that stand on the day: they would not follow. */
  readonly handSet: readonly {
    readonly list: string;
    readonly pack: string;
    readonly price: string;
    readonly reason: string;
  }[];
}

/** A new cost for any member, proposed for all of its group: what changes from what to what, before anything is changed. */
export function proposeGroupCost(
  ws: ListsView,
  item: string,
  cost: { readonly cost: AmountText; readonly packUnits: string; readonly supplier: string },
  day: Day,
): readonly MemberCostChange[] {
  const group = ws.lockstepOf(item);
  const lead = group?.lead ?? item;
  const all = group ? [group.lead, ...group.members] : [item];
  const before = costOn(
    (ws.costsByItem.get(lead) ?? []).filter((c) => c.supplier === cost.supplier),
    day,
  );
  const handSet = handSetOn(ws, lead, day);
  return all.map((id) => ({
    item: id,
    before: before?.cost ?? null,
    packUnitsBefore: before?.packUnits ?? null,
    after: cost.cost,
    handSet: handSet.map((p) => ({ list: p.list, pack: p.pack, price: p.price!, reason: p.handSet!.reason })),
  }));
}

function handSetOn(ws: ListsView, item: string, day: Day): readonly PostedPrice[] {
  const packs = ws.items.get(item)?.packs ?? [];
  return ws.workspace.lists.flatMap((list) =>
    packs.flatMap((pack) => {
      const posted = ws.postedOn(list.id, item, pack.id, day);
      return posted?.handSet ? [posted] : [];
    }),
  );
}

export const LOCKSTEP_VALUES = ['cost', 'packs', 'tax class', 'deposit', 'price'] as const;

/** A value that an item would give up on joining, beside the one it would take. */
export interface LockstepDifference {
  readonly value: (typeof LOCKSTEP_VALUES)[number];
  readonly where: string;
  readonly own: string | null;
  readonly lead: string | null;
}

/** What differs between an item and the lead it would follow, side by side; packs are matched by name. */
export function differencesOnJoining(ws: ListsView, item: Item, lead: Item, day: Day): readonly LockstepDifference[] {
  const out: LockstepDifference[] = [];
  const say = (value: LockstepDifference['value'], where: string, own: string | null, other: string | null) => {
    if (own !== other) out.push({ value, where, own, lead: other });
  };
  const costText = (c: Cost | null) =>
    c && `${dec(c.cost.amount).toFixed()} ${c.cost.currency} for ${dec(c.packUnits).toFixed()}`;
  const suppliers = new Set([item, lead].flatMap((i) => (ws.costsByItem.get(i.id) ?? []).map((c) => c.supplier)));
  for (const supplier of suppliers) {
    const of = (i: Item) =>
      costOn(
        (ws.costsByItem.get(i.id) ?? []).filter((c) => c.supplier === supplier),
        day,
      );
    say('cost', supplier, costText(of(item)), costText(of(lead)));
  }
  say('tax class', item.id, item.taxClass, lead.taxClass);
  const names = new Set([...item.packs, ...lead.packs].map((p) => p.name));
  for (const name of names) {
    const [own, other] = [item, lead].map((i) => i.packs.find((p) => p.name === name));
    say('packs', name, own?.units ?? null, other?.units ?? null);
    const deposit = (p: typeof own) => (p?.deposit ? `${p.deposit.amount} ${p.deposit.currency}` : null);
    say('deposit', name, deposit(own), deposit(other));
    for (const list of ws.workspace.lists) {
      const price = (i: Item, p: typeof own) => (p ? (ws.postedOn(list.id, i.id, p.id, day)?.price ?? null) : null);
      say('price', `${list.id}/${name}`, price(item, own), price(lead, other));
    }
  }
  return out;
}

/** An item that leaves keeps the lead's last values as its own. */
export function onLeaving(item: Item, lead: Item): Item {
  return { ...item, packs: lead.packs, taxClass: lead.taxClass, supplier: lead.supplier ?? null };
}
