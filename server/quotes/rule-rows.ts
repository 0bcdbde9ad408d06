import { asc, eq } from 'drizzle-orm';
import { breaks as breakKind, floors as floorKind } from '#contract/records/quote-rules.ts';
import { columnTable } from '../setup/column-table.ts';
import { breakRows, breakTables, floors } from './tables.ts';

export const breakTableRows = columnTable(breakKind, breakTables, {
  elsewhere: {
    fields: ['rows'],
    columns: [],
    read: async (db) => {
      const rows = await db.select().from(breakRows).orderBy(asc(breakRows.tableId), asc(breakRows.fromQuantity));
      return (id) => ({
        rows: rows.filter((r) => r.tableId === id).map((r) => ({ from: r.fromQuantity, kind: r.kind, value: r.value })),
      });
    },
    write: async (tx, tableId, { rows }) => {
      await tx.delete(breakRows).where(eq(breakRows.tableId, tableId));
      await tx
        .insert(breakRows)
        .values(rows.map((r) => ({ tableId, fromQuantity: r.from, kind: r.kind, value: r.value })));
    },
    remove: async (tx, id) => void (await tx.delete(breakRows).where(eq(breakRows.tableId, id))),
  },
});

export const floorRows = columnTable(floorKind, floors);
