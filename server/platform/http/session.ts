import { randomBytes, timingSafeEqual } from 'node:crypto';
import connectPgSimple from 'connect-pg-simple';
import { eq } from 'drizzle-orm';
import type { NextFunction, Request, RequestHandler, Response } from 'express';
import session from 'express-session';
import { type Right, type Role, rightsOf } from '#contract/people.ts';
import { people } from '../../people/tables.ts';
import type { Context } from '../context.ts';
import { refused } from '../refused.ts';

declare module 'express-session' {
  interface SessionData {
    personId: number;
    token: string;
  }
}

export interface SignedIn {
  readonly id: number;
  readonly name: string;
  readonly role: Role;
  readonly rights: ReadonlySet<Right>;
}

const TEN_HOURS = 10 * 60 * 60 * 1000;

export function sessions(context: Context): RequestHandler {
  const Store = connectPgSimple(session);
  return session({
    name: 'hard-ledger',
    store: new Store({
      pool: context.database.pool,
      tableName: 'session',
      createTableIfMissing: false,
      pruneSessionInterval: false,
    }),
    secret: context.sessionSecret,
    resave: false,
    saveUninitialized: false,
    rolling: true,
    cookie: { httpOnly: true, sameSite: 'strict', secure: context.secureCookies, maxAge: TEN_HOURS },
  });
}

/** The token that every change must carry: made with the session, known only to our own pages. */
export function tokenOf(request: Request): string {
  request.session.token ??= randomBytes(24).toString('base64url');
  return request.session.token;
}

function sameText(a: string, b: string): boolean {
  const [x, y] = [Buffer.from(a), Buffer.from(b)];
  return x.length === y.length && timingSafeEqual(x, y);
}

/** Refuses a change whose token is not the session's: another site cannot know it. */
export function checkToken(request: Request, _: Response, next: NextFunction): void {
  if (['GET', 'HEAD', 'OPTIONS'].includes(request.method)) return next();
  const sent = request.get('x-session-token');
  if (!sent || !request.session.token || !sameText(sent, request.session.token)) throw refused('session_token_wrong');
  next();
}

/** Finds who is signed in, afresh for every request: a person switched off is out at once. */
export function identify(context: Context): RequestHandler {
  return async (request, response, next) => {
    response.locals['person'] = null;
    const id = request.session.personId;
    if (id !== undefined) {
      const [p] = await context.db.select().from(people).where(eq(people.id, id));
      if (p?.active)
        response.locals['person'] = { id: p.id, name: p.name, role: p.role, rights: rightsOf(p) } satisfies SignedIn;
    }
    next();
  };
}
