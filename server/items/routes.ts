import { type InferType, ValidationError } from 'yup';
import { and, count, desc, eq, inArray, sql } from 'drizzle-orm';
import { priceText, currencyCode, positiveText } from '#contract/fields.ts';
import { ITEM_WORDS, type ItemConflict, type ItemField, itemChangesBody } from '#contract/items.ts';
import { dec } from '#core/numbers/decimal.ts';
import { audit, holdState } from '../ledger/audit.ts';
import { auditEntries } from '../ledger/tables.ts';
import { people } from '../people/tables.ts';
import type { Context } from '../platform/context.ts';
import { type Tx, inTransaction } from '../platform/database.ts';
import { route } from '../platform/http/route.ts';
import { itemRoutes as declared } from '#contract/api/items.ts';
import { refused } from '../platform/refused.ts';
import { readSettings } from '../setup/settings.ts';
import { categories, taxRates } from '../setup/tables.ts';
import { askedDay, stateAsked, stateOfItems, today } from '../workspace/asked-day.ts';
import { readDeclared } from '../records/load.ts';
import { mergeValues } from './described.ts';
import { recordId } from '../setup/one-record.ts';
import { itemPage, itemRecord } from './item-page.ts';
import { previewLockstep } from './preview-lockstep.ts';
import { foundItems, itemValues, itemWords, namedItems } from './named-items.ts';
import { itemRegister } from './register.ts';
import { itemWindow } from './item-window.ts';
import { items } from './tables.ts';
import { readableSoon } from '../costs/arrivals.ts';
import { tellItemFile } from './item-file.ts';
import { listItemFiles, takeBackItemFile, takeItemFile } from './take-item-file.ts';
import type { CheckedItemFile } from './checked-file.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';
import { registerRoutes } from '../setup/register-routes.ts';

type Changes = InferType<typeof itemChangesBody>['changes'];

/** What fields may name. */
interface Known {
  readonly currency: string;
  readonly categories: ReadonlySet<number>;
  readonly taxClasses: ReadonlySet<string>;
  /** None: every text goes. */
  readonly brands: ReadonlySet<string>;
}

/** "24.00 GBP" or "24.00": without a currency it stays the one it was in. */
function recommendedPrice(text: string | null, currency: string): { amount: string; currency: string } | null {
  if (text === null) return null;
  const [, amount = text, code] = /^(\S+)(?: +([A-Za-z]{3}))?$/.exec(text) ?? [];
  return {
    amount: priceText().required().validateSync(amount),
    currency: currencyCode()
      .required()
      .validateSync(code ?? currency),
  };
}

/** What one field takes; throws a validation error with what is wrong. */
function columnsFor(
  field: ItemField,
  value: string,
  /** Of an amount that names none. */
  currency: string,
  known: Omit<Known, 'currency'>,
): Partial<typeof items.$inferInsert> {
  const text = value.trim();
  const orNull = text === '' ? null : text;
  switch (field) {
    case 'taxClass':
      if (!known.taxClasses.has(text))
        throw new ValidationError(`"${text}" is no tax class: ${[...known.taxClasses].join(', ')}`);
      return { taxClass: text };
    case 'name':
    case 'unit':
      if (!orNull) throw new ValidationError('must not be empty');
      return { [field]: text };
    case 'brand':
      if (orNull && known.brands.size > 0 && !known.brands.has(orNull))
        throw new ValidationError(`"${text}" is no brand that is declared under Setup, Brands`);
      return { brand: orNull };
    case 'model':
    case 'supplierCode':
      return { [field]: orNull };
    case 'weightKg':
      return { weightKg: orNull && positiveText().validateSync(orNull) };
    case 'rrp': {
      const price = recommendedPrice(orNull, currency);
      return { rrpAmount: price?.amount ?? null, rrpCurrency: price?.currency ?? null };
    }
    case 'map': {
      const price = recommendedPrice(orNull, currency);
      return { mapAmount: price?.amount ?? null, mapCurrency: price?.currency ?? null };
    }
    case 'category': {
      if (!known.categories.has(Number(text))) throw new ValidationError('is not a category');
      return { categoryId: Number(text) };
    }
  }
}

const sameText = (a: unknown, b: unknown): boolean =>
  a === b || (typeof a === 'string' && typeof b === 'string' && isNumber(a) && isNumber(b) && dec(a).eq(b));
const isNumber = (text: string) => /^\d+(\.\d+)?$/.test(text);

/** A field as it travels. */
function fieldText(row: typeof items.$inferSelect, field: ItemField): string {
  switch (field) {
    case 'rrp':
      return row.rrpAmount === null ? '' : `${row.rrpAmount} ${row.rrpCurrency}`;
    case 'map':
      return row.mapAmount === null ? '' : `${row.mapAmount} ${row.mapCurrency}`;
    case 'category':
      return String(row.categoryId);
    default:
      return row[field] ?? '';
  }
}

