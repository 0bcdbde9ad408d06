import { sql } from 'drizzle-orm';
import type { Step } from '#core/buildup/steps.ts';
import { computePrice } from '#core/lists/list-price.ts';
import { dec } from '#core/numbers/decimal.ts';
import type { PostedPrice } from '#core/lists/posted-price.ts';
import { type Db, inSnapshot } from '../platform/database.ts';
import { itemAsOf } from '../workspace/few-items.ts';

/**
 * How a posted price was made: the steps that its line keeps, or made again from the state it was computed from. Null: it
 * was typed. `entry`: the line's id.
 */
export async function stepsOfLine(db: Db, entry: number): Promise<readonly Step[] | null> {
  // a price that a reversal put back comes from the posting that made it
  const { rows } = await db.execute<{
    steps: readonly Step[] | null;
    list: string;
    item: string;
    pack: string;
    after: string | null;
    hand: boolean;
    day: string;
    as_of: number | null;
    worksheet: number | null;
    posting: number;
  }>(sql`
    select coalesce(l.steps, made.steps) as steps, l.list_id::text as list, l.item_id::text as item, l.pack_id::text as pack, l.after,
      l.hand_set_reason is not null as hand, h.effective::text as day, h.as_of, h.worksheet_id as worksheet, h.id as posting
    from posting_lines l join postings h on h.id = coalesce(l.made_by, l.posting_id)
      left join posting_lines made on made.posting_id = l.made_by and made.item_id = l.item_id and made.pack_id = l.pack_id
    where l.id = ${entry}`);
  const [line] = rows;
  if (!line || line.steps || line.after === null || line.hand || line.as_of === null) return line?.steps ?? null;
  const { list, item, pack, day } = line;
  const ws = await inSnapshot(db.$client, (client, snapshot) =>
    itemAsOf(client, snapshot, { day, item, entry: line.as_of! }, (packs) =>
      line.worksheet === null ? Promise.resolve([]) : postedBefore(snapshot, line.worksheet, line.posting, packs),
    ),
  );
  const found = computePrice(ws, { list, item, pack, day });
  const { after } = line;
  if (found.ok && found.value.price.eq(dec(after))) return found.value.steps;
  // released: as the recipe makes it, without the typed price
  if (found.ok && found.value.recipePrice.eq(dec(after))) return found.value.steps.filter((s) => s.kind !== 'hand_set');
  // let fall by a person
  const fallen = computePrice(ws, { list, item, pack, day }, 'allow_fall');
  if (fallen.ok && fallen.value.price.eq(dec(after))) return fallen.value.steps;
  // earlier releases posted for the lead what the recipe made of a member
  for (const { id } of ws.workspace.items) {
    const member = computePrice(ws, { list, item: id, pack, day });
    if (member.ok && member.value.price.eq(dec(after))) return member.value.steps;
  }
  throw new Error(`the steps of posting line ${entry} do not lead to its price any more`);
}

/** What a worksheet posted on the lists that come before: its other lists were computed from that. */
async function postedBefore(
  db: Parameters<Parameters<typeof inSnapshot>[1]>[1],
  worksheet: number,
  posting: number,
  packs: readonly number[],
): Promise<PostedPrice[]> {
  const { rows } = await db.execute<{
    list: string;
    item: string;
    pack: string;
    price: string;
    from: string;
    posting: string;
    entry: string;
  }>(sql`
    select l.list_id::text as list, l.item_id::text as item, l.pack_id::text as pack, l.after as price,
      l.effective::text as from, l.posting_id::text as posting, l.id::text as entry
    from public.posting_lines l join public.postings h on h.id = l.posting_id
    where h.worksheet_id = ${worksheet} and h.id < ${posting} and l.pack_id = any(${sql.param(packs)}::int[])
    order by l.id`);
  return rows.map((r) => ({ ...r, entry: Number(r.entry), handSet: null }));
}
