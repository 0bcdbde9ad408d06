import { asc, eq } from 'drizzle-orm';
import { type ListBody, PLAIN } from '#contract/records/plain.ts';
import { wrongField } from '../platform/refused.ts';
import { declaredAs } from '../setup/flat-register.ts';
import type { Register } from '../setup/register.ts';
import { priceListGroups, priceLists } from './tables.ts';

export const listRegister: Register<ListBody> = {
  ...declaredAs(PLAIN.lists),
  read: async (db, only) => {
    const rows = await db
      .select()
      .from(priceLists)
      .where(only === undefined ? undefined : eq(priceLists.id, only))
      .orderBy(asc(priceLists.rank), asc(priceLists.id));
    const groups = await db.select().from(priceListGroups);
    return rows.map(({ recipeId, id, more: _more, ...l }) => ({
      ...l,
      id: String(id),
      recipe: recipeId === null ? null : String(recipeId),
      groups: groups.filter((g) => g.listId === id).map((g) => String(g.groupId)),
    }));
  },
  check: (_, body, id) => {
    if (id === null && body.active)
      throw wrongField('active', 'a new list begins inactive: activate it once it holds what it should');
    if (body.validFrom && body.validTo && body.validTo < body.validFrom)
      throw wrongField('validTo', 'the last day lies before the first');
    return Promise.resolve();
  },
  write: async (tx, id, { recipe, groups, ...body }, version) => {
    const head = { ...body, version, recipeId: recipe === null ? null : Number(recipe) };
    const [row] =
      id === null
        ? await tx.insert(priceLists).values(head).returning({ id: priceLists.id })
        : await tx.update(priceLists).set(head).where(eq(priceLists.id, id)).returning({ id: priceLists.id });
    const listId = row!.id;
    await tx.delete(priceListGroups).where(eq(priceListGroups.listId, listId));
    if (groups.length > 0) await tx.insert(priceListGroups).values(groups.map((g) => ({ listId, groupId: Number(g) })));
    return listId;
  },
};
