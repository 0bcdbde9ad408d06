import { date, index, integer, jsonb, pgTable, text, timestamp } from 'drizzle-orm/pg-core';
import { people } from '../people/tables.ts';

/** Changes of rules that begin on a day to come. Of each row every version is kept: a price computed under one stays explained. */
export const changesToCome = pgTable(
  'changes_to_come',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    version: integer().notNull().default(1),
    /** The register, by its name in addresses, and the record in it. */
    register: text().notNull(),
    recordId: integer().notNull(),
    /** The first day on which it holds. */
    day: date().notNull(),
    reason: text().notNull(),
    /** The fields that become another, as the register takes them; null: the record is removed. */
    change: jsonb('fields').$type<Readonly<Record<string, unknown>>>(),
    /** The records of a workspace as they become, as JSON letter for letter: a day is exported the same before and after. */
    moves: text().notNull(),
    /** Failed: it could not be carried out on its day, and counts no longer. */
    state: text({ enum: ['waiting', 'carried_out', 'dropped', 'failed'] })
      .notNull()
      .default('waiting'),
    trouble: text(),
    madeBy: integer()
      .notNull()
      .references(() => people.id),
    madeAt: timestamp({ withTimezone: true }).notNull(),
  },
  (t) => [
    index('changes_to_come_state').on(t.state, t.day),
    index('changes_to_come_record').on(t.register, t.recordId),
  ],
);
