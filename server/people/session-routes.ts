import { hash, verify } from '@node-rs/argon2';
import { eq } from 'drizzle-orm';
import express, { type Express, type Request, type Response } from 'express';
import { rateLimit } from 'express-rate-limit';
import { type SessionInfo, type SignInBody, signInBody } from '#contract/people.ts';
import { type Context, dayIn } from '../platform/context.ts';
import { problem, statusOf } from '#contract/problems.ts';
import { validated } from '../platform/http/route.ts';
import { type SignedIn, tokenOf } from '../platform/http/session.ts';
import { refused } from '../platform/refused.ts';
import { readSettings } from '../setup/settings.ts';
import { people } from './tables.ts';

/** Argon2id with the library's defaults (19 MiB, 2 passes), after the OWASP recommendation. */
export function hashPassword(password: string): Promise<string> {
  return hash(password);
}

/** Checked against when the name is unknown, so that the answer takes as long. */
const NOBODY = hashPassword('nobody has this password');

/** Who is signed in; signing in and out. The only routes open to everyone. */
export function sessionRoutes(api: Express, context: Context): void {
  const answer = async (request: Request, person: SignedIn | null): Promise<SessionInfo> => {
    const s = await readSettings(context.db);
    return {
      person: person && { id: String(person.id), name: person.name, role: person.role, rights: [...person.rights] },
      token: tokenOf(request),
      workspace: { name: s.name, currency: s.currency, timeZone: s.timeZone, today: dayIn(s.timeZone, context.now()) },
    };
  };
  api.get('/session', async (request, response) => {
    response.json(await answer(request, response.locals['person'] as SignedIn | null));
  });
  const limit = rateLimit({
    windowMs: 15 * 60 * 1000,
    limit: context.signInTries,
    skipSuccessfulRequests: true,
    standardHeaders: 'draft-7',
    legacyHeaders: false,
    handler: (_, response: Response) => {
      const p = problem('too_many_tries', { minutes: '15' });
      response.status(statusOf(p.code)).json(p);
    },
  });
  api.post('/session', limit, express.json({ limit: '10kb' }), async (request, response) => {
    const body = (await validated(signInBody, request.body)) as SignInBody;
    const [p] = await context.db.select().from(people).where(eq(people.signIn, body.signIn.toLowerCase()));
    const right = await verify(p?.passwordHash ?? (await NOBODY), body.password);
    if (!p || !right || !p.active) throw refused('wrong_sign_in');
    // a new session id: one that was planted before signing in is worth nothing
    await new Promise<void>((done, failed) =>
      request.session.regenerate((e: unknown) => (e ? failed(e as Error) : done())),
    );
    request.session.personId = p.id;
    response.json({ signedIn: true, token: tokenOf(request) });
  });
  api.delete('/session', async (request, response) => {
    await new Promise<void>((done, failed) =>
      request.session.destroy((e: unknown) => (e ? failed(e as Error) : done())),
    );
    response.clearCookie('hard-ledger').json({ signedIn: false });
  });
}
