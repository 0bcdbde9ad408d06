import { lists as kind } from '#contract/records/price-list.ts';
import { columnTable } from '../setup/column-table.ts';
import { priceListGroups, priceLists } from './tables.ts';
import { eq } from 'drizzle-orm';

export const keptLists = columnTable(kind, priceLists, {
  order: [priceLists.rank],
  elsewhere: {
    fields: ['groups'],
    columns: [],
    read: async (db) => {
      const rows = await db.select().from(priceListGroups);
      return (id) => ({ groups: rows.filter((g) => g.listId === id).map((g) => String(g.groupId)) });
    },
    write: async (tx, listId, { groups }) => {
      await tx.delete(priceListGroups).where(eq(priceListGroups.listId, listId));
      if (groups.length > 0)
        await tx.insert(priceListGroups).values(groups.map((g) => ({ listId, groupId: Number(g) })));
    },
  },
});
