import { asc, eq } from 'drizzle-orm';
import type { Workspace } from '#core/workspace/workspace.ts';
import { emptyWorkspace } from '#core/workspace/sample.ts';
import { priceListGroups, priceLists } from '../lists/tables.ts';
import type { Queries } from '../platform/database.ts';
import { breakRows, breakTables, floors } from '../quotes/tables.ts';
import { readRecipes } from '../recipes/store.ts';
import { readDeclared } from '../records/load.ts';
import { readLadders } from '../rounding/store.ts';
import { readSettings } from '../setup/settings.ts';
import { categories, customerGroups, customers, exchangeRates, suppliers, taxRates } from '../setup/tables.ts';
import { amountOf, id, idOrNull } from './core-values.ts';

/** Lists in the order in which they are read: by rank, among equal ones by number. */
export const byRank = (lists: Workspace['lists']): Workspace['lists'] =>
  [...lists].sort((a, b) => a.rank - b.rank || Number(a.id) - Number(b.id));

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
    rates: (await db.select().from(exchangeRates).orderBy(asc(exchangeRates.id))).map((r) => ({
      from: r.fromCurrency,
      to: r.toCurrency,
      day: r.day,
      rate: r.rate,
    })),
    categories: (await db.select().from(categories).orderBy(asc(categories.id))).map((c) => ({
      id: id(c.id),
      name: c.name,
      parent: idOrNull(c.parentId),
    })),
    ...members,
    taxes: (await db.select().from(taxRates).orderBy(asc(taxRates.id))).map((t) => ({
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
    groups: (await db.select().from(customerGroups).orderBy(asc(customerGroups.id))).map((g) => ({
      id: id(g.id),
      version: g.version,
      name: g.name,
      rank: g.rank,
    })),
    customers: (await db.select().from(customers).where(eq(customers.active, true)).orderBy(asc(customers.id))).map(
      (c) => ({
        id: id(c.id),
        name: c.name,
        ...customerTerms(c.more, idOrNull(c.groupId)),
      }),
    ),
    breaks: (await db.select().from(breakTables).orderBy(asc(breakTables.id))).map((t) => ({
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
    floors: (await db.select().from(floors).orderBy(asc(floors.id))).map((f) => ({
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
