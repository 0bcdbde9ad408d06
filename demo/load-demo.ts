import type { Logger } from 'pino';
import { dec } from '#core/numbers/decimal.ts';
import { items, packs } from '#server/items/tables.ts';
import { hashPassword } from '#server/people/password.ts';
import { people } from '#server/people/tables.ts';
import type { Database, Db, Tx } from '#server/platform/database.ts';
import { fromTheBeginning } from '#server/platform/history.ts';
import {
  categories,
  customerGroups,
  customers,
  exchangeRates,
  suppliers,
  taxRates,
  workspaceSettings,
} from '#server/setup/tables.ts';
import { CATEGORIES, COMPANY, CUSTOMERS, DEMO_PASSWORD, GROUPS, PEOPLE, SUPPLIERS } from './brannholm.ts';
import { demoItems } from './items.ts';
import { daysBefore } from './days.ts';
import { demoConnections } from './connections.ts';
import type { Demo } from './demo.ts';
import { loadHistory } from './history.ts';
import { Dice } from '#core/numbers/dice.ts';
import { changedBreak } from './changed-break.ts';
import { demoBills } from './bills.ts';
import { loadDeclared, loadDescribed, loadRegions } from './declared.ts';
import { loadRecipesAndLists } from './recipes-and-lists.ts';
import { askedPrices } from './asked.ts';
import { plannedChanges } from './planned.ts';
import { demoProofs } from './proofs.ts';
import { demoChanges, demoQuotes } from './quotes.ts';
import { receiveWaitingSheet, turnedDownSheet } from './arrivals.ts';

/** Loads Brannholm Chandlers with eighteen months behind it, as if it had been kept in here all along. */
export async function loadDemo(
  { db }: { database: Database; db: Db; log: Logger },
  today: string,
): Promise<Record<string, number>> {
  const { person, ...counts } = await db.transaction(async (tx) => {
    await fromTheBeginning(tx);
    const demo = await loadMasterData(tx, today);
    await loadItems(demo);
    await loadDescribed(demo);
    const regions = await loadRegions(demo);
    await loadRecipesAndLists(demo, regions);
    await loadDeclared(demo);
    const postingCount = await loadHistory(demo);
    await turnedDownSheet(demo);
    await receiveWaitingSheet(demo);
    await demoConnections(demo);
    return { items: demo.item.size, postings: postingCount, person: demo.person };
  });
  await changedBreak(db, today, person);
  await plannedChanges(db, today, person);
  await askedPrices(db, today, person);
  const quotes = await db.transaction(async (tx) => {
    await fromTheBeginning(tx);
    const made = await demoQuotes(tx, today, person);
    await demoProofs(tx, today);
    return made;
  });
  const bills = await demoBills(db, today, person);
  return { ...counts, quotes, bills, 'accepted quotes': await demoChanges(db, today, person) };
}

