import type { LockstepPreview, LockstepPreviewBody } from '#contract/lockstep.ts';
import { compareCosts } from '#core/costs/compare-costs.ts';
import { exchangeOn } from '#core/costs/exchange.ts';
import { costOn } from '#core/costs/landed-cost.ts';
import { differencesOnJoining } from '#core/lockstep/lockstep.ts';
import { dec, divide, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import type { Cost } from '#core/costs/cost.ts';
import type { Item } from '#core/items/item.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import { refused } from '../platform/refused.ts';
import { leaversOf } from './leave-lockstep.ts';

/** So far from the lead's cost a member's is looked at, per cent. */
const FAR = 20;

/** What a lockstep group as it would be changes: what gives way on joining, what stays on leaving, and costs that are odd. */
export function previewLockstep(ws: Prepared, body: LockstepPreviewBody, day: string): LockstepPreview {
  const itemOf = (id: string): Item => {
    const item = ws.items.get(id);
    if (!item) throw refused('not_found', { what: 'The item', id });
    return item;
  };
  const named = (id: string) => ({ item: id, sku: itemOf(id).sku, name: itemOf(id).name });
  const kept = ws.workspace.lockstep.find((g) => g.id === body.id);
  const known = new Set(kept ? [kept.lead, ...kept.members] : []);
  // a member that becomes the lead keeps what the former lead has: nothing moves by it
  const values = kept && kept.members.includes(body.lead) ? kept.lead : body.lead;
  const joining = [body.lead, ...body.members].filter((id) => !known.has(id) && id !== values);
  if (kept && !known.has(body.lead)) joining.push(...body.members.filter((id) => known.has(id)));
  return {
    lead: named(body.lead),
    joining: [...new Set(joining)].map((id) => ({
      ...named(id),
      differences: differencesOnJoining(ws, ws.followed(itemOf(id)), itemOf(values), day).map((d) => ({
        ...d,
        where: whereOf(ws, d.value, d.where),
      })),
    })),
    leaving: (kept ? leaversOf(kept, body) : [])
      .filter((id) => id !== body.lead)
      .map((id) => {
        const lead = itemOf(kept!.lead);
        const prices = ws.workspace.lists.flatMap((l) =>
          lead.packs.flatMap((p) => (ws.postedOn(l.id, lead.id, p.id, day) ? [p] : [])),
        );
        const counting = suppliersOf(ws, lead).flatMap((s) => costOn(costsOf(ws, lead, s), day) ?? []);
        return {
          ...named(id),
          from: lead.sku,
          costs: counting.length,
          packs: lead.packs.map((p) => (dec(p.units).eq(1) ? p.name : `${p.name} of ${p.units}`)),
          prices: prices.length,
        };
      }),
    costs: [values, ...[body.lead, ...body.members].filter((id) => id !== values)].flatMap((id) =>
      costsBeside(ws, itemOf(values), itemOf(id), day).map((c) => ({ ...named(id), ...c })),
    ),
  };
}

const suppliersOf = (ws: Prepared, item: Item): string[] => [
  ...new Set((ws.costsByItem.get(item.id) ?? []).map((c) => c.supplier)),
];
const costsOf = (ws: Prepared, item: Item, supplier: string): Cost[] =>
  (ws.costsByItem.get(item.id) ?? []).filter((c) => c.supplier === supplier);

/** A member's own costs, supplier by supplier, beside the lead's. */
function costsBeside(ws: Prepared, lead: Item, item: Item, day: string) {
  return suppliersOf(ws, item).flatMap((supplier) => {
    const own = costOn(costsOf(ws, item, supplier), day);
    if (!own) return [];
    const theirs = item === lead ? null : costOn(costsOf(ws, lead, supplier), day);
    const x = exchangeOn(ws, own.cost.currency, ws.workspace.currency, day);
    const rate = own.cost.currency === ws.workspace.currency ? dec(1) : x?.factor;
    const unit = rate ? divide(dec(own.cost.amount), dec(own.packUnits)).times(rate) : null;
    const move = theirs && compareCosts(ws, theirs, own, day);
    return [
      {
        supplier: ws.suppliers.get(supplier)?.name ?? supplier,
        amount: own.cost.amount,
        currency: own.cost.currency,
        packUnits: own.packUnits,
        from: own.from,
        unit: unit && plain(roundHalfUp(unit, 4)),
        changePercent: move?.changePercent ?? null,
        odd:
          theirs !== null &&
          (!dec(own.packUnits).eq(theirs.packUnits) || Math.abs(Number(move?.changePercent ?? 0)) > FAR),
      },
    ];
  });
}

/** "list/pack" and ids in words. */
function whereOf(ws: Prepared, value: string, where: string): string {
  if (value === 'cost') return ws.suppliers.get(where)?.name ?? where;
  if (value === 'tax class') return '';
  if (value !== 'price') return where;
  const [list = '', pack = ''] = where.split('/');
  return `${ws.lists.get(list)?.name ?? list}, ${pack}`;
}
