import { createHash } from 'node:crypto';
import { verify } from '@node-rs/argon2';
import { and, eq, gt, ne, sql } from 'drizzle-orm';
import { type OwnSession } from '#contract/people.ts';
import { audit } from '../ledger/audit.ts';
import { inTransaction } from '../platform/database.ts';
import { type Route, route } from '../platform/http/route.ts';
import { ownRoutes as declared } from '#contract/api/people.ts';
import { IDLE_HOURS } from '../platform/http/session.ts';
import { refused } from '../platform/refused.ts';
import { readSettings } from '../setup/settings.ts';
import { recordId } from '../setup/one-record.ts';
import { endKey, keysOf, makeKey } from './access-keys.ts';
import { guessable, hashPassword } from './password.ts';
import { people, session } from './tables.ts';
import { beginTry } from './tries.ts';

/** What a session is called outside: whoever reads it cannot use it to sign in. */
const nameOf = (sid: string): string => createHash('sha256').update(sid).digest('hex').slice(0, 24);

const belongsTo = (person: number) => sql`(${session.sess}->>'personId')::int = ${person}`;

const oneFault = (path: string, message: string) => refused('fields_wrong', {}, { faults: [{ path, message }] });

/** What a person does about the own account: change the password, see and end the own sessions. */
export const ownRoutes: readonly Route[] = [
  route(declared.password, async ({ context, person, request, body }) => {
    const [p] = await context.db.select().from(people).where(eq(people.id, person.id));
    // an unattended browser is no way to guess the password either
    const tried = await beginTry(context, p!.signIn, request.ip ?? '');
    if (!(await verify(p!.passwordHash, body.current))) {
      context.log.warn({ person: person.id, address: request.ip }, 'a change of password failed');
      throw oneFault('current', 'is not your password');
    }
    await tried.right();
    const { name: company } = await readSettings(context.db);
    const why = guessable(body.password, [p!.name, p!.signIn, company]);
    if (why) throw oneFault('password', why);
    const passwordHash = await hashPassword(body.password);
    const ended = await inTransaction(context.db, async (tx) => {
      await tx.update(people).set({ passwordHash }).where(eq(people.id, person.id));
      await audit(tx, {
        at: context.now(),
        personId: person.id,
        action: 'changed the own password',
        subject: 'people',
        subjectId: String(person.id),
      });
      const gone = await tx
        .delete(session)
        .where(and(belongsTo(person.id), ne(session.sid, request.sessionID)))
        .returning({ sid: session.sid });
      return gone.length;
    });
    return { ended };
  }),
  route(declared.sessions, async ({ context, person, request }) => {
    const rows = await context.db
      .select()
      .from(session)
      .where(and(belongsTo(person.id), gt(session.expire, sql`localtimestamp`)));
    return rows
      .map(({ sid, sess, expire }): OwnSession => {
        const kept = sess as { signedInAt?: number; address?: string; browser?: string };
        return {
          id: nameOf(sid),
          signedInAt: new Date(kept.signedInAt ?? 0).toISOString(),
          lastSeen: new Date(expire.getTime() - IDLE_HOURS * 3_600_000).toISOString(),
          address: kept.address ?? '',
          browser: kept.browser ?? '',
          current: sid === request.sessionID,
        };
      })
      .sort((a, b) => Number(b.current) - Number(a.current) || b.lastSeen.localeCompare(a.lastSeen));
  }),
  route(declared.endSession, async ({ context, person, params }) => {
    const rows = await context.db.select({ sid: session.sid }).from(session).where(belongsTo(person.id));
    const chosen = rows.find((r) => nameOf(r.sid) === params['id']);
    if (!chosen) throw refused('not_found', { what: 'Session', id: params['id']! });
    await context.db.delete(session).where(eq(session.sid, chosen.sid));
    return { ended: 1 };
  }),
  route(declared.keys, ({ context, person }) => keysOf(context, person)),
  route(declared.makeKey, ({ context, person, body }) => makeKey(context, person, body)),
  route(declared.endKey, async ({ context, person, params }) => {
    await endKey(context, person, recordId('The access key', params.id));
    return { removed: true };
  }),
];
