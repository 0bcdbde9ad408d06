import { type InferType, ValidationError } from 'yup';
import { eq, inArray } from 'drizzle-orm';
import { priceText, currencyCode, positiveText } from '#contract/fields.ts';
import { type ItemField, type ItemRow, itemChangesBody } from '#contract/items.ts';
import { landedCost } from '#core/costs/landed-cost.ts';
import { plain } from '#core/numbers/decimal.ts';
import { wording } from '#core/reasons.ts';
import { audit } from '../ledger/audit.ts';
import type { Context } from '../platform/context.ts';
import { type Tx, inTransaction } from '../platform/database.ts';
import { route } from '../platform/http/route.ts';
import type { SignedIn } from '../platform/http/session.ts';
import { refused } from '../platform/refused.ts';
import { readSettings } from '../setup/settings.ts';
import { categories, taxRates } from '../setup/tables.ts';
import { workspaceOn } from '../workspace/load-workspace.ts';
import { askedDay } from '../workspace/asked-day.ts';
import { items } from './tables.ts';

async function readItems(context: Context, person: SignedIn, day: string): Promise<ItemRow[]> {
  const { ws } = await workspaceOn(context.db, day);
  const extra = new Map(
    (await context.db.select({ id: items.id, version: items.version, code: items.supplierCode }).from(items)).map(
      (r) => [String(r.id), r],
    ),
  );
  const showCost = person.rights.has('see_cost');
  return ws.workspace.items.map((i) => {
    const landed = showCost ? landedCost(ws, i, day) : null;
    const own = extra.get(i.id);
    return {
      id: i.id,
      version: own?.version ?? 1,
      sku: i.sku,
      name: i.name,
      category: i.category,
      categoryName: ws.categories.get(i.category)?.name ?? '',
      brand: i.brand ?? null,
      model: i.model ?? null,
      supplier: i.supplier ?? null,
      supplierName: i.supplier ? (ws.suppliers.get(i.supplier)?.name ?? null) : null,
      supplierCode: own?.code ?? null,
      unit: i.unit,
      weightKg: i.weightKg ?? null,
      taxClass: i.taxClass,
      rrp: i.rrp ? `${i.rrp.amount} ${i.rrp.currency}` : null,
      map: i.map ? `${i.map.amount} ${i.map.currency}` : null,
      packs: i.packs.map((p) => ({ id: p.id, name: p.name, units: p.units, deposit: p.deposit?.amount ?? null })),
      attributes: { ...i.attributes },
      landed: landed?.ok ? plain(landed.value.landed) : null,
      costReason: landed && !landed.ok ? wording(landed.reason) : null,
      costFrom: landed?.ok ? landed.value.cost.from : null,
    };
  });
}

type Changes = InferType<typeof itemChangesBody>['changes'];

/** What fields may name. */
interface Known {
  readonly currency: string;
  readonly categories: ReadonlySet<number>;
  readonly taxClasses: ReadonlySet<string>;
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
  now: Pick<typeof items.$inferSelect, 'rrpCurrency' | 'mapCurrency'>,
  known: Known,
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
    case 'model':
    case 'supplierCode':
      return { [field]: orNull };
    case 'weightKg':
      return { weightKg: orNull && positiveText().validateSync(orNull) };
    case 'rrp': {
      const price = recommendedPrice(orNull, now.rrpCurrency ?? known.currency);
      return { rrpAmount: price?.amount ?? null, rrpCurrency: price?.currency ?? null };
    }
    case 'map': {
      const price = recommendedPrice(orNull, now.mapCurrency ?? known.currency);
      return { mapAmount: price?.amount ?? null, mapCurrency: price?.currency ?? null };
    }
    case 'category': {
      if (!known.categories.has(Number(text))) throw new ValidationError('is not a category');
      return { categoryId: Number(text) };
    }
  }
}

/** Changes fields of many items in one transaction: all or nothing, every item against the version the person saw. */
async function changeItems(
  context: Context,
  tx: Tx,
  person: SignedIn,
  changes: Changes,
): Promise<{ versions: Record<string, number> }> {
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
  };
  const faults: { path: string; message: string }[] = [];
  const updates = new Map<number, Partial<typeof items.$inferInsert>>();
  const stale: string[] = [];
  changes.forEach((change, n) => {
    const row = rows.get(Number(change.item));
    if (!row) return void faults.push({ path: `changes[${n}]`, message: 'the item does not exist' });
    if (row.version !== change.version) return void stale.push(row.sku);
    try {
      updates.set(row.id, {
        ...updates.get(row.id),
        ...columnsFor(change.field, change.value, { ...row, ...updates.get(row.id) }, known),
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
    throw refused('changed_meanwhile', {
      what: `Item ${stale[0]}${stale.length > 1 ? ` (and ${stale.length - 1} more)` : ''}`,
      by: 'someone else',
    });
  }
  if (faults.length > 0) throw refused('fields_wrong', {}, { faults: faults.slice(0, 50) });
  const versions: Record<string, number> = {};
  const log: unknown[] = [];
  for (const [id, set] of updates) {
    const before = rows.get(id)!;
    await tx
      .update(items)
      .set({ ...set, version: before.version + 1 })
      .where(eq(items.id, id));
    versions[String(id)] = before.version + 1;
    log.push({
      item: before.sku,
      before: Object.fromEntries(Object.keys(set).map((k) => [k, before[k as keyof typeof before]])),
      after: set,
    });
  }
  await audit(tx, {
    at: context.now(),
    personId: person.id,
    action: 'changed',
    subject: 'items',
    subjectId: ids.length === 1 ? String(ids[0]) : `${ids.length} items`,
    before: null,
    after: log,
  });
  return { versions };
}

export const itemRoutes = [
  route({
    method: 'get',
    path: '/items',
    right: 'read',
    handle: async ({ context, person, query }) => readItems(context, person, await askedDay(context, query)),
  }),
  route<InferType<typeof itemChangesBody>>({
    method: 'post',
    path: '/items/changes',
    right: 'edit_rules',
    body: itemChangesBody,
    mostValues: 1_500_000,
    handle: ({ context, person, body }) =>
      inTransaction(context.db, (tx) => changeItems(context, tx, person, body.changes)),
  }),
];
