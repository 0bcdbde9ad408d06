import { asc, eq } from 'drizzle-orm';
import type { RecipeBody } from '#contract/recipes.ts';
import type { RecipeTerms, UpliftRow } from '#core/recipes/recipe.ts';
import type { Queries, Tx } from '../platform/database.ts';
import type { Fields } from '#contract/records/declare.ts';
import { RECIPE_FIELDS } from '#contract/records/recipe-fields.ts';
import { pruned } from '#contract/records/schema.ts';
import { keepLinks } from '../records/links.ts';
import { type RecipeMore, recipeGuards, recipes, upliftRows } from './tables.ts';

/** What a recipe points to besides the columns that hold it themselves. */
const LINKED: Fields = {
  addOns: RECIPE_FIELDS.addOns,
  ladders: RECIPE_FIELDS.ladders,
  uplift: { type: 'rows', one: 'row', title: 'uplift', fields: { scope: { type: 'scope', title: 'ties' } } },
};

const text = (n: number | null): string | null => (n === null ? null : String(n));
const number = (t: string | null | undefined): number | null => (t === null || t === undefined ? null : Number(t));

function upliftRow(r: typeof upliftRows.$inferSelect): UpliftRow {
  return {
    id: String(r.position + 1),
    scope: {
      item: text(r.itemId),
      model: r.model,
      attributes: r.attributes,
      brand: r.brand,
      supplier: text(r.supplierId),
      category: text(r.categoryId),
      pack: r.packName,
      lockstep: text(r.lockstepId),
      channel: r.channel,
      band: r.bandFrom === null && r.bandTo === null ? null : { from: r.bandFrom ?? '0', to: r.bandTo },
    },
    method: r.method,
    value: r.value,
    currency: r.currency,
  };
}

export async function readRecipes(db: Queries, only?: number): Promise<RecipeTerms[]> {
  const heads = await db
    .select()
    .from(recipes)
    .where(only === undefined ? undefined : eq(recipes.id, only))
    .orderBy(asc(recipes.id));
  const rows = await db.select().from(upliftRows).orderBy(asc(upliftRows.recipeId), asc(upliftRows.position));
  const guards = await db.select().from(recipeGuards).orderBy(asc(recipeGuards.recipeId), asc(recipeGuards.position));
  return heads.map((h) => ({
    id: String(h.id),
    version: h.version,
    name: h.name,
    basis: { kind: h.basisKind, list: text(h.basisListId), cost: h.more.costSide ?? 'paid' },
    ladder: text(h.ladderId),
    quietFalls: h.more.quietFalls ?? false,
    addOns: h.more.addOns ?? [],
    ladders: h.more.ladders ?? [],
    uplift: rows.filter((r) => r.recipeId === h.id).map(upliftRow),
    guards: guards
      .filter((g) => g.recipeId === h.id)
      .map((g) => ({
        kind: g.kind,
        percent: g.percent,
        amount: g.amount !== null && g.currency !== null ? { amount: g.amount, currency: g.currency } : null,
      })),
  }));
}

export async function writeRecipe(tx: Tx, id: number | null, body: RecipeBody, version: number): Promise<number> {
  const { kind, list, cost } = body.basis;
  const more: RecipeMore = {
    costSide: cost ?? 'paid',
    quietFalls: body.quietFalls ?? false,
    ...(pruned(RECIPE_FIELDS, { addOns: body.addOns ?? [], ladders: body.ladders ?? [] }) as RecipeMore),
  };
  const head = {
    name: body.name,
    basisKind: kind,
    basisListId: kind === 'list' ? number(list) : null,
    ladderId: number(body.ladder),
    more,
    version,
  };
  const [row] =
    id === null
      ? await tx.insert(recipes).values(head).returning({ id: recipes.id })
      : await tx.update(recipes).set(head).where(eq(recipes.id, id)).returning({ id: recipes.id });
  const recipeId = row!.id;
  await tx.delete(upliftRows).where(eq(upliftRows.recipeId, recipeId));
  await tx.delete(recipeGuards).where(eq(recipeGuards.recipeId, recipeId));
  await tx.insert(upliftRows).values(
    body.uplift.map(({ scope, method, value, currency }, position) => ({
      recipeId,
      position,
      itemId: number(scope.item),
      model: scope.model ?? null,
      attributes: scope.attributes ?? null,
      brand: scope.brand ?? null,
      supplierId: number(scope.supplier),
      categoryId: number(scope.category),
      packName: scope.pack ?? null,
      lockstepId: number(scope.lockstep),
      channel: scope.channel ?? null,
      bandFrom: scope.band?.from ?? null,
      bandTo: scope.band?.to ?? null,
      method,
      value,
      currency: currency ?? null,
    })),
  );
  const ties = body.uplift.flatMap(({ scope: { lockstep } }) => (lockstep ? [{ scope: { lockstep } }] : []));
  await keepLinks(tx, { kind: 'recipes', id: recipeId }, LINKED, { ...more, uplift: ties });
  if (body.guards.length > 0) {
    await tx.insert(recipeGuards).values(
      body.guards.map((g, position) => ({
        recipeId,
        position,
        kind: g.kind,
        percent: g.percent ?? null,
        amount: g.amount?.amount ?? null,
        currency: g.amount?.currency ?? null,
      })),
    );
  }
  return recipeId;
}
