import { and, desc, eq, gte, lte, sql } from 'drizzle-orm';
import { type FetchedPair, type FetchedRates, RATE_MOVE_LOOKED_AT } from '#contract/fetched-rates.ts';
import { plusDays } from '#core/numbers/day.ts';
import { dec, divide, percent, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import { SupplierTrouble } from '../connections/supplier-answers.ts';
import type { RateQuote } from '../connections/supplier-client.ts';
import { audit, holdState } from '../ledger/audit.ts';
import type { Context } from '../platform/context.ts';
import { type Queries, type Tx, inTransaction } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { exchangeRates } from '../setup/tables.ts';
import { today } from '../workspace/asked-day.ts';
import { fetchedRates, rateService } from './tables.ts';

/** The queue of the service of rates; it has one job, with this number. */
export const RATES = 'rates';
export const THE_SERVICE = 1;

/** So long a try holds, in milliseconds. */
const EVERY_MS = 6 * 3_600_000;
/** So many days back are asked for the first time, and shown. */
const DAYS_BACK = 548;
const CHUNK = 2_000;

async function serviceOf(db: Queries) {
  const [known] = await db.select().from(rateService);
  return known ?? { id: THE_SERVICE, version: 1, follow: false, lastTry: null, lastAnswer: null, trouble: null };
}

/** Asks the service for the days that are not known yet. What it quotes stands beside what counts; where it is followed, the newest is taken. */
export async function fetchRates(context: Context): Promise<void> {
  const { db } = context;
  const now = context.now();
  const day = await today(context);
  const [last] = await db.select({ day: fetchedRates.day }).from(fetchedRates).orderBy(desc(fetchedRates.day)).limit(1);
  const note = (set: Partial<typeof rateService.$inferInsert>) =>
    db
      .insert(rateService)
      .values({ id: THE_SERVICE, lastTry: now, ...set })
      .onConflictDoUpdate({ target: rateService.id, set: { lastTry: now, ...set } });
  let quoted: readonly RateQuote[];
  try {
    quoted = await context.suppliers.rates(last ? plusDays(last.day, 1) : plusDays(day, -DAYS_BACK));
  } catch (error) {
    if (!(error instanceof SupplierTrouble)) throw error;
    await note({ trouble: error.message });
    return;
  }
  await inTransaction(db, async (tx) => {
    const rows = quoted.map((q) => ({ from: q.from, to: q.to, day: q.day, rate: q.rate }));
    for (let i = 0; i < rows.length; i += CHUNK)
      await tx
        .insert(fetchedRates)
        .values(rows.slice(i, i + CHUNK))
        .onConflictDoNothing();
    if ((await serviceOf(tx)).follow) await takeNewest(tx, now, day);
  });
  await note({ lastAnswer: now, trouble: null });
}

/** Takes the newest rate of each pair that counts already and moves little; by nobody. */
async function takeNewest(tx: Tx, at: Date, day: string): Promise<void> {
  for (const p of await pairsOn(tx, day)) {
    const small = p.changePercent !== null && dec(p.changePercent).abs().lte(RATE_MOVE_LOOKED_AT);
    if (!p.counts || p.counts.day >= p.day || !small || dec(p.rate).eq(p.counts.rate)) continue;
    const row = { from: p.from, to: p.to, day: p.day, rate: p.rate };
    const [made] = await tx.insert(exchangeRates).values(row).returning({ id: exchangeRates.id });
    await audit(tx, {
      at,
      personId: null,
      action: 'followed the service',
      subject: 'exchange-rates',
      subjectId: String(made!.id),
      before: p.counts,
      after: row,
    });
  }
}

/** The latest fetched of each pair beside what counts on its day. */
async function pairsOn(db: Queries, day: string): Promise<FetchedPair[]> {
  const newest = await db
    .selectDistinctOn([fetchedRates.from, fetchedRates.to])
    .from(fetchedRates)
    .where(lte(fetchedRates.day, day))
    .orderBy(fetchedRates.from, fetchedRates.to, desc(fetchedRates.day));
  const out: FetchedPair[] = [];
  for (const f of newest) {
    const [counts] = await db
      .select({ day: exchangeRates.day, rate: exchangeRates.rate })
      .from(exchangeRates)
      .where(and(eq(exchangeRates.from, f.from), eq(exchangeRates.to, f.to), lte(exchangeRates.day, f.day)))
      .orderBy(desc(exchangeRates.day), desc(exchangeRates.id))
      .limit(1);
    const change = counts && percent(divide(dec(f.rate).minus(counts.rate), dec(counts.rate)));
    out.push({ ...f, counts: counts ?? null, changePercent: change ? plain(roundHalfUp(change, 2)) : null });
  }
  return out;
}

export async function readFetchedRates(db: Queries, day: string): Promise<FetchedRates> {
  const { version, follow, lastAnswer, trouble } = await serviceOf(db);
  return {
    version,
    follow,
    lastAnswer: lastAnswer?.toISOString() ?? null,
    trouble,
    pairs: await pairsOn(db, day),
    series: await db
      .select()
      .from(fetchedRates)
      .where(and(gte(fetchedRates.day, plusDays(day, -DAYS_BACK)), lte(fetchedRates.day, day)))
      .orderBy(fetchedRates.day),
  };
}

/** Has the newest rates taken by themselves from now on, or no longer. */
export async function followRates(context: Context, person: number, version: number, follow: boolean): Promise<void> {
  await inTransaction(context.db, async (tx) => {
    // of two at the same moment the second sees what the first said
    await holdState(tx);
    const before = await serviceOf(tx);
    if (before.version !== version)
      throw refused('changed_meanwhile', { what: 'The service of rates', by: 'someone else' });
    const set = { follow, version: version + 1 };
    await tx
      .insert(rateService)
      .values({ id: THE_SERVICE, ...set })
      .onConflictDoUpdate({ target: rateService.id, set });
    const at = context.now();
    await audit(tx, {
      at,
      personId: person,
      action: follow ? 'has rates followed' : 'has rates followed no longer',
      subject: 'exchange-rates',
      subjectId: 'service',
      before: { follow: before.follow },
      after: { follow },
    });
    if (follow) await takeNewest(tx, at, await today(context));
  });
}

/** Queues the service where its time has come, and where there is one. */
export async function queueRates(context: Pick<Context, 'db' | 'now' | 'jobs' | 'suppliers'>): Promise<void> {
  if (!context.suppliers.hasRates) return;
  const since = new Date(context.now().getTime() - EVERY_MS);
  const [fresh] = await context.db
    .select({ id: rateService.id })
    .from(rateService)
    .where(sql`${rateService.lastTry} > ${since.toISOString()}::timestamptz`);
  if (!fresh) await context.jobs.enqueue(RATES, THE_SERVICE);
}
