import { asc, eq } from 'drizzle-orm';
import type { Item, Recommended, Workspace } from '#core/workspace/index.ts';
import { emptyWorkspace } from '#core/workspace/sample.ts';
import { priceListGroups, priceLists } from '../lists/tables.ts';
import type { Queries } from '../platform/database.ts';
import { breakRows, breakTables, floors } from '../quotes/tables.ts';
import { readRecipes } from '../recipes/store.ts';
import { readDeclared } from '../records/load.ts';
import { readLadders } from '../rounding/store.ts';
import { type CatalogueRows, selectCatalogue } from './catalogue-rows.ts';
import { readPosted } from './posted-rows.ts';
import { readSettings } from '../setup/settings.ts';
import { categories, customerGroups, customers, exchangeRates, suppliers, taxRates } from '../setup/tables.ts';

const id = (n: number): string => String(n);
const idOrNull = (n: number | null): string | null => (n === null ? null : String(n));

function amountOf(amount: string | null, currency: string | null): { amount: string; currency: string } | null {
  return amount !== null && currency !== null ? { amount, currency } : null;
}

function recommended(amount: string | null, currency: string | null, taxIn: boolean): Recommended | null {
  const a = amountOf(amount, currency);
  return a && { ...a, taxIn };
}

/** Reads everything that prices of one day are made of. Money is selected as text, never through nested rows. */
export async function loadWorkspace(db: Queries, day: string): Promise<Workspace> {
  return { ...(await loadRules(db, await selectCatalogue(db, day))), posted: await readPosted(db, day) };
}

/** Items and costs, as the core has them. */
export function catalogueOf(catalogue: CatalogueRows): Pick<Workspace, 'items' | 'costs'> {
  const packsOf = groupBy(catalogue.packs, (p) => p.itemId);
  return {
    items: catalogue.items.map((i): Item => ({
      id: id(i.id),
      sku: i.sku,
      name: i.name,
      unit: i.unit,
      category: id(i.categoryId),
      brand: i.brand,
      model: i.model,
      supplier: idOrNull(i.supplierId),
      weightKg: i.weightKg,
      taxClass: i.taxClass,
      rrp: recommended(i.rrpAmount, i.rrpCurrency, i.rrpTaxIn),
      map: recommended(i.mapAmount, i.mapCurrency, i.mapTaxIn),
      attributes: i.attributes,
      order: { least: i.orderLeast, most: i.orderMost, step: i.orderStep, for: i.orderFor },
      packs: (packsOf.get(i.id) ?? []).map((p) => ({
        id: id(p.id),
        name: p.name,
        units: p.units,
        deposit: amountOf(p.depositAmount, p.depositCurrency),
        depositTaxClass: p.depositTaxClass,
        unitDeposit: amountOf(p.unitDepositAmount, p.unitDepositCurrency),
        unitDepositTaxClass: p.unitDepositTaxClass,
      })),
    })),
    costs: catalogue.costs.map((c) => ({
      id: id(c.id),
      item: id(c.itemId),
      supplier: id(c.supplierId),
      cost: { amount: c.amount, currency: c.currency },
      reduced: amountOf(c.reducedAmount, c.reducedCurrency ?? c.currency),
      quantityPrices: c.quantityPrices,
      packUnits: c.packUnits,
      fee: c.feeAmount !== null && c.feeOf !== null ? { amount: c.feeAmount, of: c.feeOf } : null,
      from: c.validFrom,
      to: c.validTo,
      origin: c.origin,
      released: c.released,
      entry: c.id,
    })),
  };
}

/** Everything but posted prices: of a large catalogue those are millions, and are read into columns. */
export async function loadRules(db: Queries, catalogue: CatalogueRows): Promise<Workspace> {
  return { ...(await readRules(db)), ...catalogueOf(catalogue) };
}

