import { asc, eq } from 'drizzle-orm';
import { connectionRoutes as declared } from '#contract/api/connections.ts';
import type { Connection } from '#contract/connections.ts';
import { items } from '../items/tables.ts';
import { audit } from '../ledger/audit.ts';
import { people } from '../people/tables.ts';
import { type Queries, type Tx, inTransaction } from '../platform/database.ts';
import { route } from '../platform/http/route.ts';
import { refused } from '../platform/refused.ts';
import { recordId } from '../setup/one-record.ts';
import { suppliers } from '../setup/tables.ts';
import { CONNECTIONS, fetchCosts } from './fetch-costs.ts';
import { SupplierTrouble } from './supplier-answers.ts';
import { connections } from './tables.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

const supplierId = (params: Record<string, string>) => recordId('The supplier', params['id']);

/** How suppliers are connected; by which account only those read who may change it. */
async function read(db: Queries, person: SignedIn, only?: number): Promise<Connection[]> {
  const rows = await db
    .select({ id: suppliers.id, name: suppliers.name, c: connections, asker: people.name })
    .from(suppliers)
    .leftJoin(connections, eq(connections.supplierId, suppliers.id))
    .leftJoin(people, eq(people.id, connections.askedBy))
    .where(only === undefined ? undefined : eq(suppliers.id, only))
    .orderBy(asc(suppliers.name));
  const may = person.rights.has('edit_rules');
  const costs = person.rights.has('see_cost');
  return rows.map(({ id, name, c, asker }) => ({
    supplier: String(id),
    supplierName: name,
    version: c?.version ?? 0,
    state: c?.state ?? null,
    address: may ? (c?.address ?? null) : null,
    account: may ? (c?.account ?? null) : null,
    brands: c?.brands ?? [],
    everyHours: c?.everyHours ?? 24,
    askedBy: asker,
    askedNote: c?.askedNote ?? null,
    lastTry: c?.lastTry?.toISOString() ?? null,
    lastAnswer: c?.lastAnswer?.toISOString() ?? null,
    trouble: c?.trouble ?? null,
    nextTry: c?.state === 'on' ? (c.nextTry?.toISOString() ?? null) : null,
    lastSheet: costs && c?.lastSheetId ? String(c.lastSheetId) : null,
  }));
}

async function one(db: Queries, person: SignedIn, id: number): Promise<Connection> {
  const [found] = await read(db, person, id);
  if (!found) throw refused('not_found', { what: 'The supplier', id: String(id) });
  return found;
}

/** What the record of changes tells of it: not the account, which is between the supplier and us. */
const told = ({
  address,
  brands,
  everyHours,
  state,
}: Pick<typeof connections.$inferSelect, 'address' | 'brands' | 'everyHours' | 'state'>) => ({
  address,
  brands,
  everyHours,
  state,
});

/** The connection as it stands, held for whoever changes it; refused where somebody changed it meanwhile. */
async function held(tx: Tx, id: number, version: number) {
  const [supplier] = await tx.select().from(suppliers).where(eq(suppliers.id, id)).for('no key update');
  if (!supplier) throw refused('not_found', { what: 'The supplier', id: String(id) });
  const [before] = await tx.select().from(connections).where(eq(connections.supplierId, id));
  if ((before?.version ?? 0) !== version)
    throw refused('changed_meanwhile', { what: 'The connection', by: 'someone else' }, { current: before ?? null });
  return { supplier, before };
}

export const connectionRoutes = [
  route(declared.all, ({ context, person }) => read(context.db, person)),
  route(declared.ofItem, async ({ context, person, params }) => {
    const id = recordId('The item', params['id']);
    const [item] = await context.db.select({ supplier: items.supplierId }).from(items).where(eq(items.id, id));
    if (!item) throw refused('not_found', { what: 'The item', id: String(id) });
    if (item.supplier === null) throw refused('item_without_supplier');
    return one(context.db, person, item.supplier);
  }),
  route(declared.browse, async ({ context, body }) => {
    try {
      return await context.suppliers.catalogue(body);
    } catch (error) {
      if (error instanceof SupplierTrouble) throw refused('supplier_trouble', { why: error.message });
      throw error;
    }
  }),
  route(declared.keep, async ({ context, person, params, body: { version, ...body } }) => {
    const id = supplierId(params);
    await inTransaction(context.db, async (tx) => {
      const { supplier, before } = await held(tx, id, version);
      const kept = {
        ...body,
        version: version + 1,
        connectedBy: person.id,
        tries: 0,
        trouble: null,
        nextTry: null,
        // what is followed now may be other than what came last
        lastContent: null,
      };
      await tx
        .insert(connections)
        .values({ supplierId: id, ...kept })
        .onConflictDoUpdate({ target: connections.supplierId, set: kept });
      await audit(tx, {
        at: context.now(),
        personId: person.id,
        action:
          body.state === 'off'
            ? 'stopped the connection of'
            : before?.account
              ? 'changed the connection of'
              : 'connected',
        subject: 'connections',
        subjectId: String(id),
        before: before && told(before),
        after: { supplier: supplier.name, ...told(body) },
      });
    });
    if (body.state === 'on') await context.jobs.enqueue(CONNECTIONS, id);
    return one(context.db, person, id);
  }),
  route(declared.fetch, async ({ context, person, params, body }) => {
    const id = supplierId(params);
    const { before } = await context.db.transaction((tx) => held(tx, id, body.version));
    if (before?.state !== 'on') throw refused('not_connected');
    await fetchCosts(context, id);
    return one(context.db, person, id);
  }),
  route(declared.ask, async ({ context, person, body }) => {
    const [item] = await context.db
      .select({ supplier: items.supplierId, sku: items.sku })
      .from(items)
      .where(eq(items.id, recordId('The item', body.item)));
    if (!item) throw refused('not_found', { what: 'The item', id: body.item });
    const id = item.supplier;
    if (id === null) throw refused('item_without_supplier');
    await inTransaction(context.db, async (tx) => {
      const said = { state: 'asked' as const, askedBy: person.id, askedNote: body.note };
      // of two who ask the first is kept, and a connection that is there stays as it is
      const made = await tx
        .insert(connections)
        .values({ supplierId: id, ...said })
        .onConflictDoNothing()
        .returning({ id: connections.supplierId });
      if (made.length === 0) return;
      await audit(tx, {
        at: context.now(),
        personId: person.id,
        action: 'asked for a connection of',
        subject: 'connections',
        subjectId: String(id),
        after: { item: item.sku, note: body.note },
      });
    });
    return one(context.db, person, id);
  }),
];
