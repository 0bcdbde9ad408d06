import type { PoolClient } from 'pg';
import type { PostedPrice } from '#core/lists/posted-price.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import type { Queries } from '../platform/database.ts';
import { readAsOf } from '../platform/history.ts';
import { selectCatalogue } from './catalogue-rows.ts';
import { rulesOn } from '../to-come/rules-on.ts';
import { readPostedOf } from './posted-rows.ts';

/**
 * What one item's prices of a day were made from once an entry of the record of changes was written: all rules, but of items
 * only this one and the lead it follows. `besides`: prices of packs that count as posted too.
 */
export async function itemAsOf(
  client: PoolClient,
  snapshot: Queries,
  { day, item, entry }: { day: string; item: string; entry: number },
  besides: (packs: readonly number[]) => Promise<readonly PostedPrice[]>,
): Promise<Prepared> {
  await readAsOf(client, entry);
  const rules = await rulesOn(snapshot, day);
  const group = rules.lockstep.find((g) => g.lead === item || g.members.includes(item));
  const needed = [...new Set([item, group?.lead ?? item])].map(Number);
  const catalogue = await selectCatalogue(snapshot, day, needed);
  const packs = catalogue.items.flatMap((i) => i.packs.map((p) => Number(p.id)));
  const posted = await readPostedOf(snapshot, day, needed);
  const later = await besides(packs);
  const keyOf = (p: PostedPrice) => `${p.list}/${p.pack}`;
  const replaced = new Set(later.map(keyOf));
  return new Prepared({ ...rules, ...catalogue, posted: [...posted.filter((p) => !replaced.has(keyOf(p))), ...later] });
}
