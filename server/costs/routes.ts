import { type Tx, inTransaction } from '../platform/database.ts';
import { asc, eq, inArray } from 'drizzle-orm';
import { items } from '../items/tables.ts';
import { audit, holdState, revisionText, revisionsOf } from '../ledger/audit.ts';
import { people } from '../people/tables.ts';
import { route, validated } from '../platform/http/route.ts';
import { type BillBody, billBody } from '#contract/bills.ts';
import { billOf, invoiceIn, invoiceOut } from '../ubl/documents.ts';
import { costRoutes as declared } from '#contract/api/costs.ts';
import { refused } from '../platform/refused.ts';
import { readDeclared } from '../records/load.ts';
import { proposeCost } from './propose-cost.ts';
import { recordId } from '../setup/one-record.ts';
import { suppliers } from '../setup/tables.ts';
import { setSelfPosting } from '../worksheets/self-posting.ts';
import { today } from '../workspace/asked-day.ts';
import { dropBill, listBills, makeFinal, takeBackBill, viewBill, writeBill } from './bills.ts';
import { costSuppliers, findSheet, readable, readableSoon, listSheets } from './arrivals.ts';
import { sheetRows, viewEffect, viewSheet } from './look-at-sheet.ts';
import { correctRows, matchSheet, sayCode, takeBack, turnDown } from './decide-sheet.ts';
import { cancelIntake, intakeOf, takeInOrOrder } from './intake.ts';
import { receiveSheet } from './receive-sheet.ts';
import { costs, followedSuppliers } from './tables.ts';

const billId = (params: Record<string, string>) => recordId('The bill', params['id']);
const sheetId = (params: Record<string, string>) => recordId('The cost sheet', params['id']);

/** Whose cost a cost of the item is: of one that follows in lockstep the lead's, where that is meant. */
async function leadOf(tx: Tx, item: number, forGroup: boolean): Promise<number> {
  await holdState(tx);
  const { lockstep } = (await readDeclared(tx)).members;
  const group = lockstep.find((g) => g.members.includes(String(item)));
  if (!group) return item;
  if (!forGroup) {
    const named = await tx
      .select({ id: items.id, sku: items.sku })
      .from(items)
      .where(inArray(items.id, [item, Number(group.lead)]));
    const skuOf = (id: number) => named.find((i) => i.id === id)?.sku ?? String(id);
    throw refused('lockstep_cost', { item: skuOf(item), lead: skuOf(Number(group.lead)) });
  }
  return Number(group.lead);
}

