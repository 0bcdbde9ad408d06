import { and, desc, eq, inArray, lte } from 'drizzle-orm';
import type { ItemPage } from '#contract/items.ts';
import { landedCost } from '#core/costs/landed-cost.ts';
import { wasPrice } from '#core/ledger/was-price.ts';
import { dec, money, plain } from '#core/numbers/decimal.ts';
import { wording } from '#core/reasons.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import type { Item } from '#core/items/item.ts';
import { heldUntil } from '#core/lists/posted-price.ts';
import { auditEntries, postingLines, postings } from '../ledger/tables.ts';
import { askedPrice } from '../lists/asked-price.ts';
import { priceLists } from '../lists/tables.ts';
import { people } from '../people/tables.ts';
import type { Db, Queries } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { quoteLines, quotes } from '../quotes/tables.ts';
import { customers } from '../setup/tables.ts';
import type { Loaded } from '../workspace/state.ts';
import { plusDays } from '#core/numbers/day.ts';
import { rulesReaching } from './item-rules.ts';
import { readItemBodies } from './register.ts';
import { packs } from './tables.ts';
import type { ItemBody } from './item-body.ts';

const LAST = 50;

/** An item as it is kept. */
export async function itemRecord(db: Queries, id: number) {
  const [body] = await readItemBodies(db, id);
  if (!body) throw refused('not_found', { what: 'The item', id: String(id) });
  return body;
}

/** By list and item: so the index of prices finds them among millions. */
const onLists = (lists: readonly number[], item: number) =>
  and(inArray(postingLines.listId, [...lists]), eq(postingLines.itemId, item));
const listIds = (ws: Prepared) => ws.workspace.lists.map((l) => Number(l.id));

/** Every posting of the item's prices up to a day, typed ones with their last day: the earlier price is looked up among them. */
async function postedOf(db: Queries, lists: readonly number[], id: number, day: string) {
  const rows = await db
    .select({
      list: postingLines.listId,
      pack: postingLines.packId,
      price: postingLines.after,
      from: postingLines.effective,
      posting: postingLines.postingId,
      entry: postingLines.id,
      reason: postingLines.handSetReason,
      lastDay: postingLines.lastDay,
    })
    .from(postingLines)
    .where(and(onLists(lists, id), lte(postingLines.effective, day)));
  return rows.map(({ reason, lastDay, ...r }) => ({
    ...r,
    list: String(r.list),
    item: String(id),
    pack: String(r.pack),
    posting: String(r.posting),
    ...heldUntil(reason === null ? null : { reason, by: '' }, lastDay),
  }));
}

async function listsOf(db: Queries, { ws, day }: Loaded, item: Item): Promise<ItemPage['lists']> {
  const lead = ws.followed(item);
  const past = new Prepared({
    ...ws.workspace,
    items: [lead],
    costs: [],
    posted: await postedOf(db, listIds(ws), Number(lead.id), day),
  });
  return ws.workspace.lists.map((list) => {
    const decimals = ws.decimalsOf(list);
    return {
      id: list.id,
      name: list.name,
      currency: list.currency,
      taxIn: list.taxIn,
      decimals,
      prices: item.packs.map((pack) => {
        const posted = ws.postedFor(list.id, item, pack.id, day);
        const price = posted ? money(dec(posted.price!), decimals) : null;
        const was = wasPrice(past, {
          list: list.id,
          item: lead.id,
          pack: ws.packOf(item, pack.id)?.id ?? pack.id,
          began: plusDays(day, 1),
        });
        return {
          pack: pack.id,
          packName: pack.name,
          posted: price,
          postedFrom: posted?.from ?? null,
          lowest: was && money(was.lowest, decimals),
          ...askedPrice(ws, list, item, pack, day, price),
        };
      }),
    };
  });
}

const amountText = (a: { amount: string; currency: string } | null) => a && `${a.amount} ${a.currency}`;

function lockstepOf(ws: Prepared, item: Item): ItemPage['lockstep'] {
  const group = ws.lockstepOf(item.id);
  if (!group) return null;
  const shown = (id: string) => {
    const i = ws.items.get(id);
    return { id, sku: i?.sku ?? id, name: i?.name ?? '' };
  };
  return {
    id: group.id,
    name: group.name,
    lead: group.lead === item.id,
    members: [group.lead, ...group.members.filter((m) => m !== group.lead)].map(shown),
  };
}

