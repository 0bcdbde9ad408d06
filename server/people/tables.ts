import { boolean, index, integer, json, pgTable, text, timestamp, varchar } from 'drizzle-orm/pg-core';

export const people = pgTable('people', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  version: integer().notNull().default(1),
  name: text().notNull(),
  signIn: text().notNull().unique(),
  passwordHash: text().notNull(),
  role: text({ enum: ['administrator', 'approver', 'seller', 'reader'] }).notNull(),
  seesCost: boolean().notNull().default(false),
  active: boolean().notNull().default(true),
});

/** Filled by the session store; its columns are the store's. */
export const session = pgTable(
  'session',
  { sid: varchar().primaryKey(), sess: json().notNull(), expire: timestamp({ precision: 6 }).notNull() },
  (t) => [index('session_expire').on(t.expire)],
);
