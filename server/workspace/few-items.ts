import type { PoolClient } from 'pg';
import type { PostedPrice } from '#core/lists/posted-price.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import { revisionsOf } from '../ledger/audit.ts';
import { type Db, type Queries, inSnapshot } from '../platform/database.ts';
import { readAsOf } from '../platform/history.ts';
import { rulesOn } from '../to-come/rules-on.ts';
import { selectCatalogue } from './catalogue-rows.ts';
import { readPostedOf } from './posted-rows.ts';
import { type Loaded, stateName } from './state.ts';

/** What prices of a few items on a day are made from: all rules, but of items only these and those of their lockstep groups. */
async function workspaceOfItems(
  db: Queries,
  day: string,
  items: readonly string[],
  rules: Workspace,
): Promise<Workspace> {
  const groups = rules.lockstep.filter((g) => items.some((item) => g.lead === item || g.members.includes(item)));
  const needed = [...new Set([...items, ...groups.flatMap((g) => [g.lead, ...g.members])])].map(Number);
  return { ...rules, ...(await selectCatalogue(db, day, needed)), posted: await readPostedOf(db, day, needed) };
}

/** Rules of the days that were looked at last, by the name of their state: one look after the other is at the same. */
const rulesOf = new WeakMap<Db, Map<string, Workspace>>();
const MOST_DAYS = 4;

async function rulesNamed(owner: Db, name: string, read: () => Promise<Workspace>): Promise<Workspace> {
  const known = rulesOf.get(owner) ?? new Map<string, Workspace>();
  rulesOf.set(owner, known);
  const rules = known.get(name) ?? (await read());
  known.delete(name);
  known.set(name, rules);
  while (known.size > MOST_DAYS) known.delete(known.keys().next().value!);
  return rules;
}

/**
 * The state of a day for a few items, as everything is or once an entry of the record of changes was written (`entry`): of a
 * large catalogue that is a moment where all of it is many seconds.
 */
export async function itemsOn(owner: Db, day: string, items: readonly string[], entry: number | null): Promise<Loaded> {
  return inSnapshot(owner.$client, async (client, snapshot) => {
    const revision = stateName(await revisionsOf(snapshot), entry);
    if (entry !== null) await readAsOf(client, entry);
    const rules = await rulesNamed(owner, `${revision}/${day}`, () => rulesOn(snapshot, day));
    return { revision, day, ws: new Prepared(await workspaceOfItems(snapshot, day, items, rules)) };
  });
}

/**
 * What one item's prices of a day were made from once an entry of the record of changes was written. `besides`: prices of
 * packs that count as posted too.
 */
export async function itemAsOf(
  client: PoolClient,
  snapshot: Queries,
  { day, item, entry }: { day: string; item: string; entry: number },
  besides: (packs: readonly number[]) => Promise<readonly PostedPrice[]>,
): Promise<Prepared> {
  await readAsOf(client, entry);
  const rules = await rulesOn(snapshot, day);
  const { posted, ...rest } = await workspaceOfItems(snapshot, day, [item], rules);
  const later = await besides(rest.items.flatMap((i) => i.packs.map((p) => Number(p.id))));
  const keyOf = (p: PostedPrice) => `${p.list}/${p.pack}`;
  const replaced = new Set(later.map(keyOf));
  return new Prepared({ ...rest, posted: [...[...posted].filter((p) => !replaced.has(keyOf(p))), ...later] });
}
