import { eq, sql } from 'drizzle-orm';
import { groupRoutes as declared } from '#contract/api/records.ts';
import { kindNamed } from '#contract/records/kinds.ts';
import { audit, holdState } from '../ledger/audit.ts';
import { priceListGroups, priceLists } from '../lists/tables.ts';
import { type Tx, inTransaction } from '../platform/database.ts';
import { route } from '../platform/http/route.ts';
import { refused } from '../platform/refused.ts';
import { breakTableRows, floorRows } from '../quotes/rule-rows.ts';
import { readRecords, recordRegister } from '../records/register.ts';
import type { ColumnTable } from './column-table.ts';
import { recordId } from './one-record.ts';
import { customerGroups } from './tables.ts';

/** A record that was copied: where it is kept, and under which number. */
interface Copied {
  readonly subject: string;
  readonly id: number;
  readonly of: string;
}

/** Copies what is for a group, so that the new one pays the same; members are not copied. Returns what was made. */
async function copyWhatIsFor(tx: Tx, from: number, to: number): Promise<Copied[]> {
  const made: Copied[] = [];
  const reductions = recordRegister(kindNamed('reductions')!);
  for (const { id, version: _, ...body } of await readRecords(tx, 'reductions')) {
    if (body['group'] !== String(from)) continue;
    const copy = await reductions.write(tx, null, { ...body, group: String(to) }, 1);
    made.push({ subject: 'reductions', id: copy, of: id });
  }
  for (const [subject, rows] of Object.entries({ breaks: breakTableRows, floors: floorRows }) as [
    string,
    ColumnTable,
  ][])
    for (const { id, version: _, ...body } of await rows.kept(tx)) {
      if (body['group'] !== String(from)) continue;
      const copy = await rows.write(tx, null, { ...body, group: String(to) }, 1);
      made.push({ subject, id: copy, of: id });
    }
  const lists = await tx.select().from(priceListGroups).where(eq(priceListGroups.groupId, from));
  for (const l of lists) {
    await tx.insert(priceListGroups).values({ ...l, groupId: to });
    // who has the list open is told: keeping it as it was would shut the new group out
    await tx
      .update(priceLists)
      .set({ version: sql`${priceLists.version} + 1` })
      .where(eq(priceLists.id, l.listId));
    made.push({ subject: 'lists', id: l.listId, of: String(l.listId) });
  }
  return made;
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
      const by = { at: context.now(), personId: person.id };
      const head = { ...by, action: 'copied', subject: 'customer-groups', subjectId: after.id };
      await audit(tx, { ...head, after: { ...after, from: group.name } });
      for (const { subject, id: copy, of } of copied)
        await audit(tx, {
          ...by,
          action: subject === 'lists' ? 'meant for one more group' : 'created',
          subject,
          subjectId: String(copy),
          after: { group: after.id, ...(subject === 'lists' ? {} : { copyOf: of }) },
        });
      return after;
    }),
  ),
];
