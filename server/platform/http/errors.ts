import { randomUUID } from 'node:crypto';
import type { NextFunction, Request, Response } from 'express';
import { type Problem, problem, statusOf } from '#contract/problems.ts';
import type { Context } from '../context.ts';
import { sqlState } from '../database.ts';
import { Refused } from '../refused.ts';

/** Turns whatever was thrown into a problem. A stack trace or a database text never leaves the server. */
export function answerErrors(context: Context) {
  return (error: unknown, request: Request, response: Response, next: NextFunction): void => {
    if (response.headersSent) return next(error);
    const found = problemFor(error, context, request);
    response.status(statusOf(found.code)).json(found);
  };
}

function problemFor(error: unknown, context: Context, request: Request): Problem {
  if (error instanceof Refused) return error.problem;
  const type = (error as { type?: unknown } | null)?.type;
  if (type === 'entity.too.large') return problem('too_large', { limit: '32 MB' });
  if (typeof type === 'string' && /^(entity|encoding|request|charset)\./.test(type)) return problem('body_unreadable');
  const state = sqlState(error);
  if (state === '23505')
    return problem('taken', { what: 'An entry with this name or code', value: 'it must be the only one' });
  if (state === '23503')
    return problem('in_use', { what: 'This', by: 'other entries, or names something that does not exist' });
  const id = randomUUID();
  // the statement's values may be a customer's: only the text and the state are logged
  const stack =
    error instanceof Error ? (error.stack ?? error.message).replace(/\nparams: [^\n]*/g, '') : String(error);
  context.log.error({ id, state, method: request.method, path: request.path, stack }, 'unexpected');
  return problem('unexpected', { id });
}
