import { priceLists } from '#server/lists/tables.ts';
import { people } from '#server/people/tables.ts';
import type { Db } from '#server/platform/database.ts';
import { worksheetLists, worksheets } from '#server/worksheets/tables.ts';
import { eq, isNotNull } from 'drizzle-orm';

/** A worksheet over every list, to be computed: what the costs of the last weeks would change. */
export async function demoWorksheet(db: Db, day: string): Promise<number> {
  const [marit] = await db.select({ id: people.id }).from(people).where(eq(people.signIn, 'marit'));
  const head = { reason: 'costs of the last weeks', day, madeBy: marit!.id, madeAt: new Date() };
  const [made] = await db.insert(worksheets).values(head).returning({ id: worksheets.id });
  const lists = await db.select({ listId: priceLists.id }).from(priceLists).where(isNotNull(priceLists.recipe));
  await db.insert(worksheetLists).values(lists.map((l) => ({ ...l, worksheetId: made!.id })));
  return made!.id;
}