export const costRoutes = [
  route(declared.sheets, ({ context }) => listSheets(context.db)),
  route(declared.receive, async ({ context, person, query, body }) => {
    const supplier = recordId('The supplier', query['supplier']);
    const fileName = (query['file'] ?? 'cost sheet').replace(/[\u0000-\u001f/\\]/g, ' ').slice(0, 200);
    const content = Buffer.isBuffer(body) ? body : Buffer.alloc(0);
    const arriving = { supplierId: supplier, fileName, content, origin: 'file' as const };
    return (await receiveSheet(context, person, arriving, await today(context)))!;
  }),
  route(declared.sheet, ({ context, params }) => viewSheet(context, sheetId(params))),
  route(declared.rows, ({ context, params, query }) => sheetRows(context, sheetId(params), query)),
  route(declared.file, async ({ context, params, response }) => {
    const { fileName, content } = await findSheet(context.db, sheetId(params));
    // a stranger's file is handed out, never shown: nothing of it is carried out in a page of ours
    response
      .attachment(fileName)
      .type('application/octet-stream')
      .set('x-content-type-options', 'nosniff')
      .set('content-security-policy', "sandbox; default-src 'none'")
      .send(content);
    return undefined;
  }),
  route(declared.effect, ({ context, params }) => viewEffect(context, sheetId(params))),
  route(declared.sayCode, async ({ context, person, params, body }) => {
    await sayCode(context, person, sheetId(params), body);
    return viewSheet(context, sheetId(params));
  }),
  route(declared.suppliers, ({ context }) => costSuppliers(context.db)),
  route(declared.choices, async ({ context }) =>
    context.costs.choices(await today(context), revisionText(await revisionsOf(context.db))),
  ),
  route(declared.follow, ({ context, person, params, body }) =>
    inTransaction(context.db, async (tx) => {
      const id = recordId('The supplier', params['id']);
      const [row] = await tx.select({ name: suppliers.name }).from(suppliers).where(eq(suppliers.id, id));
      if (!row) throw refused('not_found', { what: 'The supplier', id: String(id) });
      if (body.follow)
        await tx
          .insert(followedSuppliers)
          .values({ supplierId: id, saidBy: person.id, saidAt: context.now() })
          .onConflictDoNothing();
      else await tx.delete(followedSuppliers).where(eq(followedSuppliers.supplierId, id));
      await audit(tx, {
        at: context.now(),
        personId: person.id,
        action: body.follow ? 'lets costs follow by themselves of' : 'looks at costs again of',
        subject: 'connections',
        subjectId: String(id),
        after: { supplier: row.name, ...body },
      });
      return body;
    }),
  ),
  route(declared.selfPosting, async ({ context, person, params, body }) => {
    await setSelfPosting(context, person, recordId('The supplier', params['id']), body);
    return costSuppliers(context.db);
  }),
  route(declared.match, async ({ context, person, params, body }) => {
    await matchSheet(context, person, sheetId(params), body.version, body.match);
    return viewSheet(context, sheetId(params));
  }),
  route(declared.correct, async ({ context, person, params, body }) => {
    await correctRows(context, person, sheetId(params), body);
    return viewSheet(context, sheetId(params));
  }),
  route(declared.takeIn, async ({ context, person, params, body }) =>
    takeInOrOrder(context, person, sheetId(params), body, await today(context)),
  ),
  route(declared.intake, ({ context, params }) => intakeOf(context.db, sheetId(params))),
  route(declared.cancelIntake, ({ context, person, params }) => cancelIntake(context, person, sheetId(params))),
  route(declared.setAside, async ({ context, person, params, body }) => {
    await turnDown(context, person, sheetId(params), body.version, body.reason);
    return { setAside: true };
  }),
  route(declared.takeBack, ({ context, person, params, body }) =>
    takeBack(context, person, sheetId(params), body.version),
  ),
  route(declared.bills, ({ context }) => listBills(context.db)),
  route(declared.bill, ({ context, params }) => viewBill(context.db, billId(params))),
  route(declared.billFromFile, async ({ context, person, query, body }) => {
    const supplier = recordId('The supplier', query['supplier']);
    const content = Buffer.isBuffer(body) ? body : Buffer.alloc(0);
    const invoice = readable(() => invoiceIn(content));
    const { body: bill, left } = await readableSoon(billOf(context.db, supplier, invoice));
    const sound = validated(billBody, bill);
    return { id: String(await writeBill(context, person, sound as BillBody, null)), left };
  }),
  route(declared.billAsFile, async ({ context, params, response }) => {
    const { name, xml } = await invoiceOut(context.db, billId(params));
    response.attachment(name).type('application/xml').send(xml);
    return undefined;
  }),
  route(declared.writeBill, async ({ context, person, body }) =>
    viewBill(context.db, await writeBill(context, person, body, null)),
  ),
  route(declared.changeBill, async ({ context, person, params, body: { version, ...body } }) =>
    viewBill(context.db, await writeBill(context, person, body, { id: billId(params), version })),
  ),
  route(declared.finalBill, async ({ context, person, params, body }) => {
    await makeFinal(context, person, billId(params), body, await today(context));
    return viewBill(context.db, billId(params));
  }),
  route(declared.takeBackBill, async ({ context, person, params, body }) => {
    await takeBackBill(context, person, billId(params), body.version);
    return viewBill(context.db, billId(params));
  }),
  route(declared.dropBill, async ({ context, person, params, body }) => {
    await dropBill(context, person, billId(params), body.version);
    return { discarded: params.id };
  }),
  route(declared.ofItem, async ({ context, params }) => {
    const rows = await context.db
      .select({
        id: costs.id,
        supplier: costs.supplierId,
        supplierName: suppliers.name,
        amount: costs.amount,
        reduced: costs.reducedAmount,
        reducedCurrency: costs.reducedCurrency,
        quantityPrices: costs.quantityPrices,
        currency: costs.currency,
        packUnits: costs.packUnits,
        validFrom: costs.validFrom,
        validTo: costs.validTo,
        origin: costs.origin,
        released: costs.released,
        takenBack: costs.takenBack,
        enteredBy: people.name,
        enteredAt: costs.enteredAt,
      })
      .from(costs)
      .innerJoin(suppliers, eq(suppliers.id, costs.supplierId))
      .innerJoin(people, eq(people.id, costs.enteredBy))
      .where(eq(costs.itemId, recordId('The item', params['id'])))
      .orderBy(asc(costs.validFrom), asc(costs.id));
    return rows.map(({ reducedCurrency, ...r }) => ({
      ...r,
      quantityPrices: r.quantityPrices ?? [],
      reduced: r.reduced && reducedCurrency ? `${r.reduced} ${reducedCurrency}` : r.reduced,
      id: String(r.id),
      supplier: String(r.supplier),
      enteredAt: r.enteredAt.toISOString(),
    }));
  }),
  route(declared.propose, async ({ context, body }) => proposeCost(context.db, body, await today(context))),
  route(declared.type, ({ context, person, body }) =>
    inTransaction(context.db, async (tx) => {
      const [item] = await tx
        .select()
        .from(items)
        .where(eq(items.id, Number(body.item)));
      if (!item) throw refused('not_found', { what: 'The item', id: body.item });
      if (body.validTo && body.validTo < body.validFrom)
        throw refused('fields_wrong', {}, { faults: [{ path: 'validTo', message: 'lies before the first day' }] });
      const lead = await leadOf(tx, item.id, body.forGroup);
      const at = context.now();
      const [row] = await tx
        .insert(costs)
        .values({
          itemId: lead,
          supplierId: Number(body.supplier),
          amount: body.amount,
          reducedAmount: body.reduced,
          quantityPrices: body.quantityPrices.length > 0 ? body.quantityPrices : null,
          currency: body.currency,
          packUnits: body.packUnits,
          validFrom: body.validFrom,
          validTo: body.validTo ?? null,
          origin: 'typed',
          enteredBy: person.id,
          enteredAt: at,
        })
        .returning({ id: costs.id });
      await audit(tx, {
        at,
        personId: person.id,
        action: 'typed a cost',
        subject: 'items',
        subjectId: String(lead),
        after: { ...body, sku: item.sku },
      });
      return { id: String(row!.id) };
    }),
  ),
  route(declared.release, ({ context, person, params, body }) =>
    inTransaction(context.db, async (tx) => {
      const id = recordId('The cost', params['id']);
      const [row] = await tx
        .update(costs)
        .set({ released: body.released })
        .where(eq(costs.id, id))
        .returning({ itemId: costs.itemId });
      if (!row) throw refused('not_found', { what: 'The cost', id: String(id) });
      await audit(tx, {
        at: context.now(),
        personId: person.id,
        action: body.released ? 'released a typed cost' : 'held a typed cost',
        subject: 'items',
        subjectId: String(row.itemId),
        after: { cost: id },
      });
      return body;
    }),
  ),
];
