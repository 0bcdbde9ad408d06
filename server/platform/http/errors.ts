import { randomUUID } from 'node:crypto';
import type { NextFunction, Request, Response } from 'express';
import { type Problem, problem, statusOf } from '#contract/problems.ts';
import type { Context } from '../context.ts';
import { isAway, sqlState } from '../database.ts';
import { withoutValues } from '../log.ts';
import { Refused } from '../refused.ts';

/** Turns whatever was thrown into a problem. A stack trace or a database text never leaves the server. */
export function answerErrors(context: Context) {
  return (error: unknown, request: Request, response: Response, next: NextFunction): void => {
    if (response.headersSent) return next(error);
    const found = problemFor(error, context, request);
    response.status(statusOf(found.code)).json(found);
  };
}

/** What reading the body ran into, with the limit that it met. */
function problemOfRequest(error: unknown): Problem | null {
  const { type, status, limit, message } = (error ?? {}) as {
    type?: unknown;
    status?: unknown;
    limit?: unknown;
    message?: unknown;
  };
  if (type === 'entity.too.large') return problem('too_large', { limit: sizeText(Number(limit)) });
  if (typeof type === 'string' && /^(entity|encoding|request|charset|stream)\./.test(type))
    return problem('body_unreadable');
  if (error instanceof URIError) return problem('address_unreadable');
  // what the HTTP layer refuses for a reason of its own is the sender's
  if (typeof status === 'number' && status >= 400 && status < 500)
    return problem('request_wrong', { why: String(message).slice(0, 200) });
  return null;
}

const sizeText = (bytes: number): string =>
  bytes >= 1024 * 1024 ? `${Math.round(bytes / 1024 / 1024)} MB` : `${Math.round(bytes / 1024)} kB`;

/** A foreign key is broken from either end: what is pointed to is not there, or what is to go is pointed to. */
function namesNothing(error: unknown): boolean {
  for (let at = error; at instanceof Error; at = at.cause)
    if (/is not present in table/.test(String((at as { detail?: unknown }).detail))) return true;
  return false;
}

/** By SQLSTATE; a data exception or a broken rule of a table is what was sent, not what we did. */
function problemOfDatabase(state: string | null, error: unknown): Problem | null {
  if (state === '23505')
    return problem('taken', { what: 'An entry with this name or code', value: 'it must be the only one' });
  if (state === '23503')
    return namesNothing(error) ? problem('names_nothing') : problem('in_use', { what: 'This', by: 'other entries' });
  return state?.startsWith('22') || state === '23514' || state === '23502' ? problem('value_impossible') : null;
}

function problemFor(error: unknown, context: Context, request: Request): Problem {
  if (error instanceof Refused) return error.problem;
  const known = problemOfRequest(error);
  if (known) return known;
  if (isAway(error)) {
    context.log.warn({ id: request.id, path: request.path }, 'the database is away');
    return problem('database_away');
  }
  const state = sqlState(error);
  const ofDatabase = problemOfDatabase(state, error);
  if (ofDatabase) return ofDatabase;
  const id = String(request.id ?? randomUUID());
  context.log.error(
    { id, state, method: request.method, path: request.path, stack: withoutValues(error) },
    'unexpected',
  );
  return problem('unexpected', { id });
}