/** What neither grows with the catalogue nor hangs on a day: everything but items, costs and posted prices. */
export async function readRules(db: Queries): Promise<Workspace> {
  const settings = await readSettings(db);
  const supplierRows = await db.select().from(suppliers).orderBy(asc(suppliers.id));
  const listRows = await db.select().from(priceLists).orderBy(asc(priceLists.rank), asc(priceLists.id));
  const listGroups = await db.select().from(priceListGroups);
  const breakRowRows = await db.select().from(breakRows);
  const { members, entries } = await readDeclared(db);
  return {
    ...emptyWorkspace(),
    currency: settings.currency,
    supplierChoice: settings.supplierChoice,
    listChoice: (settings.more['listChoice'] as Workspace['listChoice'] | undefined) ?? 'first',
    suppliers: supplierRows.map((s) => ({
      id: id(s.id),
      version: s.version,
      name: s.name,
      currency: s.currency,
      landed: {
        freight:
          s.freightPer && s.freightAmount
            ? {
                per: s.freightPer,
                amount: { amount: s.freightAmount, currency: s.freightCurrency ?? settings.currency },
              }
            : null,
        dutyPercent: s.dutyPercent,
        handling: amountOf(s.handlingAmount, s.handlingCurrency ?? settings.currency),
        overheadPercent: s.overheadPercent,
        ...s.more,
      },
    })),
    rates: (await db.select().from(exchangeRates)).map((r) => ({
      from: r.fromCurrency,
      to: r.toCurrency,
      day: r.day,
      rate: r.rate,
    })),
    categories: (await db.select().from(categories)).map((c) => ({
      id: id(c.id),
      name: c.name,
      parent: idOrNull(c.parentId),
    })),
    ...members,
    taxes: (await db.select().from(taxRates)).map((t) => ({
      taxClass: t.taxClass,
      percent: t.percent,
      from: t.validFrom,
      ...t.more,
    })),
    ladders: await readLadders(db),
    recipes: await readRecipes(db),
    lists: listRows.map((l) => ({
      id: id(l.id),
      version: l.version,
      name: l.name,
      currency: l.currency,
      taxIn: l.taxIn,
      decimals: l.decimals,
      advertised: l.advertised,
      active: l.active,
      from: l.validFrom,
      to: l.validTo,
      rank: l.rank,
      recipe: idOrNull(l.recipeId),
      groups: listGroups.filter((g) => g.listId === l.id).map((g) => id(g.groupId)),
      entries: entries.get(id(l.id)) ?? [],
      ...l.more,
    })),
    groups: (await db.select().from(customerGroups)).map((g) => ({
      id: id(g.id),
      version: g.version,
      name: g.name,
      rank: g.rank,
    })),
    customers: (await db.select().from(customers).where(eq(customers.active, true))).map((c) => ({
      id: id(c.id),
      name: c.name,
      ...customerTerms(c.more, idOrNull(c.groupId)),
    })),
    breaks: (await db.select().from(breakTables)).map((t) => ({
      id: id(t.id),
      version: t.version,
      name: t.name,
      list: id(t.listId),
      item: idOrNull(t.itemId),
      category: idOrNull(t.categoryId),
      way: t.way,
      count: t.count,
      rows: breakRowRows
        .filter((r) => r.tableId === t.id)
        .map((r) => ({ from: r.fromQuantity, kind: r.kind, value: r.value })),
      ...t.more,
    })),
    floors: (await db.select().from(floors)).map((f) => ({
      id: id(f.id),
      version: f.version,
      name: f.name,
      kind: f.kind,
      value: f.value,
      currency: f.currency,
      item: idOrNull(f.itemId),
      category: idOrNull(f.categoryId),
      brand: f.brand,
      group: idOrNull(f.groupId),
      outcome: f.outcome,
      active: f.active,
      ...f.more,
    })),
  };
}

/** The first group stands in a column of its own. */
function customerTerms({ otherGroups, ...more }: Record<string, unknown>, group: string | null) {
  const others = (otherGroups as string[] | undefined) ?? [];
  return { ...more, groups: [...new Set([...(group === null ? [] : [group]), ...others])] };
}

function groupBy<T>(rows: readonly T[], key: (row: T) => number): Map<number, T[]> {
  const out = new Map<number, T[]>();
  for (const row of rows) {
    const bucket = out.get(key(row));
    if (bucket) bucket.push(row);
    else out.set(key(row), [row]);
  }
  return out;
}
