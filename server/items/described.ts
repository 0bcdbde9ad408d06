import { type SQL, eq, sql } from 'drizzle-orm';
import type { PgTable } from 'drizzle-orm/pg-core';
import type { FieldFault } from '#contract/fields.ts';
import { type DescriptionFault, descriptionFaults } from '#core/items/described.ts';
import type { Item } from '#core/items/item.ts';
import { priceLists } from '../lists/tables.ts';
import type { Queries, Tx } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { breakTables, floors } from '../quotes/tables.ts';
import { recipes, upliftRows } from '../recipes/tables.ts';
import { readDeclared } from '../records/load.ts';
import { records } from '../records/tables.ts';
import { taxRates } from '../setup/tables.ts';
import { items, packs } from './tables.ts';

const WHY: Readonly<Record<DescriptionFault['why'], (f: DescriptionFault) => string>> = {
  name_not_declared: (f) => `“${f.value}” is declared under Setup, Attributes, before items have it`,
  value_not_declared: (f) => `“${f.value}” is not declared`,
  not_a_number: (f) => `“${f.value}” must be a number, without its unit`,
};

/** What is wrong, and what is perhaps meant. */
export const wordsOf = (f: DescriptionFault): string =>
  `${WHY[f.why](f)}${f.near === null ? '' : `; is “${f.near}” meant?`}`;

const faultOf = (f: DescriptionFault): FieldFault => ({ path: f.at, message: wordsOf(f) });

/** Refuses an item that says what nobody declared. */
export async function refuseUndeclared(
  tx: Queries,
  item: Pick<Item, 'brand' | 'taxClass' | 'attributes'>,
): Promise<void> {
  const faults = descriptionFaults((await readDeclared(tx)).members, item).map(faultOf);
  if (faults.length > 0) throw refused('fields_wrong', {}, { faults });
}

/** Where a text stands inside of what is kept as JSON: under a key, at any depth. */
const under = (column: SQL, path: string, text: string) =>
  sql`jsonb_path_exists(${column}, ${path}::jsonpath, jsonb_build_object('t', ${text}::text))`;
const json = (table: PgTable, column: 'more' | 'body' | 'attributes') => sql`${table}.${sql.identifier(column)}`;
const quoted = (name: string) => JSON.stringify(name);

/** Rules that are tied to a brand, an attribute or one of its values, by their names. */
async function rulesTied(tx: Tx, path: string, text: string, own: SQL): Promise<string[]> {
  const found = await tx.execute<{ name: string }>(sql`
    select 'recipe “' || r.name || '”' as name from ${upliftRows} u join ${recipes} r on r.id = u.recipe_id where ${own}
    union select 'recipe “' || name || '”' from ${recipes} where ${under(json(recipes, 'more'), path, text)}
    union select 'floor “' || name || '”' from ${floors} where ${under(json(floors, 'more'), path, text)}
    union select 'quantity breaks “' || name || '”' from ${breakTables} where ${under(json(breakTables, 'more'), path, text)}
    union select 'list “' || name || '”' from ${priceLists} where ${under(json(priceLists, 'more'), path, text)}
    union select kind || ' “' || coalesce(body->>'name', id::text) || '”' from ${records}
      where kind not in ('attributes', 'proofs') and ${under(json(records, 'body'), path, text)}
    limit 6`);
  return found.rows.map((r) => r.name);
}

const someItems = async (tx: Tx, where: SQL): Promise<string[]> => {
  const found = await tx.select({ sku: items.sku }).from(items).where(where).orderBy(items.id).limit(4);
  return found.map((i) => `item ${i.sku}`);
};

/** Who says a name that is about to go, or to change. */
const USES: Readonly<Record<string, (tx: Tx, name: string) => Promise<string[]>>> = {
  brands: async (tx, name) => [
    ...(await someItems(tx, eq(items.brand, name))),
    ...(await tx.select({ name: floors.name }).from(floors).where(eq(floors.brand, name))).map(
      (f) => `floor “${f.name}”`,
    ),
    ...(await rulesTied(tx, '$.**.brand ? (@ == $t)', name, sql`u.brand = ${name}`)),
  ],
  attributes: async (tx, name) => [
    ...(await someItems(tx, sql`${items.attributes} ? ${name}`)),
    ...(await rulesTied(tx, `$.**.attributes.${quoted(name)}`, name, sql`u.attributes ? ${name}`)),
    ...(await rulesTied(tx, '$.**.fact ? (@ == $t)', `item.attributes.${name}`, sql`false`)),
  ],
  taxClasses: async (tx, name) => [
    ...(await someItems(
      tx,
      sql`${items.taxClass} = ${name} or exists (select from ${packs} p where p.item_id = ${items.id} and ${name} in (p.deposit_tax_class, p.unit_deposit_tax_class))`,
    )),
    ...(await tx.select({ day: taxRates.from }).from(taxRates).where(eq(taxRates.taxClass, name)).limit(3)).map(
      (t) => `tax rate from ${t.day}`,
    ),
    ...(await rulesTied(tx, '$.**.taxClass ? (@ == $t)', name, sql`false`)),
  ],
};

/** Kinds whose records others know by name: each name once. */
export const KNOWN_BY_NAME: readonly string[] = Object.keys(USES);

/** Refuses that a name others say goes or changes, and names them. Kinds that are not known by name may. */
export async function refuseWhileSaid(tx: Tx, kind: string, id: number, next: string | null): Promise<void> {
  const uses = USES[kind];
  if (!uses) return;
  const [row] = await tx.select({ body: records.body }).from(records).where(eq(records.id, id));
  const name = row?.body['name'];
  if (typeof name !== 'string' || name === next) return;
  const by = [...new Set(await uses(tx, name))];
  if (by.length > 0)
    throw refused('in_use', {
      what: `“${name}”`,
      by: `${by.slice(0, 5).join(', ')}${by.length > 5 ? ' and others' : ''}`,
    });
}

/** Writes one value of an attribute, or one brand, in one way; refused while rules are tied to another way of writing it. */
export async function mergeValues(
  tx: Tx,
  { of, from, to }: { readonly of: string; readonly from: readonly string[]; readonly to: string },
): Promise<{ before: { sku: string; value: string }[] }> {
  const { members } = await readDeclared(tx);
  const said = of === 'brand' ? { brand: to } : { attributes: { [of]: to } };
  const [undeclared] = descriptionFaults({ ...members, taxClasses: [] }, { taxClass: '', ...said });
  if (undeclared) throw refused('fields_wrong', {}, { faults: [{ ...faultOf(undeclared), path: 'to' }] });
  const before: { sku: string; value: string }[] = [];
  for (const old of from) {
    const tied =
      of === 'brand'
        ? await rulesTied(tx, '$.**.brand ? (@ == $t)', old, sql`u.brand = ${old}`)
        : await rulesTied(tx, `$.**.attributes.${quoted(of)} ? (@ == $t)`, old, sql`u.attributes->>${of} = ${old}`);
    if (tied.length > 0) throw refused('in_use', { what: `“${old}”`, by: tied.slice(0, 5).join(', ') });
    const next =
      of === 'brand'
        ? sql`brand = ${to}`
        : sql`attributes = jsonb_set(attributes, array[${of}::text], to_jsonb(${to}::text))`;
    const where = of === 'brand' ? sql`brand = ${old}` : sql`attributes->>${of}::text = ${old}`;
    const changed = await tx.execute<{ sku: string }>(
      sql`update ${items} set ${next}, version = version + 1 where ${where} returning sku`,
    );
    before.push(...changed.rows.map((r) => ({ sku: r.sku, value: old })));
  }
  return { before };
}
