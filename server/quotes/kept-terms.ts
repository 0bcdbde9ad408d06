import { createHash } from 'node:crypto';
import { eq } from 'drizzle-orm';
import { Prepared } from '#core/workspace/prepared.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import type { Queries, Tx } from '../platform/database.ts';
import { type KeptTerms, keptRules } from './tables.ts';

/** What of a state names the items, with the leads that speak for them. */
function partOf(ws: Prepared, items: Iterable<string>, customer: string): KeptTerms['part'] {
  const wanted = new Set(items);
  for (const group of ws.workspace.lockstep)
    if ([group.lead, ...group.members].some((i) => wanted.has(i))) wanted.add(group.lead);
  return {
    items: ws.workspace.items.filter((i) => wanted.has(i.id)),
    costs: ws.workspace.costs.filter((c) => wanted.has(c.item)),
    posted: [...wanted].flatMap((item) => ws.postedOf(item) ?? []),
    customers: ws.workspace.customers.filter((c) => c.id === customer),
  };
}

/** Keeps what a document is priced from, so that later changes to it are priced the same way. */
export async function keepTerms(tx: Tx, ws: Prepared, items: Iterable<string>, customer: string): Promise<KeptTerms> {
  const { items: _, costs: _c, posted: _p, customers: _k, ...rules } = ws.workspace;
  const hash = createHash('sha256').update(JSON.stringify(rules)).digest('hex');
  await tx.insert(keptRules).values({ hash, rules }).onConflictDoNothing();
  const [row] = await tx.select({ id: keptRules.id }).from(keptRules).where(eq(keptRules.hash, hash));
  return { rules: row!.id, part: partOf(ws, items, customer) };
}

/** The kept state; items that it does not name are taken as they were on its day, with the prices posted then. */
export async function keptState(
  db: Queries,
  { rules, part }: KeptTerms,
  items: Iterable<string>,
  customer: string,
  onItsDay: () => Promise<Prepared>,
): Promise<Prepared> {
  const [row] = await db.select({ rules: keptRules.rules }).from(keptRules).where(eq(keptRules.id, rules));
  const known = new Set(part.items.map((i) => i.id));
  const missing = [...new Set(items)].filter((i) => !known.has(i));
  const later = missing.length > 0 ? partOf(await onItsDay(), missing, customer) : null;
  const fresh = <T>(rows: readonly T[] | undefined, item: (row: T) => string) =>
    (rows ?? []).filter((r) => !known.has(item(r)));
  const workspace: Workspace = {
    ...row!.rules,
    customers: part.customers,
    items: [...part.items, ...fresh(later?.items, (i) => i.id)],
    costs: [...part.costs, ...fresh(later?.costs, (c) => c.item)],
    posted: [...part.posted, ...fresh(later?.posted, (p) => p.item)],
  };
  return new Prepared(workspace);
}

/** The same terms with all that a state of them holds: what was taken on later stays as it was then. */
export const withItems = ({ rules, part }: KeptTerms, { workspace }: Prepared): KeptTerms => ({
  rules,
  part: { customers: part.customers, items: workspace.items, costs: workspace.costs, posted: [...workspace.posted] },
});
