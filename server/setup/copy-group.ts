import { eq, inArray, sql } from 'drizzle-orm';
import { groupRoutes as declared } from '#contract/api/records.ts';
import { MORE } from '#contract/records/more.ts';
import { kindNamed } from '#contract/records/kinds.ts';
import { audit, holdState } from '../ledger/audit.ts';
import { priceListGroups } from '../lists/tables.ts';
import { type Tx, inTransaction } from '../platform/database.ts';
import { route } from '../platform/http/route.ts';
import { refused } from '../platform/refused.ts';
import { breakRows, breakTables, floors } from '../quotes/tables.ts';
import { keepLinks } from '../records/links.ts';
import { readRecords, recordRegister } from '../records/register.ts';
import { recordId } from './register.ts';
import { customerGroups } from './tables.ts';

/** Copies what is for a group, so that the new one pays the same; members are not copied. Returns how much there was. */
async function copyWhatIsFor(tx: Tx, from: number, to: number) {
  const reductions = kindNamed('reductions')!;
  const own = (await readRecords(tx, 'reductions')).filter((r) => r['group'] === String(from));
  for (const { id: _, version: _v, ...body } of own)
    await recordRegister(reductions).write(tx, null, { ...body, group: String(to) }, 1);
  const tables = await tx
    .select()
    .from(breakTables)
    .where(sql`${breakTables.more} ->> 'group' = ${String(from)}`);
  for (const { id, version: _, ...head } of tables) {
    const more = { ...head.more, group: String(to) };
    const [made] = await tx
      .insert(breakTables)
      .values({ ...head, more })
      .returning({ id: breakTables.id });
    const rows = await tx
      .select()
      .from(breakRows)
      .where(inArray(breakRows.tableId, [id]));
    if (rows.length > 0) await tx.insert(breakRows).values(rows.map((r) => ({ ...r, tableId: made!.id })));
    await keepLinks(tx, { kind: 'breaks', id: made!.id }, MORE.breaks.fields, more);
  }
  const held = await tx.select().from(floors).where(eq(floors.groupId, from));
  for (const { id: _, version: _v, ...floor } of held) await tx.insert(floors).values({ ...floor, groupId: to });
  const lists = await tx.select().from(priceListGroups).where(eq(priceListGroups.groupId, from));
  if (lists.length > 0) await tx.insert(priceListGroups).values(lists.map((l) => ({ ...l, groupId: to })));
  return { reductions: own.length, breaks: tables.length, floors: held.length, lists: lists.length };
}

export const groupRoutes = [
  route(declared.copy, ({ context, person, params, body }) =>
    inTransaction(context.db, async (tx) => {
      await holdState(tx);
      const id = recordId('The customer group', params.id);
      const [group] = await tx.select().from(customerGroups).where(eq(customerGroups.id, id));
      if (!group) throw refused('not_found', { what: 'The customer group', id: String(id) });
      const [made] = await tx
        .insert(customerGroups)
        .values({ name: body.name, shownAs: group.shownAs, rank: group.rank })
        .returning();
      const copied = await copyWhatIsFor(tx, id, made!.id);
      const after = { ...made!, id: String(made!.id) };
      await audit(tx, {
        at: context.now(),
        personId: person.id,
        action: 'copied',
        subject: 'customer-groups',
        subjectId: after.id,
        after: { ...after, from: group.name, ...copied },
      });
      return after;
    }),
  ),
];
