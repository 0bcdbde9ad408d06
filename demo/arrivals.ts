import { eq, inArray, sql } from 'drizzle-orm';
import type { CostChange } from '#contract/costs.ts';
import { type Dec, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import { examine, learntOf, outcomeOf } from '#server/costs/arrivals.ts';
import { matchAsBefore } from '#server/costs/propose-match.ts';
import { costSheets } from '#server/costs/tables.ts';
import { items } from '#server/items/tables.ts';
import { audit } from '#server/ledger/audit.ts';
import { SUPPLIERS } from './brannholm.ts';
import { atNoon, daysBefore } from './days.ts';
import type { Demo } from './demo.ts';
import { HEADER, waitingSheet } from './waiting-sheet.ts';

interface Moved {
  readonly id: number;
  readonly cost: Dec;
  readonly packUnits: string;
}

async function codesOf(demo: Demo, ids: readonly number[]) {
  const rows = await demo.tx
    .select({ id: items.id, sku: items.sku, code: items.supplierCode, name: items.name })
    .from(items)
    .where(inArray(items.id, [...ids]));
  return new Map(rows.map((r) => [r.id, r]));
}

/** A sheet that was taken in on the day it arrived, with what it changed then. */
export async function settledSheet(
  demo: Demo,
  supplier: string,
  day: string,
  moved: readonly Moved[],
  before: readonly Dec[],
): Promise<number> {
  const { currency } = SUPPLIERS.find((s) => s.key === supplier)!;
  const known = await codesOf(
    demo,
    moved.map((i) => i.id),
  );
  const changes = moved.map(({ id, cost, packUnits }, n): CostChange => {
    const { sku, code, name } = known.get(id)!;
    const old = before[n]!;
    const percent = roundHalfUp(cost.minus(old).div(old).times(100), 2);
    return {
      row: n + 2,
      code: code ?? sku,
      item: String(id),
      sku,
      name,
      kind: cost.eq(old) ? 'unchanged' : cost.gt(old) ? 'up' : 'down',
      before: { amount: old.toFixed(2), reduced: null, currency, packUnits, from: daysBefore(day, 60) },
      after: { amount: cost.toFixed(2), reduced: null, currency, packUnits, from: day },
      changePercent: plain(percent),
      flags: [],
      taken: !cost.eq(old),
    };
  });
  const lines = changes.map((c) =>
    [c.code, `"${c.name.replaceAll('"', '""')}"`, c.after.amount, c.after.packUnits, currency, day].join(','),
  );
  const content = Buffer.from(`${[HEADER, ...lines].join('\r\n')}\r\n`);
  const outcome = outcomeOf({
    table: { header: [], rows: changes.map((c) => ({ row: c.row, cells: [] })) },
    read: { rows: [], faults: [], leftOut: [] },
    changes,
    gone: { count: 0, items: [] },
  });
  const [sheet] = await demo.tx
    .insert(costSheets)
    .values({
      supplierId: demo.supplier[supplier]!,
      fileName: `${supplier}-${day.slice(0, 7)}.csv`,
      content,
      ...matchAsBefore({ content, pages: null }, day, null),
      arrivedAt: atNoon(day),
      broughtBy: demo.person['marit']!,
      state: 'taken_in',
      takenInAt: atNoon(day),
      outcome,
      counts: outcome.counts,
    })
    .returning({ id: costSheets.id });
  return sheet!.id;
}

/** One that was turned down: the paint maker sent the costs of the year before. */
export async function turnedDownSheet(demo: Demo): Promise<void> {
  const day = daysBefore(demo.today, 12);
  const its = [...demo.item.values()].filter((i) => i.supplier === 'norrvaag').slice(0, 30);
  const rows = await codesOf(
    demo,
    its.map((i) => i.id),
  );
  const old = daysBefore(demo.today, 377);
  const lines = its.map((i) => {
    const { sku, code, name } = rows.get(i.id)!;
    const cost = roundHalfUp(i.cost.times('0.93'), 2).toFixed(2);
    return [code ?? sku, `"${name.replaceAll('"', '""')}"`, cost, i.packUnits, 'NOK', old].join(',');
  });
  const content = Buffer.from(`${[HEADER, ...lines].join('\r\n')}\r\n`);
  await received(demo, 'norrvaag', 'norrvaag-prices.csv', content, day, 'the costs of the year before');
}

/** One that waits, with the surprises that real ones have. */
export async function receiveWaitingSheet(demo: Demo): Promise<void> {
  const rows = await demo.tx
    .select({ sku: items.sku, code: items.supplierCode, name: items.name })
    .from(items)
    .where(eq(items.supplierId, demo.supplier['kelwick']!))
    .orderBy(sql`${items.id}`);
  const its = rows.map((r) => ({ ...r, code: r.code!, ...demo.item.get(r.sku)! }));
  const content = Buffer.from(waitingSheet(its, daysBefore(demo.today, -6)), 'utf8');
  await received(demo, 'kelwick', 'kelwick-trade-prices.csv', content, daysBefore(demo.today, 1), null);
}

async function received(
  { tx, supplier, person, today }: Demo,
  from: string,
  fileName: string,
  content: Buffer,
  day: string,
  turnedDown: string | null,
): Promise<void> {
  const supplierId = supplier[from]!;
  const [sheet] = await tx
    .insert(costSheets)
    .values({
      supplierId,
      fileName,
      content,
      ...matchAsBefore({ content, pages: null }, day, await learntOf(tx, supplierId, 'file')),
      arrivedAt: atNoon(day),
      broughtBy: person['marit']!,
      ...(turnedDown === null ? {} : { state: 'set_aside' as const, reason: turnedDown }),
    })
    .returning();
  const { counts } = outcomeOf(await examine(tx, sheet!, today));
  await tx.update(costSheets).set({ counts }).where(eq(costSheets.id, sheet!.id));
  for (const [action, after] of [
    ['brought in', { fileName }],
    ...(turnedDown === null ? [] : [['turned down', { fileName, reason: turnedDown }] as const]),
  ] as const)
    await audit(tx, {
      at: atNoon(day),
      personId: person['marit']!,
      action,
      subject: 'cost-sheets',
      subjectId: String(sheet!.id),
      after,
    });
}