/** Everything about one item on a day. A retired one is shown as it is kept, without prices. */
export async function itemPage(db: Db, loaded: Loaded, id: number, showCost: boolean): Promise<ItemPage> {
  const { ws, day } = loaded;
  const body: ItemBody & { version: number } = await itemRecord(db, id);
  const item = ws.items.get(String(id));
  const landed = showCost && item ? landedCost(ws, ws.followed(item), day) : null;
  return {
    id: String(id),
    version: body.version,
    sku: body.sku,
    name: body.name,
    unit: body.unit,
    categoryPath: [...ws.lineage(body.category)].reverse().map((c) => ws.categories.get(c)?.name ?? c),
    brand: body.brand,
    model: body.model,
    supplier: body.supplier,
    supplierName: body.supplier && (ws.suppliers.get(body.supplier)?.name ?? null),
    supplierCode: body.supplierCode,
    weightKg: body.weightKg,
    taxClass: body.taxClass,
    rrp: body.rrp && { ...body.rrp, taxIn: body.rrp.taxIn ?? false },
    map: body.map && { ...body.map, taxIn: body.map.taxIn ?? false },
    attributes: Object.entries(body.attributes ?? {}).map(([name, value]) => ({ name, value })),
    retiredFrom: body.retiredFrom,
    packs: body.packs.map((p) => ({
      id: p.id,
      name: p.name,
      units: p.units,
      barcode: p.barcode,
      deposit: amountText(p.deposit),
      unitDeposit: amountText(p.unitDeposit),
    })),
    landed: landed?.ok ? plain(landed.value.landed) : null,
    costReason: landed && !landed.ok ? wording(landed.reason) : null,
    lockstep: item ? lockstepOf(ws, item) : null,
    lists: item ? await listsOf(db, loaded, item) : [],
    rules: item ? rulesReaching(ws, item, showCost) : [],
    quotes: await quotesOf(db, id),
    history: await historyOf(db, listIds(ws), id),
    changes: await changesOf(db, id),
  };
}

async function quotesOf(db: Queries, id: number): Promise<ItemPage['quotes']> {
  const rows = await db
    .select({
      id: quotes.id,
      number: quotes.number,
      day: quotes.day,
      customer: customers.name,
      state: quotes.state,
      quantity: quoteLines.quantity,
      packName: packs.name,
    })
    .from(quoteLines)
    .innerJoin(quotes, eq(quotes.id, quoteLines.quoteId))
    .innerJoin(customers, eq(customers.id, quotes.customerId))
    .innerJoin(packs, eq(packs.id, quoteLines.packId))
    .where(eq(quoteLines.itemId, id))
    .orderBy(desc(quotes.id))
    .limit(LAST);
  return rows.map((r) => ({ ...r, id: String(r.id) }));
}

async function historyOf(db: Queries, lists: readonly number[], id: number): Promise<ItemPage['history']> {
  const rows = await db
    .select({
      posting: postings.id,
      list: priceLists.name,
      effective: postingLines.effective,
      packName: packs.name,
      before: postingLines.before,
      after: postingLines.after,
      reason: postings.reason,
      by: people.name,
    })
    .from(postingLines)
    .innerJoin(postings, eq(postings.id, postingLines.postingId))
    .innerJoin(priceLists, eq(priceLists.id, postingLines.listId))
    .innerJoin(packs, eq(packs.id, postingLines.packId))
    .innerJoin(people, eq(people.id, postings.postedBy))
    .where(onLists(lists, id))
    .orderBy(desc(postingLines.id))
    .limit(LAST);
  return rows.map((r) => ({ ...r, posting: String(r.posting) }));
}

async function changesOf(db: Queries, id: number): Promise<ItemPage['changes']> {
  const rows = await db
    .select({ at: auditEntries.at, by: people.name, action: auditEntries.action })
    .from(auditEntries)
    .innerJoin(people, eq(people.id, auditEntries.personId))
    .where(and(eq(auditEntries.subject, 'items'), eq(auditEntries.subjectId, String(id))))
    .orderBy(desc(auditEntries.id))
    .limit(LAST);
  return rows.map((r) => ({ ...r, at: r.at.toISOString() }));
}