/** Whether a field still holds what the person saw. */
function stillSeen(row: typeof items.$inferSelect, { field, seen }: Changes[number], own: string): boolean {
  const now = fieldText(row, field);
  if (field !== 'rrp' && field !== 'map') return sameText(now, seen.trim());
  const [amount = '', code] = now.split(' ');
  const [sawAmount = '', sawCode = own] = seen.trim().split(/ +/);
  return sameText(amount, sawAmount) && (amount === '' || code === sawCode.toUpperCase());
}

/** Who changed an item last, by what it is called in the record. */
async function lastHands(tx: Tx, ids: readonly number[]): Promise<ReadonlyMap<string, string>> {
  const rows = await tx
    .selectDistinctOn([auditEntries.subjectId], { id: auditEntries.subjectId, by: people.name })
    .from(auditEntries)
    .innerJoin(people, eq(people.id, auditEntries.personId))
    .where(and(eq(auditEntries.subject, 'items'), inArray(auditEntries.subjectId, ids.map(String))))
    .orderBy(auditEntries.subjectId, desc(auditEntries.id));
  return new Map(rows.map((r) => [r.id, r.by]));
}

type Fields = Partial<typeof items.$inferInsert>;

/** Writes changed fields: one statement for all items of which the same fields are changed. */
async function writeFields(tx: Tx, updates: ReadonlyMap<number, Fields>): Promise<void> {
  const alike = new Map<string, { id: number; set: Fields }[]>();
  for (const [id, set] of updates) {
    const key = Object.keys(set).sort().join();
    const known = alike.get(key);
    if (known) known.push({ id, set });
    else alike.set(key, [{ id, set }]);
  }
  for (const some of alike.values()) {
    const fields = Object.keys(some[0]!.set) as (keyof Fields)[];
    const columns = fields.map((f) => ({ of: items[f], name: sql.identifier(inSql(f)) }));
    const sets = columns.map(({ name }) => sql`${name} = v.${name}`);
    const types = columns.map(({ of, name }) => sql`${name} ${sql.raw(of.getSQLType())}`);
    const values = some.map(({ id, set }) => ({
      id,
      ...Object.fromEntries(fields.map((f) => [inSql(f), set[f]])),
    }));
    await tx.execute(sql`
      update items i set ${sql.join(sets, sql`, `)}, version = i.version + 1
      from jsonb_to_recordset(${JSON.stringify(values)}::jsonb) as v(id int, ${sql.join(types, sql`, `)})
      where i.id = v.id`);
  }
}

