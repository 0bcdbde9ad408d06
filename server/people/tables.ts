import { bigint, boolean, date, index, integer, json, pgTable, text, timestamp, varchar } from 'drizzle-orm/pg-core';

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

/** What is asked of a person with every request. */
export const signedInColumns = {
  id: people.id,
  name: people.name,
  role: people.role,
  seesCost: people.seesCost,
  active: people.active,
};

/** Filled by the session store; its columns are the store's. */
export const session = pgTable(
  'session',
  { sid: varchar().primaryKey(), sess: json().notNull(), expire: timestamp({ precision: 6 }).notNull() },
  (t) => [index('session_expire').on(t.expire)],
);

/** Wrong tries to sign in: counted here, for all servers together. Kept for as long as they count. */
export const signInTries = pgTable(
  'sign_in_tries',
  {
    id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    at: timestamp({ withTimezone: true }).notNull(),
    account: text().notNull(),
    address: text().notNull(),
  },
  (t) => [index('sign_in_tries_account').on(t.account, t.at), index('sign_in_tries_address').on(t.address, t.at)],
);

/** Keys with which programs ask in a person's name; of a key only its hash is kept. */
export const accessKeys = pgTable(
  'access_keys',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    personId: integer()
      .notNull()
      .references(() => people.id),
    name: text().notNull(),
    rights: text().array().notNull(),
    /** SHA-256 in hexadecimal: the key itself is 32 random bytes. */
    hash: text().notNull().unique(),
    lastDay: date({ mode: 'string' }).notNull(),
    madeAt: timestamp({ withTimezone: true }).notNull(),
    lastUsed: timestamp({ withTimezone: true }),
  },
  (t) => [index('access_keys_person').on(t.personId)],
);
