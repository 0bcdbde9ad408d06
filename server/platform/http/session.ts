import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import connectPgSimple from 'connect-pg-simple';
import { parse } from 'cookie';
import { eq, sql } from 'drizzle-orm';
import type { Request, RequestHandler, Response } from 'express';
import session from 'express-session';
import { rightsOf } from '#contract/people.ts';
import { personOfKey } from '../../people/access-keys.ts';
import { revisionsColumn } from '../../ledger/audit.ts';
import { people, signedInColumns } from '../../people/tables.ts';
import type { Context } from '../context.ts';
import { prepared } from '../prepared.ts';
import { refused } from '../refused.ts';
import type { Identified } from './signed-in.ts';

declare module 'express-session' {
  interface SessionData {
    personId: number;
    token: string;
    /** Milliseconds since 1970. */
    signedInAt: number;
    address: string;
    browser: string;
  }
}

const HOUR = 60 * 60 * 1000;
/** A session that nobody uses ends after so many hours. */
export const IDLE_HOURS = 10;

/** How exactly it is kept when a session was last used, in milliseconds: looking writes nothing. */
const USED_MS = 60_000;

function storeOf({ database, now }: Context): session.Store {
  const Store = connectPgSimple(session);
  const store = new Store({
    pool: database.pool,
    tableName: 'session',
    createTableIfMissing: false,
    pruneSessionInterval: false,
  });
  const touch = store.touch.bind(store);
  const used = new Map<string, number>();
  store.touch = (id, data, done) => {
    const at = now().getTime();
    if (at - (used.get(id) ?? -Infinity) < USED_MS) return void done?.();
    for (const [other, last] of used) if (at - last >= USED_MS) used.delete(other);
    used.set(id, at);
    touch(id, data, done);
  };
  return store;
}

/** Every spelling that the routes take for the address of the session. */
const SESSION = /^\/session\/*$/i;

export function sessions(context: Context): RequestHandler {
  const visits = session({
    name: 'hard-ledger',
    store: storeOf(context),
    secret: context.sessionSecret,
    resave: false,
    saveUninitialized: false,
    rolling: true,
    cookie: { httpOnly: true, sameSite: 'strict', secure: context.secureCookies, maxAge: IDLE_HOURS * HOUR },
  });
  // who shows a key has none, and none is looked for; but it may be signed in with one all the same
  return (request, response, next) =>
    showsKey(request) && !SESSION.test(request.path) ? next() : visits(request, response, next);
}

const VISIT = 'hard-ledger-visit';

const visitOf = (request: Request): string | undefined => parse(request.headers.cookie ?? '')[VISIT];

const visitToken = (context: Context, visit: string): string =>
  createHmac('sha256', context.sessionSecret).update(`visit ${visit}`).digest('base64url');

/**
 * The token that every change must carry, known only to our own pages: kept with the session, or, before anyone has
 * signed in, made from a cookie of the visit, so that a visit leaves nothing in the database.
 */
export function tokenFor(context: Context) {
  return (request: Request, response: Response): string => {
    if (request.session.personId !== undefined)
      return (request.session.token ??= randomBytes(24).toString('base64url'));
    let visit = visitOf(request);
    if (!visit) {
      visit = randomBytes(24).toString('base64url');
      response.cookie(VISIT, visit, { httpOnly: true, sameSite: 'strict', secure: context.secureCookies });
    }
    return visitToken(context, visit);
  };
}

function sameText(a: string, b: string): boolean {
  const [x, y] = [Buffer.from(a), Buffer.from(b)];
  return x.length === y.length && timingSafeEqual(x, y);
}

/** Refuses a change whose token is neither the session's nor the visit's: another site cannot know it. */
export function checkToken(context: Context): RequestHandler {
  return (request, _, next) => {
    if (['GET', 'HEAD', 'OPTIONS'].includes(request.method) || showsKey(request)) return next();
    const sent = request.get('x-session-token');
    const visit = visitOf(request);
    const right = request.session.token ?? (visit && visitToken(context, visit));
    if (!sent || !right || !sameText(sent, right)) throw refused('session_token_wrong');
    next();
  };
}

const BEARER = /^Bearer +(\S+)$/i;

/** Whether a request shows an access key: then no cookie counts, and no other site could have sent it. What a proxy asks for itself is none. */
export const showsKey = (request: Request): boolean => /^Bearer\b/i.test(request.get('authorization') ?? '');

const onePerson = prepared((db) =>
  db
    .select({ ...signedInColumns, revisions: revisionsColumn })
    .from(people)
    .where(eq(people.id, sql.placeholder('id')))
    .prepare('one_person'),
);

/** Finds who asks, afresh for every request: a person switched off is out at once, a session too old likewise. */
export function identify(context: Context): RequestHandler {
  return async (request, response, next) => {
    response.locals['person'] = null;
    if (showsKey(request)) {
      const [, key] = BEARER.exec(request.get('authorization')!) ?? [];
      const found = key ? await personOfKey(context, key) : null;
      if (!found) throw refused('key_unknown');
      Object.assign(response.locals, found);
      return next();
    }
    const { personId, signedInAt = 0 } = request.session;
    if (personId !== undefined) {
      const old = context.now().getTime() - signedInAt > context.longestSession * HOUR;
      const [p] = old ? [] : await onePerson(context.db, { id: personId });
      if (p?.active)
        Object.assign(response.locals, {
          person: { id: p.id, name: p.name, role: p.role, rights: rightsOf(p) },
          revisions: p.revisions,
        } satisfies Identified);
      else if (old) await new Promise<void>((done) => request.session.regenerate(() => done()));
    }
    next();
  };
}