async function loadMasterData(tx: Tx, today: string): Promise<Demo> {
  await tx
    .insert(workspaceSettings)
    .values({ name: COMPANY, currency: 'EUR', timeZone: 'Europe/Berlin', supplierChoice: 'preferred' });
  const passwordHash = await hashPassword(DEMO_PASSWORD);
  const madePeople = await tx
    .insert(people)
    .values(PEOPLE.map((p) => ({ ...p, passwordHash })))
    .returning();
  const madeSuppliers = await tx
    .insert(suppliers)
    .values(
      SUPPLIERS.map((s) => ({
        name: s.name,
        currency: s.currency,
        freightPer: s.freight?.per ?? null,
        freightAmount: s.freight?.amount ?? null,
        freightCurrency: s.freight ? 'EUR' : null,
        dutyPercent: s.duty ?? null,
        handlingAmount: s.handling ?? null,
        handlingCurrency: s.handling ? 'EUR' : null,
        overheadPercent: s.overhead ?? null,
      })),
    )
    .returning();
  const category: Record<string, number> = {};
  for (const [key, name, parent] of CATEGORIES) {
    const [row] = await tx
      .insert(categories)
      .values({ name, parent: parent === null ? null : category[parent]! })
      .returning();
    category[key] = row!.id;
  }
  const start = daysBefore(today, 580);
  await tx.insert(taxRates).values([
    { taxClass: 'standard', percent: '20', from: start },
    { taxClass: 'reduced', percent: '10', from: start },
  ]);
  const dice = new Dice(7);
  const rates: (typeof exchangeRates.$inferInsert)[] = [];
  for (let back = 574; back >= 0; back -= 14) {
    const drift = (base: number, spread: number, places: number) =>
      (base + (dice.next() - 0.5) * spread).toFixed(places);
    const day = daysBefore(today, back);
    rates.push(
      { from: 'GBP', to: 'EUR', day, rate: drift(1.164, 0.01, 4) },
      { from: 'EUR', to: 'SEK', day, rate: drift(11.205, 0.12, 4) },
      { from: 'EUR', to: 'NOK', day, rate: drift(11.62, 0.14, 4) },
      { from: 'EUR', to: 'USD', day, rate: drift(1.083, 0.02, 4) },
    );
  }
  await tx.insert(exchangeRates).values(rates);
  const madeGroups = await tx
    .insert(customerGroups)
    .values(GROUPS.map(({ name, rank }) => ({ name, rank })))
    .returning();
  const group = Object.fromEntries(GROUPS.map((g, i) => [g.key, madeGroups[i]!.id]));
  await tx
    .insert(customers)
    .values(CUSTOMERS.map(([name, g, country]) => ({ name, groupId: group[g]!, more: country ? { country } : {} })));
  return {
    tx,
    today,
    category,
    group,
    item: new Map(),
    list: {},
    person: Object.fromEntries(madePeople.map((p) => [p.signIn, p.id])),
    supplier: Object.fromEntries(SUPPLIERS.map((s, i) => [s.key, madeSuppliers[i]!.id])),
  };
}

async function loadItems(demo: Demo): Promise<void> {
  const all = demoItems();
  const made = await demo.tx
    .insert(items)
    .values(
      all.map((i) => ({
        sku: i.sku,
        name: i.name,
        unit: i.unit,
        categoryId: demo.category[i.category]!,
        brand: i.brand,
        model: i.model,
        supplierId: demo.supplier[i.supplier]!,
        supplierCode: i.code,
        weightKg: i.weightKg,
        taxClass: i.taxClass,
        rrpAmount: i.rrp ?? null,
        rrpCurrency: i.rrp ? 'EUR' : null,
        mapAmount: i.map ?? null,
        mapCurrency: i.map ? 'EUR' : null,
        attributes: i.attributes,
        orderLeast: i.least ?? null,
        orderStep: i.step ?? null,
      })),
    )
    .returning({ id: items.id, sku: items.sku });
  const ids = new Map(made.map((m) => [m.sku, m.id]));
  await demo.tx.insert(packs).values(
    all.flatMap((i) =>
      i.packs.map((p, n) => ({
        itemId: ids.get(i.sku)!,
        // within the house: beginning with 2
        barcode: inHouseCode(ids.get(i.sku)! * 10 + n),
        name: p.name,
        units: p.units,
        depositAmount: p.deposit ?? null,
        depositCurrency: p.deposit ? 'EUR' : null,
      })),
    ),
  );
  for (const i of all)
    demo.item.set(i.sku, {
      id: ids.get(i.sku)!,
      cost: dec(i.cost.toFixed(2)),
      supplier: i.supplier,
      packUnits: i.packUnits,
    });
}

/** A barcode of 13 digits for use within the house, with its check digit. */
function inHouseCode(number: number): string {
  const digits = `2${String(number).padStart(11, '0')}`;
  const sum = [...digits].reduce((all, d, i) => all + Number(d) * (i % 2 === 0 ? 1 : 3), 0);
  return `${digits}${(10 - (sum % 10)) % 10}`;
}
