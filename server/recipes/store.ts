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
  ...RECIPE_FIELDS,
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

/** A recipe as it is edited: the same facts in the flat form of the contract. */
export function toBody(r: RecipeTerms): RecipeBody {
  return {
    name: r.name,
    basis: r.basis.kind,
    basisList: r.basis.list ?? null,
    ladder: r.ladder,
    costSide: r.basis.cost ?? 'paid',
    quietFalls: r.quietFalls ?? false,
    addOns: r.addOns ?? [],
    ladders: r.ladders ?? [],
    uplift: r.uplift.map((u) => ({
      item: u.scope.item ?? null,
      model: u.scope.model ?? null,
      attributes: u.scope.attributes ?? null,
      brand: u.scope.brand ?? null,
      supplier: u.scope.supplier ?? null,
      category: u.scope.category ?? null,
      pack: u.scope.pack ?? null,
      lockstep: u.scope.lockstep ?? null,
      channel: u.scope.channel ?? null,
      bandFrom: u.scope.band?.from ?? null,
      bandTo: u.scope.band?.to ?? null,
      method: u.method,
      value: u.value,
      currency: u.currency ?? null,
    })),
    guards: r.guards.map((g) => ({
      kind: g.kind,
      percent: g.percent ?? null,
      amount: g.amount?.amount ?? null,
      currency: g.amount?.currency ?? null,
    })),
  };
}

export async function writeRecipe(tx: Tx, id: number | null, body: RecipeBody, version: number): Promise<number> {
  const more = pruned(RECIPE_FIELDS, {
    costSide: body.costSide ?? 'paid',
    quietFalls: body.quietFalls ?? false,
    addOns: body.addOns ?? [],
    ladders: body.ladders ?? [],
  }) as RecipeMore;
  const head = {
    name: body.name,
    basisKind: body.basis,
    basisListId: body.basis === 'list' ? number(body.basisList) : null,
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
    body.uplift.map((u, position) => ({
      recipeId,
      position,
      itemId: number(u.item),
      model: u.model,
      attributes: u.attributes,
      brand: u.brand,
      supplierId: number(u.supplier),
      categoryId: number(u.category),
      packName: u.pack,
      lockstepId: number(u.lockstep),
      channel: u.channel ?? null,
      bandFrom: u.bandFrom,
      bandTo: u.bandTo,
      method: u.method,
      value: u.value,
      currency: u.currency,
    })),
  );
  const ties = body.uplift.filter((u) => u.lockstep).map((u) => ({ scope: { lockstep: u.lockstep } }));
  await keepLinks(tx, { kind: 'recipes', id: recipeId }, LINKED, { ...more, uplift: ties });
  if (body.guards.length > 0) {
    await tx.insert(recipeGuards).values(
      body.guards.map((g, position) => ({
        recipeId,
        position,
        kind: g.kind,
        percent: g.percent,
        amount: g.amount,
        currency: g.currency,
      })),
    );
  }
  return recipeId;
}
