import { asc, eq } from 'drizzle-orm';
import type { LadderBody } from '#contract/recipes.ts';
import type { LadderTerms } from '#core/rounding/ladder.ts';
import type { Queries, Tx } from '../platform/database.ts';
import { ladders, rungs } from './tables.ts';

export async function readLadders(db: Queries, only?: number): Promise<LadderTerms[]> {
  const heads = await db
    .select()
    .from(ladders)
    .where(only === undefined ? undefined : eq(ladders.id, only))
    .orderBy(asc(ladders.id));
  const rows = await db
    .select()
    .from(rungs)
    .where(only === undefined ? undefined : eq(rungs.ladderId, only))
    .orderBy(asc(rungs.ladderId), asc(rungs.position));
  return heads.map((h) => ({
    id: String(h.id),
    version: h.version,
    name: h.name,
    currency: h.currency,
    byDefault: h.byDefault,
    rungs: rows
      .filter((r) => r.ladderId === h.id)
      .map((r) => ({
        from: r.bandFrom,
        to: r.bandTo,
        step: r.step,
        endings: r.endings,
        direction: r.direction,
        downUntil: r.downUntil,
        upFrom: r.upFrom,
        offset: r.offset,
      })),
  }));
}

export async function writeLadder(tx: Tx, id: number | null, body: LadderBody, version: number): Promise<number> {
  const head = { name: body.name, currency: body.currency, byDefault: body.byDefault ?? false, version };
  const [row] =
    id === null
      ? await tx.insert(ladders).values(head).returning({ id: ladders.id })
      : await tx.update(ladders).set(head).where(eq(ladders.id, id)).returning({ id: ladders.id });
  const ladderId = row!.id;
  await tx.delete(rungs).where(eq(rungs.ladderId, ladderId));
  if (body.rungs.length === 0) return ladderId;
  await tx.insert(rungs).values(
    body.rungs.map((r, position) => ({
      ladderId,
      position,
      bandFrom: r.from,
      bandTo: r.to,
      step: r.step,
      endings: [...r.endings],
      direction: r.direction,
      downUntil: r.direction === 'cuts' ? (r.downUntil ?? null) : null,
      upFrom: r.direction === 'cuts' ? (r.upFrom ?? null) : null,
      offset: r.offset ?? null,
    })),
  );
  return ladderId;
}
