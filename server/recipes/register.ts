import { inArray } from 'drizzle-orm';
import { type RecipeBody, recipeBody, recipeTerms } from '#contract/recipes.ts';
import { describeRow, describeUplift, tiesBetweenRows } from '#core/recipes/uplift.ts';
import { dec } from '#core/numbers/decimal.ts';
import type { UpliftRow } from '#core/recipes/recipe.ts';
import type { Item } from '#core/items/item.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { items } from '../items/tables.ts';
import { holdState } from '../ledger/audit.ts';
import { putMember, refuseFaults } from '../records/check.ts';
import type { Tx } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import type { Register } from '../setup/register.ts';
import { rulesBefore } from '../workspace/rules-before.ts';
import { readRecipes, writeRecipe } from './store.ts';

/** The items that rows are tied to, by what they are called: nothing else is asked of them. */
async function named(tx: Tx, rows: readonly UpliftRow[]): Promise<Item[]> {
  const ids = [...new Set(rows.flatMap((r) => r.scope.item ?? []))].map(Number);
  if (ids.length === 0) return [];
  const found = await tx.select({ id: items.id, sku: items.sku }).from(items).where(inArray(items.id, ids));
  return found.map((i) => ({ id: String(i.id), sku: i.sku, packs: [] as Item['packs'] }) as unknown as Item);
}

/** Everything about a recipe that no single field shows. */
async function check(tx: Tx, body: RecipeBody): Promise<void> {
  const faults: { path: string; message: string }[] = [];
  const say = (path: string, message: string) => faults.push({ path, message });
  body.uplift.forEach((u, i) => {
    if (u.method === 'margin' && dec(u.value).gte(100)) say(`uplift[${i}].value`, 'a margin must be less than 100 %');
    if (u.method === 'percent_off' && dec(u.value).gt(100))
      say(`uplift[${i}].value`, 'cannot take off more than 100 %');
    if (['multiply', 'fixed', 'add', 'amount_off'].includes(u.method) && dec(u.value).lt(0))
      say(`uplift[${i}].value`, 'must not be negative');
    const { band } = u.scope;
    if (band?.to && dec(band.to).lte(band.from))
      say(`uplift[${i}].scope.band.to`, 'must be above the start of the band');
  });
  body.guards.forEach((g, i) => {
    if (/margin|markup/.test(g.kind) && !g.percent) say(`guards[${i}].percent`, 'needs a percentage');
    if (/margin/.test(g.kind) && g.percent && dec(g.percent).gte(100))
      say(`guards[${i}].percent`, 'a margin must be less than 100 %');
    if (/_price$/.test(g.kind) && !g.amount) say(`guards[${i}].amount`, 'needs an amount and its currency');
  });
  if (faults.length > 0) throw refused('fields_wrong', {}, { faults });
  await holdState(tx);
  const recipe = recipeTerms(
    { ...body, uplift: body.uplift.map((u, i) => ({ ...u, id: String(i + 1) })) },
    { id: 'new', version: 1 },
  );
  await refuseFaults(tx, (ws) => putMember(ws, 'recipes', recipe));
  const rows = recipe.uplift;
  const ws = new Prepared({ ...(await rulesBefore(tx)), items: await named(tx, rows) });
  const tie = tiesBetweenRows(ws, rows)[0];
  if (tie) {
    const words = (id: string) => {
      const row = rows.find((r) => r.id === id)!;
      return `row ${id} (${describeRow(ws, row.scope)}: ${describeUplift(row)})`;
    };
    throw refused('rows_tie', { a: words(tie.a), b: words(tie.b) });
  }
}

export const recipeRegister: Register<RecipeBody> = {
  name: 'recipes',
  title: 'The recipe',
  body: recipeBody,
  readRight: 'see_cost',
  changeRight: 'edit_rules',
  check,
  read: readRecipes,
  write: writeRecipe,
};
