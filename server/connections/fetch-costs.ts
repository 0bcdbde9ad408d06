import { createHash } from 'node:crypto';
import { and, eq, lte, sql } from 'drizzle-orm';
import { rightsOf } from '#contract/people.ts';
import { receiveSheet } from '../costs/receive-sheet.ts';
import { people } from '../people/tables.ts';
import type { Context } from '../platform/context.ts';
import type { Queries } from '../platform/database.ts';
import { today } from '../workspace/asked-day.ts';
import { SupplierTrouble } from './supplier-answers.ts';
import { connections } from './tables.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

/** The queue of suppliers whose services are asked. */
export const CONNECTIONS = 'connections';

/** After a try that failed the next comes after so many minutes, then twice as many, but never later than usual. */
const FIRST_WAIT_MINUTES = 5;

const minutes = (n: number) => n * 60_000;

async function inNameOf(db: Queries, id: number): Promise<SignedIn> {
  const [row] = await db.select().from(people).where(eq(people.id, id));
  return { id, name: row!.name, role: row!.role, rights: rightsOf(row!) } as SignedIn;
}

/**
 * Asks the service of a supplier for the costs that are followed. What is new waits like a file; the same as the last time is
 * no arrival. What goes wrong is written down for whoever connected it, and tried again soon, then less and less often.
 */
export async function fetchCosts(context: Context, supplierId: number): Promise<void> {
  const { db } = context;
  const [c] = await db.select().from(connections).where(eq(connections.supplierId, supplierId));
  if (c?.state !== 'on' || c.connectedBy === null) return;
  const now = context.now();
  const usual = new Date(now.getTime() + minutes(60 * c.everyHours));
  const of = eq(connections.supplierId, supplierId);
  let content: Buffer | null;
  try {
    content = await context.suppliers.costs(c, c.brands);
  } catch (error) {
    if (!(error instanceof SupplierTrouble)) throw error;
    const soon = new Date(now.getTime() + minutes(FIRST_WAIT_MINUTES * 2 ** Math.min(c.tries, 12)));
    await db
      .update(connections)
      .set({
        lastTry: now,
        trouble: error.message,
        tries: c.tries + 1,
        nextTry: soon < usual ? soon : usual,
      })
      .where(of);
    return;
  }
  const lastContent = content && createHash('sha256').update(content).digest('hex');
  if (content === null || lastContent === null || lastContent === c.lastContent) {
    const trouble = content === null ? 'It lists no item of the brands that are followed.' : null;
    await db.update(connections).set({ lastTry: now, lastAnswer: now, tries: 0, nextTry: usual, trouble }).where(of);
    return;
  }
  const day = await today(context);
  const answered = { lastTry: now, nextTry: usual, lastContent };
  const arriving = { supplierId, fileName: `fetched ${day}.csv`, content, origin: 'connection' as const, answered };
  await receiveSheet(context, await inNameOf(db, c.connectedBy), arriving, day);
}

/** Queues every connection whose time has come. */
export async function queueDue(context: Pick<Context, 'db' | 'now' | 'jobs'>): Promise<void> {
  const due = await context.db
    .select({ id: connections.supplierId })
    .from(connections)
    .where(and(eq(connections.state, 'on'), lte(sql`coalesce(${connections.nextTry}, '-infinity')`, context.now())));
  for (const { id } of due) await context.jobs.enqueue(CONNECTIONS, id);
}
