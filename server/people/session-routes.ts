import { verify } from '@node-rs/argon2';
import { eq } from 'drizzle-orm';
import express, { type Request, type Router } from 'express';
import { type SessionInfo, type SignInBody, signInBody } from '#contract/people.ts';
import { type Context, dayIn } from '../platform/context.ts';
import { readJson } from '../platform/http/bounded.ts';
import { validated } from '../platform/http/route.ts';
import { tokenFor } from '../platform/http/session.ts';
import { refused } from '../platform/refused.ts';
import { readSettings } from '../setup/settings.ts';
import { hashPassword } from './password.ts';
import { people } from './tables.ts';
import { beginTry } from './tries.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

/** Checked against when the name is unknown, so that the answer takes as long. */
const NOBODY = hashPassword('nobody has this password');

/** Who is signed in; signing in and out. The only routes open to everyone. */
export function sessionRoutes(api: Router, context: Context): void {
  const token = tokenFor(context);
  api.get('/session', async (request, response) => {
    const person = response.locals['person'] as SignedIn | null;
    const s = await readSettings(context.db);
    response.json({
      person: person && { id: String(person.id), name: person.name, role: person.role, rights: [...person.rights] },
      token: token(request, response),
      workspace: { name: s.name, currency: s.currency, timeZone: s.timeZone, today: dayIn(s.timeZone, context.now()) },
    } satisfies SessionInfo);
  });
  api.post('/session', express.raw({ type: () => true, limit: '10kb' }), async (request, response) => {
    const sent: unknown = request.body;
    const body = validated(signInBody, Buffer.isBuffer(sent) ? readJson(sent, 10) : {}) as SignInBody;
    const name = body.signIn.toLowerCase();
    const address = request.ip ?? '';
    const [p] = await context.db.select().from(people).where(eq(people.signIn, name));
    const about = { person: p?.id ?? null, address };
    const tried = await beginTry(context, name, address).catch((error: unknown) => {
      context.log.warn(about, 'too many tries to sign in');
      throw error;
    });
    const right = await verify(p?.passwordHash ?? (await NOBODY), body.password);
    if (!p || !right || !p.active) {
      context.log.warn(about, 'a sign-in failed');
      throw refused('wrong_sign_in');
    }
    await tried.right();
    await freshSession(request);
    Object.assign(request.session, {
      personId: p.id,
      signedInAt: context.now().getTime(),
      address,
      browser: (request.get('user-agent') ?? '').slice(0, 300),
    });
    context.log.info(about, 'signed in');
    response.json({ signedIn: true, token: token(request, response) });
  });
  api.delete('/session', async (request, response) => {
    const person = response.locals['person'] as SignedIn | null;
    await new Promise<void>((done, failed) =>
      request.session.destroy((e: unknown) => (e ? failed(e as Error) : done())),
    );
    context.log.info({ person: person?.id ?? null, address: request.ip }, 'signed out');
    response.clearCookie('hard-ledger').json({ signedIn: false });
  });
}

/** A new session id: one that was planted before signing in is worth nothing. */
const freshSession = (request: Request): Promise<void> =>
  new Promise((done, failed) => request.session.regenerate((e: unknown) => (e ? failed(e as Error) : done())));