const inSql = (field: string): string => field.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`);

/** Conflicts named in an answer. */
const NAMED = 200;

/** Changes fields of many items in one transaction: all or nothing, every field against what the person saw in it. */
async function changeItems(context: Context, tx: Tx, person: SignedIn, changes: Changes): Promise<{ items: number }> {
  const ids = [...new Set(changes.map((c) => Number(c.item)))].sort((a, b) => a - b);
  const rows = new Map<number, typeof items.$inferSelect>();
  for (let at = 0; at < ids.length; at += 5000) {
    const found = await tx
      .select()
      .from(items)
      .where(inArray(items.id, ids.slice(at, at + 5000)))
      .orderBy(items.id)
      .for('no key update');
    for (const row of found) rows.set(row.id, row);
  }
  const settings = await readSettings(tx);
  const known: Known = {
    currency: settings.currency,
    categories: new Set((await tx.select({ id: categories.id }).from(categories)).map((c) => c.id)),
    taxClasses: new Set((await tx.select({ name: taxRates.taxClass }).from(taxRates)).map((t) => t.name)),
    brands: new Set((await readDeclared(tx)).members.brands.map((b) => b.name)),
  };
  const faults: { path: string; message: string }[] = [];
  const updates = new Map<number, Partial<typeof items.$inferInsert>>();
  const stale: ItemConflict[] = [];
  changes.forEach((change, n) => {
    const row = rows.get(Number(change.item));
    if (!row) return void faults.push({ path: `changes[${n}]`, message: 'the item does not exist' });
    if (!stillSeen(row, change, known.currency)) {
      const { item, field, value } = change;
      return void stale.push({ item, sku: row.sku, field, now: fieldText(row, field), value, by: null });
    }
    try {
      const currency = change.seen.trim().split(/ +/)[1]?.toUpperCase() ?? known.currency;
      updates.set(row.id, {
        ...updates.get(row.id),
        ...columnsFor(change.field, change.value, currency, known),
      });
    } catch (error) {
      if (!(error instanceof ValidationError)) throw error;
      faults.push({
        path: `${row.sku}, ${change.field}, "${change.value}"`,
        message: error.message.replace(/^this /, ''),
      });
    }
  });
  if (stale.length > 0) {
    const named = stale.slice(0, NAMED);
    const hands = await lastHands(tx, [...new Set(named.map((s) => Number(s.item)))]);
    throw refused(
      'changed_meanwhile',
      {
        what: `Item ${named[0]!.sku}${stale.length > 1 ? ` (and ${stale.length - 1} more)` : ''}`,
        by: hands.get(named[0]!.item) ?? 'someone else',
      },
      { current: named.map((s) => ({ ...s, by: hands.get(s.item) ?? null })) },
    );
  }
  if (faults.length > 0) throw refused('fields_wrong', {}, { faults: faults.slice(0, 50) });
  await writeFields(tx, updates);
  const log = [...updates].map(([id, set]) => {
    const before = rows.get(id)!;
    return {
      item: before.sku,
      before: Object.fromEntries(Object.keys(set).map((k) => [k, before[k as keyof typeof before]])),
      after: set,
    };
  });
  await audit(tx, {
    at: context.now(),
    personId: person.id,
    action: 'changed',
    subject: 'items',
    subjectId: ids.length === 1 ? String(ids[0]) : `${ids.length} items`,
    before: null,
    after: log,
  });
  return { items: updates.size };
}

const fileNameOf = (query: Readonly<Record<string, string>>): string =>
  (query['file'] ?? 'items').replace(/[\u0000-\u001f/\\]/g, ' ').slice(0, 200);

/** A file of items as it came, held against what is kept now: beside the server's own thread. */
async function checked(
  context: Context,
  query: Readonly<Record<string, string>>,
  body: unknown,
): Promise<CheckedItemFile> {
  const content = Buffer.isBuffer(body) ? body : Buffer.alloc(0);
  if (content.length === 0) throw refused('sheet_unreadable', { why: 'it is empty' });
  const decimal = query['decimal'] === 'comma' ? ',' : query['decimal'] === 'point' ? '.' : null;
  return readableSoon(context.costs.items({ content, decimal }));
}

export const itemRoutes = [
  route(declared.found, async ({ context, query }) =>
    foundItems(context.db, query['text'] ?? '', await today(context)),
  ),
  route(declared.named, ({ context, body }) =>
    namedItems(
      context.db,
      body.ids.map((id) => recordId('The item', id)),
    ),
  ),
  route(declared.words, ({ context, query }) => {
    const of = ITEM_WORDS.find((w) => w === query['of']);
    const faults = [{ path: 'of', message: `must be one of ${ITEM_WORDS.join(', ')}` }];
    if (!of) throw refused('fields_wrong', {}, { faults });
    return itemWords(context.db, of);
  }),
  route(declared.values, ({ context, query }) => itemValues(context.db, query['of'] ?? '')),
  route(declared.byCategory, async ({ context }) => {
    const found = await context.db
      .select({ category: items.categoryId, items: count() })
      .from(items)
      .groupBy(items.categoryId);
    return found.map((c) => ({ ...c, category: String(c.category) }));
  }),
  route(declared.all, async ({ context, person, query }) => itemWindow(context, query, person.rights.has('see_cost'))),
  route(declared.change, ({ context, person, body }) =>
    inTransaction(context.db, (tx) => changeItems(context, tx, person, body.changes)),
  ),
  route(declared.file, async ({ context, query, response }) => {
    const text = await context.costs.itemsOut(query['decimal'] === 'comma' ? ',' : '.');
    response.attachment('items.csv').type('text/csv; charset=utf-8').send(text);
    return undefined;
  }),
  route(declared.checkFile, async ({ context, query, body }) =>
    tellItemFile(fileNameOf(query), await checked(context, query, body)),
  ),
  route(declared.takeFile, async ({ context, person, query, body }) => {
    const found = await checked(context, query, body);
    const file = { fileName: fileNameOf(query), content: body, state: query['state'] ?? '' };
    return takeItemFile(context, person, file, found);
  }),
  route(declared.files, ({ context }) => listItemFiles(context.db)),
  route(declared.takeFileBack, ({ context, person, params }) =>
    takeBackItemFile(context, person, recordId('The file', params.id)),
  ),
  route(declared.lockstep, async ({ context, query, body }) => {
    const { ws, day } = await stateAsked(context, query);
    return previewLockstep(ws, body, day);
  }),
  route(declared.merge, ({ context, person, body }) =>
    inTransaction(context.db, async (tx) => {
      await holdState(tx);
      const from = body.from.filter((v) => v !== body.to);
      const { before } = await mergeValues(tx, { ...body, from });
      await audit(tx, {
        at: context.now(),
        personId: person.id,
        action: `wrote ${body.of} in one way`,
        subject: 'items',
        subjectId: `${before.length} items`,
        before,
        after: { [body.of]: body.to },
      });
      return { items: before.length };
    }),
  ),
  route(declared.page, async ({ context, person, params, query }) =>
    itemPage(
      context.db,
      await stateOfItems(context, await askedDay(context, query), [params.id]),
      recordId('The item', params.id),
      person.rights.has('see_cost'),
    ),
  ),
  route(declared.record, async ({ context, params }) => ({
    ...(await itemRecord(context.db, recordId('The item', params.id))),
  })),
  // the list of items is the grid's; making and changing one goes the way of every record
  ...registerRoutes(itemRegister).filter((r) => r.method !== 'get'),
];
