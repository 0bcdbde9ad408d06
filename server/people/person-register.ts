import { asc, eq, sql } from 'drizzle-orm';
import { PLAIN, type PlainBody } from '#contract/records/plain.ts';
import { wrongField } from '../platform/refused.ts';
import { declaredAs } from '../setup/column-register.ts';
import type { Register } from '../setup/register.ts';
import { guessable, hashPassword } from './password.ts';
import { people, session } from './tables.ts';

/** Advisory lock of whoever changes what people may do. */
const TURN_OF_PEOPLE = 7305;

export const personRegister: Register<PlainBody<'people'>> = {
  ...declaredAs(PLAIN.people),
  read: async (db, only) => {
    const rows = await db
      .select()
      .from(people)
      .where(only === undefined ? undefined : eq(people.id, only))
      .orderBy(asc(people.id));
    return rows.map(({ passwordHash: _, id, ...p }) => ({ ...p, id: String(id), password: null }));
  },
  check: async (tx, body, id) => {
    // two administrators who demote each other at the same moment take turns; the second is then the last
    await tx.execute(sql`select pg_advisory_xact_lock(${TURN_OF_PEOPLE})`);
    if (id === null && !body.password) throw wrongField('password', 'a new person needs a password');
    const why = body.password && guessable(body.password, [body.name, body.signIn]);
    if (why) throw wrongField('password', why);
    if (id === null) return;
    const keepers = (await tx.select().from(people)).filter(
      (p) => p.active && p.role === 'administrator' && p.id !== id,
    );
    if (keepers.length === 0 && (body.role !== 'administrator' || !body.active)) {
      throw wrongField('role', 'one administrator must remain');
    }
  },
  write: async (tx, id, { password, ...body }, version) => {
    const secret = password ? { passwordHash: await hashPassword(password) } : {};
    if (id === null) {
      const [row] = await tx
        .insert(people)
        .values({ ...body, version, passwordHash: '', ...secret })
        .returning({ id: people.id });
      return row!.id;
    }
    await tx
      .update(people)
      .set({ ...body, version, ...secret })
      .where(eq(people.id, id));
    // a new password, or being switched off, ends what was open
    if (password || !body.active) await tx.delete(session).where(sql`(${session.sess}->>'personId')::int = ${id}`);
    return id;
  },
};
